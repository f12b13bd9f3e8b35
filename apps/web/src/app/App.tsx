import { lazy, Suspense, type JSX } from 'react';
import { createBrowserRouter, RouterProvider } from 'react-router';
import { ChainScreen } from '../chain/ChainScreen.tsx';
import { RunIndex, RunScreen } from '../run/RunScreen.tsx';
import { SettingsScreen } from '../settings/SettingsScreen.tsx';
import { TuneListScreen } from '../tunes/TuneListScreen.tsx';
import { Loading } from '../ui/Loading.tsx';
import { Shell } from './Shell.tsx';
import { LostScreen } from './LostScreen.tsx';
import { TuneLayout } from './TuneLayout.tsx';

const TraceScreen = lazy(() => import('../trace/TraceScreen.tsx'));
const TonesScreen = lazy(() => import('../tones/TonesScreen.tsx'));
const CrossoversScreen = lazy(() => import('../crossovers/CrossoversScreen.tsx'));
const LoadsScreen = lazy(() => import('../loads/LoadsScreen.tsx'));
const ChannelWiringScreen = lazy(() => import('../loads/ChannelWiringScreen.tsx'));

const router = createBrowserRouter([
  {
    path: '/',
    element: <Shell />,
    errorElement: <LostScreen />,
    children: [
      { index: true, element: <TuneListScreen /> },
      {
        path: 'loads/:tool?',
        element: (
          <Suspense fallback={<Loading what="the planner" />}>
            <LoadsScreen />
          </Suspense>
        ),
      },
      {
        path: 'tones',
        element: (
          <Suspense fallback={<Loading what="the tones" />}>
            <TonesScreen />
          </Suspense>
        ),
      },
      {
        path: 'tunes/:tuneId',
        element: <TuneLayout />,
        children: [
          { index: true, element: <RunIndex /> },
          { path: 'chain', element: <ChainScreen /> },
          {
            path: 'wiring/:channelId',
            element: (
              <Suspense fallback={<Loading what="the planner" />}>
                <ChannelWiringScreen />
              </Suspense>
            ),
          },
          {
            path: 'crossovers',
            element: (
              <Suspense fallback={<Loading what="the crossovers" />}>
                <CrossoversScreen />
              </Suspense>
            ),
          },
          { path: 'run/:stepId', element: <RunScreen /> },
          { path: 'run', element: <RunIndex /> },
          {
            path: 'traces/:traceId',
            element: (
              <Suspense fallback={<Loading what="the trace view" />}>
                <TraceScreen />
              </Suspense>
            ),
          },
          { path: 'settings', element: <SettingsScreen /> },
        ],
      },
      { path: '*', element: <LostScreen /> },
    ],
  },
]);

export function App(): JSX.Element {
  return <RouterProvider router={router} />;
}
