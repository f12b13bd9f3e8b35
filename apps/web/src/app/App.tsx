import { lazy, Suspense, type JSX } from 'react';
import { createBrowserRouter, RouterProvider, type RouteObject } from 'react-router';
import { RunIndex, RunScreen } from '../run/RunScreen.tsx';
import { Loading } from '../ui/Loading.tsx';
import { BrokenScreen } from './BrokenScreen.tsx';
import { Shell } from './Shell.tsx';
import { LostScreen } from './LostScreen.tsx';
import { TuneLayout } from './TuneLayout.tsx';

// Forms come with the views that have them: at the car most visits go straight to the run.
const ChainScreen = lazy(async () => ({ default: (await import('../chain/ChainScreen.tsx')).ChainScreen }));
const ShopScreen = lazy(async () => ({ default: (await import('../settings/SettingsScreen.tsx')).ShopScreen }));
const SettingsScreen = lazy(async () => ({ default: (await import('../settings/SettingsScreen.tsx')).SettingsScreen }));
const TuneListScreen = lazy(async () => ({ default: (await import('../tunes/TuneListScreen.tsx')).TuneListScreen }));
const NoSoundScreen = lazy(() => import('../run/NoSoundScreen.tsx'));
const FindingsScreen = lazy(() => import('../run/FindingsScreen.tsx'));
const FinishedScreen = lazy(() => import('../run/FinishedScreen.tsx'));
const SheetScreen = lazy(() => import('../handover/SheetScreen.tsx'));
const TraceScreen = lazy(() => import('../trace/TraceScreen.tsx'));
const TonesScreen = lazy(() => import('../tones/TonesScreen.tsx'));
const CrossoversScreen = lazy(() => import('../crossovers/CrossoversScreen.tsx'));
const LoadsScreen = lazy(() => import('../loads/LoadsScreen.tsx'));
const GuideScreen = lazy(() => import('../guide/GuideScreen.tsx'));
const GearScreen = lazy(() => import('../gear/GearScreen.tsx'));
const HistoryScreen = lazy(() => import('../history/HistoryScreen.tsx'));
const ChannelWiringScreen = lazy(() => import('../loads/ChannelWiringScreen.tsx'));

/** A screen that comes as a chunk of its own, and what stands there meanwhile. */
const view = (what: string, screen: JSX.Element): JSX.Element => <Suspense fallback={<Loading what={what} />}>{screen}</Suspense>;

const TUNE_VIEWS: RouteObject[] = [
  { index: true, element: <RunIndex /> },
  {
    path: 'chain',
    element: view('the chain', <ChainScreen />),
  },
  {
    path: 'wiring/:channelId',
    element: view('the planner', <ChannelWiringScreen />),
  },
  {
    path: 'crossovers',
    element: view('the crossovers', <CrossoversScreen />),
  },
  { path: 'run/:stepId', element: <RunScreen /> },
  { path: 'run', element: <RunIndex /> },
  { path: 'no-sound/:channelId', element: view('the search', <NoSoundScreen />) },
  { path: 'tones', element: view('the tones', <TonesScreen />) },
  { path: 'findings', element: view('the findings', <FindingsScreen />) },
  { path: 'sheet', element: view('the sheet', <SheetScreen />) },
  { path: 'finished', element: view('the end of the run', <FinishedScreen />) },
  {
    path: 'traces/:traceId',
    element: view('the trace view', <TraceScreen />),
  },
  {
    path: 'history',
    element: view('the history', <HistoryScreen />),
  },
  {
    path: 'settings',
    element: view('the house rules', <SettingsScreen />),
  },
];

const VIEWS: RouteObject[] = [
  {
    index: true,
    element: view('the tunes', <TuneListScreen />),
  },
  {
    path: 'loads/:tool?',
    element: view('the planner', <LoadsScreen />),
  },
  { path: 'guide', element: view('the guide', <GuideScreen />) },
  { path: 'gear', element: view('the gear', <GearScreen />) },
  { path: 'shop', element: view('the house rules', <ShopScreen />) },
  {
    path: 'tones',
    element: view('the tones', <TonesScreen />),
  },
  {
    path: 'tunes/:tuneId',
    element: <TuneLayout />,
    children: [{ errorElement: <BrokenScreen />, children: TUNE_VIEWS }],
  },
  { path: '*', element: <LostScreen /> },
];

const router = createBrowserRouter([
  {
    path: '/',
    element: <Shell />,
    errorElement: <BrokenScreen />,
    children: [
      // Inside the shell: the bar stays whatever breaks below it.
      { errorElement: <BrokenScreen />, children: VIEWS },
    ],
  },
]);

export function App(): JSX.Element {
  return <RouterProvider router={router} />;
}
