import type { RunStep } from '@yield/core';
import { useState, type JSX } from 'react';
import { useMark } from '../../tune/useMark.ts';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { useKeys } from '../../ui/useKeys.ts';
import { GradeMark } from '../../ui/StatusMark.tsx';
import { FiltersSeen } from './FiltersSeen.tsx';

/** What to see to before the tone plays, as the kind of step lists it; whether the filters were looked at comes from its gate. */
export function Checks({
  run,
  current,
}: {
  run: TuneRun;
  current: Pick<RunStep, 'id' | 'kind' | 'checks' | 'channels'>;
}): JSX.Element | null {
  const { ticked, toggle, tickAll } = useMark(run, current);
  const { kind, checks, channels } = current;
  const [unfolded, setUnfolded] = useState(false);
  const isAllTicked = checks?.items.every(({ id }) => ticked.has(id)) !== false;
  useKeys(isAllTicked ? {} : { a: () => tickAll() });
  if (checks === undefined) return null;
  // On a phone what is seen to makes room for the verdict.
  const isFolded = isAllTicked && !unfolded;
  return (
    <>
      {isFolded && (
        <button
          type="button"
          className="text-quiet flex min-h-11 items-center gap-2 text-left text-sm sm:hidden"
          onClick={() => setUnfolded(true)}
        >
          <GradeMark grade="good" size={18} /> {checks.items.map(({ words }) => words).join(', ')}
        </button>
      )}
      <fieldset className={`flex flex-wrap items-center gap-x-6 max-sm:gap-x-4 ${isFolded ? 'max-sm:hidden' : ''}`}>
        <legend className="sr-only">Checks</legend>
        <span className="label" aria-hidden>
          Checks
        </span>
        {(kind.plays === 'load' || kind.plays === 'air') && <FiltersSeen run={run} channels={channels.map(({ channel }) => channel)} />}
        {checks.items.map(({ id, words }) => (
          <label key={id} className="flex min-h-11 cursor-pointer items-center gap-2.5">
            <input type="checkbox" className="checkbox checkbox-primary" checked={ticked.has(id)} onChange={() => toggle(id)} />
            <span className={ticked.has(id) ? 'text-quiet' : 'font-medium'}>{words}</span>
          </label>
        ))}
        {!isAllTicked && checks.items.length > 1 && (
          <button type="button" className="btn btn-ghost text-action min-h-11" onClick={() => tickAll()}>
            Check all {checks.items.filter(({ id }) => !ticked.has(id)).length} <kbd className="key">a</kbd>
          </button>
        )}
      </fieldset>
    </>
  );
}
