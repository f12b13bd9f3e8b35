import { formatQuantity, signedDb } from '@yield/core';
import type { JSX } from 'react';
import { Link } from 'react-router';
import { stepsOfKind } from '../../tune/useTuneRun.ts';
import type { ViewProps } from '../view.ts';
import { StatusMark } from '../../ui/StatusMark.tsx';

/** All outputs of the processor side by side, so that a pair out of match is seen. */
export function OutputsTogether({ run, current }: ViewProps<'output'>): JSX.Element | null {
  const outputs = stepsOfKind(run, 'output');
  if (outputs.length < 2) return null;
  return (
    <section aria-label="All outputs">
      <h2 className="label mb-1">All outputs</h2>
      <ul className="border-line divide-line divide-y border-y">
        {outputs.map(({ step, state }) => (
          <li key={step.id}>
            <Link
              to={`/tunes/${run.tune.id}/run/${step.id}`}
              className={`grid min-h-11 grid-cols-[auto_minmax(0,1fr)_5rem_5rem] items-center gap-3 px-2 ${step.id === current.step.id ? 'bg-raised' : 'hover:bg-raised'}`}
            >
              <StatusMark status={state.status} />
              <span className="truncate font-medium">{step.output.name}</span>
              <span className="text-right">
                {state.figures.reading === undefined ? (
                  <span className="text-quiet text-sm">not read</span>
                ) : (
                  formatQuantity(state.figures.reading.value, 'V')
                )}
              </span>
              <span className="text-quiet text-right text-sm">
                {state.figures.advice === undefined ? '' : signedDb(state.figures.advice.differenceDb)}
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
