import type { RunStep } from '@yield/core';
import type { JSX } from 'react';
import { useMark } from '../../tune/useMark.ts';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { ErrorNotice } from '../../ui/Notice.tsx';
import { FiltersSeen } from './FiltersSeen.tsx';

/** What to see to before the tone plays, as the kind of step lists it; whether the filters were looked at comes from its gate. */
export function Checks({
  run,
  current,
}: {
  run: TuneRun;
  current: Pick<RunStep, 'id' | 'kind' | 'checks' | 'channels'>;
}): JSX.Element | null {
  const { ticked, toggle, problem } = useMark(run, current);
  const { kind, checks, channels } = current;
  if (checks === undefined) return null;
  return (
    <>
      <fieldset className="flex flex-wrap items-center gap-x-6 max-sm:gap-x-4">
        <legend className="sr-only">First</legend>
        <span className="label" aria-hidden>
          First
        </span>
        {(kind.plays === 'load' || kind.plays === 'air') &&
          channels.map(({ channel }) => <FiltersSeen key={channel.id} run={run} channel={channel} />)}
        {checks.items.map(({ id, words }) => (
          <label key={id} className="flex min-h-11 cursor-pointer items-center gap-2.5">
            <input type="checkbox" className="checkbox checkbox-primary" checked={ticked.has(id)} onChange={() => void toggle(id)} />
            <span className={ticked.has(id) ? 'text-quiet' : 'font-medium'}>{words}</span>
          </label>
        ))}
      </fieldset>
      {problem !== null && <ErrorNotice>{problem}</ErrorNotice>}
    </>
  );
}
