import { STAGES, type RunStep, type Stage } from '@yield/core';
import { ChevronDown } from 'lucide-react';
import { useState, type JSX } from 'react';
import { NavLink, useParams } from 'react-router';
import { StatusMark } from '../ui/StatusMark.tsx';
import type { TuneRun } from '../tune/useTuneRun.ts';

/** The steps of the run by stage; the stage at hand is open. On narrow screens the marks alone; on a phone one row of them. */
export function StepRail({ tuneId, run }: { tuneId: string; run: Pick<TuneRun, 'steps'> }): JSX.Element {
  const { stepId } = useParams();
  const [opened, setOpened] = useState<Record<string, boolean>>({});
  const current = run.steps.find(({ id }) => id === stepId) ?? run.steps.find(({ isBehind }) => !isBehind);
  return (
    <div className="relative flex min-h-0 gap-4 overflow-auto md:flex-col md:gap-2">
      {STAGES.map((stage) => {
        const steps = run.steps.filter(({ kind }) => kind.stage === stage.id);
        if (steps.length === 0) return null;
        const isOpen = opened[stage.id] ?? current?.kind.stage === stage.id;
        return (
          <section key={stage.id} aria-label={stage.name} className="max-md:flex max-md:items-center max-md:gap-1">
            <StageTitle stage={stage} steps={steps} isOpen={isOpen} onToggle={() => setOpened({ ...opened, [stage.id]: !isOpen })} />
            {isOpen && <Steps tuneId={tuneId} steps={steps} />}
          </section>
        );
      })}
    </div>
  );
}

function StageTitle({
  stage: { name, folded },
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
        className="label hover:bg-ground flex min-h-11 w-full cursor-pointer items-center gap-2 rounded-md px-2.5 md:max-xl:justify-center md:max-xl:px-0"
      >
        <span className={folded === undefined ? '' : 'md:max-xl:sr-only'}>{name}</span>
        {folded !== undefined && (
          <span className="hidden md:max-xl:inline" aria-hidden>
            {folded}
          </span>
        )}
        <span className="ml-auto md:max-xl:hidden max-md:hidden">
          {counted.filter(({ isBehind }) => isBehind).length} of {counted.length}
        </span>
        <ChevronDown size={16} aria-hidden className={`md:max-xl:hidden max-md:hidden ${isOpen ? '' : '-rotate-90'}`} />
      </button>
    </h2>
  );
}

function Steps({ tuneId, steps }: { tuneId: string; steps: readonly RunStep[] }): JSX.Element {
  return (
    <ol className="max-md:flex">
      {steps.map(({ id, kind, words, state, title }) => (
        <li key={id}>
          <NavLink
            to={`/tunes/${tuneId}/run/${id}`}
            title={title}
            aria-label={title}
            className={({ isActive }) =>
              `flex min-h-11 items-center gap-2.5 rounded-md px-2.5 text-[0.9375rem] leading-tight md:max-xl:justify-center md:max-xl:px-0 ${isActive ? 'bg-ground font-semibold' : 'hover:bg-ground'}`
            }
          >
            <StatusMark status={state.status} />
            <span className="line-clamp-2 max-md:sr-only md:max-xl:sr-only">
              {words.rail ?? words.subject}
              {kind.part !== undefined && <span className="text-quiet font-normal">, {kind.part}</span>}
            </span>
          </NavLink>
        </li>
      ))}
    </ol>
  );
}
