import { STAGES, type RunStep, type Stage } from '@yield/core';
import { ChevronDown } from 'lucide-react';
import { useState, type JSX } from 'react';
import { NavLink, useLocation, useParams } from 'react-router';
import { StatusMark } from '../ui/StatusMark.tsx';
import type { TuneRun } from '../tune/useTuneRun.ts';

type Rail = Pick<TuneRun, 'steps'>;

/** The steps of the run by stage. Beside the screen where there is room; else one line that names the present step and opens the list. */
export function StepRail({ tuneId, run }: { tuneId: string; run: Rail }): JSX.Element {
  const { pathname } = useLocation();
  const { stepId } = useParams();
  const [openAt, setOpenAt] = useState<string | null>(null);
  // Going anywhere closes the list.
  const isOpen = openAt === pathname;
  const current = run.steps.find(({ id }) => id === stepId);
  const stage = STAGES.find(({ id }) => id === current?.kind.stage);
  const place = run.steps.findIndex(({ id }) => id === stepId) + 1;
  return (
    <>
      <div className="hidden min-h-0 overflow-auto xl:block">
        <StageList tuneId={tuneId} run={run} />
      </div>
      {run.steps.length > 0 && (
        <div className="relative xl:hidden">
          <button
            type="button"
            aria-expanded={isOpen}
            onClick={() => setOpenAt(isOpen ? null : pathname)}
            className="hover:bg-ground flex min-h-11 w-full cursor-pointer items-center gap-2.5 rounded-md px-2.5 text-left"
          >
            {current !== undefined && <StatusMark status={current.state.status} />}
            <span className="min-w-0 flex-1 truncate">
              <span className="font-semibold">{stage?.name ?? 'Steps'}</span>
              {current !== undefined && <span className="text-quiet"> · {current.words.rail ?? current.words.subject}</span>}
            </span>
            <span className="text-quiet text-sm whitespace-nowrap">
              {place > 0 ? `${place} of ${run.steps.length}` : `${run.steps.length} steps`}
            </span>
            <ChevronDown size={16} aria-hidden className={isOpen ? 'rotate-180' : ''} />
          </button>
          {isOpen && (
            <div className="border-line bg-raised absolute inset-x-0 top-full z-20 max-h-[70dvh] overflow-auto rounded-b-md border p-2 shadow-lg">
              <StageList tuneId={tuneId} run={run} />
            </div>
          )}
        </div>
      )}
    </>
  );
}

function StageList({ tuneId, run }: { tuneId: string; run: Rail }): JSX.Element {
  const { stepId } = useParams();
  const [opened, setOpened] = useState<Record<string, boolean>>({});
  const current = run.steps.find(({ id }) => id === stepId) ?? run.steps.find(({ isSettled }) => !isSettled);
  return (
    <div className="relative flex flex-col gap-2">
      {STAGES.map((stage) => {
        const steps = run.steps.filter(({ kind }) => kind.stage === stage.id);
        if (steps.length === 0) return null;
        const isOpen = opened[stage.id] ?? current?.kind.stage === stage.id;
        return (
          <section key={stage.id} aria-label={stage.name}>
            <StageTitle stage={stage} steps={steps} isOpen={isOpen} onToggle={() => setOpened({ ...opened, [stage.id]: !isOpen })} />
            {isOpen && <Steps tuneId={tuneId} steps={steps} />}
          </section>
        );
      })}
    </div>
  );
}

function StageTitle({
  stage: { name },
  steps,
  isOpen,
  onToggle,
}: {
  stage: Stage;
  steps: readonly RunStep[];
  isOpen: boolean;
  onToggle: () => void;
}): JSX.Element {
  const counted = steps.filter(({ isCounted }) => isCounted);
  return (
    <h2>
      <button
        type="button"
        aria-expanded={isOpen}
        onClick={onToggle}
        className="label hover:bg-ground flex min-h-11 w-full cursor-pointer items-center gap-2 rounded-md px-2.5"
      >
        <span>{name}</span>
        <span className="ml-auto">
          {counted.length === 0 ? 'optional' : `${counted.filter(({ isSettled }) => isSettled).length} of ${counted.length}`}
        </span>
        <ChevronDown size={16} aria-hidden className={isOpen ? '' : '-rotate-90'} />
      </button>
    </h2>
  );
}

function Steps({ tuneId, steps }: { tuneId: string; steps: readonly RunStep[] }): JSX.Element {
  return (
    <ol>
      {steps.map(({ id, kind, words, state, title }) => (
        <li key={id}>
          <NavLink
            to={`/tunes/${tuneId}/run/${id}`}
            title={title}
            aria-label={title}
            className={({ isActive }) =>
              `flex min-h-11 items-center gap-2.5 rounded-md px-2.5 text-[0.9375rem] leading-tight ${isActive ? 'bg-ground font-semibold' : 'hover:bg-ground'}`
            }
          >
            <StatusMark status={state.status} />
            <span className="line-clamp-2">
              {words.rail ?? words.subject}
              {kind.part !== undefined && <span className="text-quiet font-normal">, {kind.part}</span>}
            </span>
          </NavLink>
        </li>
      ))}
    </ol>
  );
}
