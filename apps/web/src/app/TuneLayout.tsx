import { Cable, ChartSpline, ListChecks, SlidersHorizontal } from 'lucide-react';
import type { JSX } from 'react';
import { createPortal } from 'react-dom';
import { NavLink, Outlet, useNavigate, useParams } from 'react-router';
import { problemWords } from '../api/problem.ts';
import { useReadTuneQuery } from '../api/yieldApi.ts';
import { StepRail } from '../run/StepRail.tsx';
import { useTuneRun } from '../tune/useTuneRun.ts';
import { Loading } from '../ui/Loading.tsx';
import { ErrorNotice } from '../ui/Notice.tsx';
import { useKeys } from '../ui/useKeys.ts';

/** One tune: its name in the bar, views and steps in the rail, the chosen view beside. */
export function TuneLayout(): JSX.Element {
  const { tuneId = '' } = useParams();
  const { data, error, isLoading, refetch } = useReadTuneQuery(tuneId);
  const navigate = useNavigate();
  useKeys({
    c: () => void navigate(`/tunes/${tuneId}/chain`),
    x: () => void navigate(`/tunes/${tuneId}/crossovers`),
    n: () => void navigate(`/tunes/${tuneId}`),
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
      <Place name={data.name} vehicle={data.vehicle} />
      <div className="flex min-h-0 flex-1 max-md:flex-col">
        <nav
          className="print:hidden border-line bg-raised flex shrink-0 flex-col gap-4 border-r p-3 max-md:border-r-0 max-md:border-b md:sticky md:top-14 md:h-[calc(100dvh-3.5rem)] md:w-16 xl:w-60"
          aria-label="Views and steps"
        >
          <ul className="flex gap-1 max-md:overflow-x-auto md:flex-col">
            <View to={`/tunes/${tuneId}/chain`} icon={<Cable size={20} aria-hidden />} name="Chain" />
            <View to={`/tunes/${tuneId}/crossovers`} icon={<ChartSpline size={20} aria-hidden />} name="Crossovers" />
            <View to={`/tunes/${tuneId}/run`} icon={<ListChecks size={20} aria-hidden />} name="Run" />
            <View to={`/tunes/${tuneId}/settings`} icon={<SlidersHorizontal size={20} aria-hidden />} name="House rules" />
          </ul>
          <RailOfTune tuneId={tuneId} />
        </nav>
        <Outlet />
      </div>
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
          `flex min-h-11 items-center gap-3 rounded-md px-2.5 font-medium ${isActive ? 'text-action bg-ground' : 'hover:bg-ground'}`
        }
      >
        <span className="max-sm:hidden">{icon}</span>
        <span className="md:max-xl:sr-only whitespace-nowrap">{name}</span>
      </NavLink>
    </li>
  );
}

/** The tune's name stands in the bar of the shell, which is drawn before the tune is known. */
function Place({ name, vehicle }: { name: string; vehicle: string }): JSX.Element | null {
  const target = document.getElementById('place');
  if (target === null) return null;
  return createPortal(
    <p className="flex min-w-0 items-baseline gap-3">
      <span className="text-quiet" aria-hidden>
        /
      </span>
      <span className="truncate font-medium">{name}</span>
      <span className="text-quiet truncate text-sm max-lg:hidden">{vehicle}</span>
    </p>,
    target,
  );
}
