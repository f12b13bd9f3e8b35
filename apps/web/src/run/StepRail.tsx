import type { JSX } from 'react';
import { NavLink } from 'react-router';
import { StatusMark } from '../ui/StatusMark.tsx';
import type { TuneRun } from './useTuneRun.ts';

const STAGES = [
  { kind: 'gain', name: 'Gains' },
  { kind: 'proof', name: 'Proof' },
] as const;

/** The steps of the run by stage. On narrow screens the marks alone; on a phone one row of them. */
export function StepRail({ tuneId, run }: { tuneId: string; run: TuneRun }): JSX.Element {
  return (
    <div className="relative flex min-h-0 gap-4 overflow-auto md:flex-col">
      {STAGES.map(({ kind, name }) => {
        const steps = run.steps.filter(({ step }) => step.kind === kind);
        if (steps.length === 0) return null;
        const done = steps.filter(({ state }) => state.status === 'done' || state.status === 'skipped').length;
        return (
          <section key={kind} aria-label={name} className="max-md:flex max-md:items-center max-md:gap-1">
            <h2 className="label flex items-baseline justify-between px-2.5 pb-1 md:max-xl:justify-center md:max-xl:px-0">
              <span>{name}</span>
              <span className="md:max-xl:hidden max-md:hidden">
                {done} of {steps.length}
              </span>
            </h2>
            <ol className="max-md:flex">
              {steps.map(({ step, state, title }) => (
                <li key={step.id}>
                  <NavLink
                    to={`/tunes/${tuneId}/run/${step.id}`}
                    title={title}
                    className={({ isActive }) =>
                      `flex min-h-11 items-center gap-2.5 rounded-md px-2.5 text-[0.9375rem] leading-tight md:max-xl:justify-center md:max-xl:px-0 ${isActive ? 'bg-ground font-semibold' : 'hover:bg-ground'}`
                    }
                  >
                    <StatusMark status={state.status} />
                    <span className="line-clamp-2 max-md:sr-only md:max-xl:sr-only">{step.channel.name}</span>
                  </NavLink>
                </li>
              ))}
            </ol>
          </section>
        );
      })}
    </div>
  );
}
