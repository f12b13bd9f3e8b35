import { stepSubject, type StepKind } from '@yield/core';
import { ChevronDown } from 'lucide-react';
import { useState, type JSX } from 'react';
import { NavLink, useParams } from 'react-router';
import { StatusMark } from '../ui/StatusMark.tsx';
import type { RunStep, TuneRun } from './useTuneRun.ts';

interface Stage {
  id: string;
  name: string;
  /** where the rail is folded and the name too wide for it */
  folded?: string;
  kinds: readonly StepKind[];
}

const STAGES: readonly Stage[] = [
  { id: 'loads', name: 'Loads', kinds: ['coils', 'whole', 'hookup'] },
  { id: 'flat', name: 'Flat', kinds: ['flat'] },
  { id: 'ceiling', name: 'Source ceiling', kinds: ['ceiling', 'factory'] },
  { id: 'levels', name: 'Levels', kinds: ['input', 'output'] },
  { id: 'crossovers', name: 'Crossovers', folded: 'Cross-overs', kinds: ['filters', 'crossover'] },
  { id: 'gains', name: 'Gains', kinds: ['gain'] },
  { id: 'proof', name: 'Proof', kinds: ['proof'] },
];

/** The steps of the run by stage; the stage at hand is open. On narrow screens the marks alone; on a phone one row of them. */
export function StepRail({ tuneId, run }: { tuneId: string; run: TuneRun }): JSX.Element {
  const { stepId } = useParams();
  const [opened, setOpened] = useState<Record<string, boolean>>({});
  const current = run.steps.find(({ step }) => step.id === stepId) ?? run.steps.find(({ state }) => !isBehind(state.status));
  return (
    <div className="relative flex min-h-0 gap-4 overflow-auto md:flex-col md:gap-2">
      {STAGES.map(({ id, name, folded, kinds }) => {
        const steps = run.steps.filter(({ step }) => kinds.includes(step.kind));
        if (steps.length === 0) return null;
        const done = steps.filter(({ state }) => isBehind(state.status)).length;
        const isOpen = opened[id] ?? (current !== undefined && kinds.includes(current.step.kind));
        return (
          <section key={id} aria-label={name} className="max-md:flex max-md:items-center max-md:gap-1">
            <h2>
              <button
                type="button"
                aria-expanded={isOpen}
                onClick={() => setOpened({ ...opened, [id]: !isOpen })}
                className="label hover:bg-ground flex min-h-11 w-full cursor-pointer items-center gap-2 rounded-md px-2.5 md:max-xl:justify-center md:max-xl:px-0"
              >
                <span className={folded === undefined ? '' : 'md:max-xl:sr-only'}>{name}</span>
                {folded !== undefined && (
                  <span className="hidden md:max-xl:inline" aria-hidden>
                    {folded}
                  </span>
                )}
                <span className="ml-auto md:max-xl:hidden max-md:hidden">
                  {done} of {steps.length}
                </span>
                <ChevronDown size={16} aria-hidden className={`md:max-xl:hidden max-md:hidden ${isOpen ? '' : '-rotate-90'}`} />
              </button>
            </h2>
            {isOpen && <Steps tuneId={tuneId} steps={steps} />}
          </section>
        );
      })}
    </div>
  );
}

const isBehind = (status: RunStep['state']['status']): boolean => status === 'done' || status === 'skipped';

const PART: Partial<Record<StepKind, string>> = {
  coils: 'coils',
  whole: 'whole',
  hookup: 'hook-up',
  input: 'input',
  output: 'output',
  filters: 'set',
  crossover: 'proved',
};

function Steps({ tuneId, steps }: { tuneId: string; steps: readonly RunStep[] }): JSX.Element {
  return (
    <ol className="max-md:flex">
      {steps.map(({ step, state, title }) => {
        const part = PART[step.kind];
        return (
          <li key={step.id}>
            <NavLink
              to={`/tunes/${tuneId}/run/${step.id}`}
              title={title}
              aria-label={title}
              className={({ isActive }) =>
                `flex min-h-11 items-center gap-2.5 rounded-md px-2.5 text-[0.9375rem] leading-tight md:max-xl:justify-center md:max-xl:px-0 ${isActive ? 'bg-ground font-semibold' : 'hover:bg-ground'}`
              }
            >
              <StatusMark status={state.status} />
              <span className="line-clamp-2 max-md:sr-only md:max-xl:sr-only">
                {step.kind === 'factory' ? 'Factory signal' : stepSubject(step)}
                {part !== undefined && <span className="text-quiet font-normal">, {part}</span>}
              </span>
            </NavLink>
          </li>
        );
      })}
    </ol>
  );
}
