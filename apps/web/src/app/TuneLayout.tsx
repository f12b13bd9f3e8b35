import type { Device, TuneDetail } from '@yield/contract';
import { AudioLines, Cable, ChartSpline, History, ListChecks, Pencil, SlidersHorizontal, TriangleAlert, Users } from 'lucide-react';
import { lazy, Suspense, useEffect, useState, type JSX } from 'react';
import { createPortal } from 'react-dom';
import { NavLink, Outlet, useLocation, useNavigate, useParams } from 'react-router';
import { problemWords } from '../api/problem.ts';
import { useReadTuneQuery } from '../api/yieldApi.ts';
import { StepRail } from '../run/StepRail.tsx';
import { MetEdits } from '../tune/MetEdits.tsx';
import { useTuneEvents } from '../tune/useTuneEvents.ts';
import { useTune, useTuneRun } from '../tune/useTuneRun.ts';
import { Loading } from '../ui/Loading.tsx';
import { ErrorNotice } from '../ui/Notice.tsx';
import { PartBoundary } from '../ui/PartBoundary.tsx';
import { useDraft } from '../ui/useDraft.ts';
import { useKeys } from '../ui/useKeys.ts';
import { useTitle } from '../ui/useTitle.ts';

const JobDialog = lazy(async () => ({ default: (await import('../tune/JobDialog.tsx')).JobDialog }));

/** What the tab says of a view; a step says it itself. */
const VIEW_TITLES: Readonly<Record<string, string>> = {
  chain: 'Chain',
  crossovers: 'Crossovers',
  tones: 'Tones',
  settings: 'House rules',
  history: 'History',
  wiring: 'Wiring',
  finished: 'Finished',
  findings: 'Findings',
  'no-sound': 'No-sound check',
  traces: 'Trace',
};

function titleOf(pathname: string, name: string | undefined): string | undefined {
  const view = VIEW_TITLES[pathname.split('/')[3] ?? ''];
  return view === undefined || name === undefined ? undefined : `${view} · ${name}`;
}

/** One tune: its name in the bar, views and steps in the rail, the chosen view beside. */
export function TuneLayout(): JSX.Element {
  const { tuneId = '' } = useParams();
  const { error, isLoading, refetch } = useReadTuneQuery(tuneId);
  const data = useTune(tuneId);
  const navigate = useNavigate();
  const others = useTuneEvents(tuneId);
  useTitle(titleOf(useLocation().pathname, data?.name));
  const [, setLast] = useDraft('last-tune');
  useEffect(() => {
    if (data !== undefined) setLast(JSON.stringify([data.id, data.name]));
  }, [data, setLast]);
  useKeys({
    c: () => void navigate(`/tunes/${tuneId}/chain`),
    x: () => void navigate(`/tunes/${tuneId}/crossovers`),
    f: () => void navigate(`/tunes/${tuneId}/findings`),
  });
  if (isLoading) return <Loading what="the tune" />;
  if (data === undefined) {
    return (
      <main className="mx-auto w-full max-w-2xl p-6">
        <ErrorNotice>
          <p>{problemWords(error).text}</p>
          <button type="button" className="btn btn-sm mt-3" onClick={() => void refetch()}>
            Try again
          </button>
        </ErrorNotice>
      </main>
    );
  }
  return (
    <>
      <Place tune={data} others={others} />
      <div className="flex min-h-0 flex-1 max-xl:flex-col">
        <nav
          className="print:hidden border-line bg-raised flex shrink-0 flex-col gap-4 border-r p-3 max-xl:gap-1 max-xl:border-r-0 max-xl:border-b max-xl:px-3 max-xl:py-1 xl:sticky xl:top-14 xl:h-[calc(100dvh-3.5rem)] xl:w-60"
          aria-label="Views and steps"
        >
          <ul className="flex gap-1 max-xl:overflow-x-auto xl:flex-col">
            <View to={`/tunes/${tuneId}/chain`} icon={<Cable size={20} aria-hidden />} name="Chain" />
            <View to={`/tunes/${tuneId}/crossovers`} icon={<ChartSpline size={20} aria-hidden />} name="Crossovers" />
            <View to={`/tunes/${tuneId}/run`} icon={<ListChecks size={20} aria-hidden />} name="Run" />
            <View to={`/tunes/${tuneId}/findings`} icon={<TriangleAlert size={20} aria-hidden />} name="Findings" />
            <View to={`/tunes/${tuneId}/tones`} icon={<AudioLines size={20} aria-hidden />} name="Tones" />
            <View to={`/tunes/${tuneId}/settings`} icon={<SlidersHorizontal size={20} aria-hidden />} name="House rules" />
            <View to={`/tunes/${tuneId}/history`} icon={<History size={20} aria-hidden />} name="History" />
          </ul>
          <PartBoundary what="the list of steps">
            <RailOfTune tuneId={tuneId} />
          </PartBoundary>
        </nav>
        <Outlet />
      </div>
      <MetEdits tuneId={tuneId} />
    </>
  );
}

function RailOfTune({ tuneId }: { tuneId: string }): JSX.Element | null {
  const run = useTuneRun(tuneId);
  return run === null ? null : <StepRail tuneId={tuneId} run={run} />;
}

function View({ to, icon, name }: { to: string; icon: JSX.Element; name: string }): JSX.Element {
  return (
    <li>
      <NavLink
        to={to}
        title={name}
        className={({ isActive }) =>
          `flex min-h-11 items-center gap-3 rounded-md px-2.5 font-medium xl:min-h-9 ${isActive ? 'text-action bg-ground' : 'hover:bg-ground'}`
        }
      >
        <span className="max-sm:hidden">{icon}</span>
        <span className="whitespace-nowrap">{name}</span>
      </NavLink>
    </li>
  );
}

/** Who else looks at this tune just now. */
function othersWords(others: readonly Device[]): string {
  const named = others.flatMap(({ name }) => (name === undefined ? [] : [name]));
  const rest = others.length - named.length;
  const unnamed = rest === 0 ? [] : [rest === 1 ? 'another device' : `${rest} other devices`];
  return `Also here: ${[...named, ...unnamed].join(', ')}`;
}

/** The tune's name stands in the bar of the shell, which is drawn before the tune is known. */
function Place({ tune, others }: { tune: TuneDetail; others: readonly Device[] }): JSX.Element | null {
  const [isEdited, setIsEdited] = useState(false);
  const { name, vehicle, settings } = tune;
  const target = document.getElementById('place');
  if (target === null) return null;
  return createPortal(
    <div className="flex min-w-0 items-center gap-3">
      <span className="text-quiet" aria-hidden>
        /
      </span>
      <span className="truncate font-medium">{name}</span>
      <button
        type="button"
        className="btn btn-ghost btn-square text-quiet -mx-2 shrink-0 max-sm:hidden"
        aria-label="Name and vehicle of the job"
        title="Name and vehicle of the job"
        onClick={() => setIsEdited(true)}
      >
        <Pencil size={16} aria-hidden />
      </button>
      {settings.isPractice === true && (
        <span className="text-quiet border-line shrink-0 rounded-md border px-1.5 text-sm max-sm:sr-only">practice</span>
      )}
      <span className="text-quiet truncate text-sm max-lg:hidden">{vehicle}</span>
      {others.length > 0 && (
        <span className="text-quiet flex shrink-0 items-center gap-1.5 self-center text-sm" role="status">
          <Users size={16} aria-hidden />
          <span className="max-md:sr-only">{othersWords(others)}</span>
        </span>
      )}
      {isEdited && (
        <Suspense>
          <JobDialog tune={tune} onClose={() => setIsEdited(false)} />
        </Suspense>
      )}
    </div>,
    target,
  );
}
