import type { Source } from '@yield/core';
import { useState, type JSX } from 'react';
import { useSaveMarkMutation } from '../api/yieldApi.ts';
import type { RunStep, TuneRun } from './useTuneRun.ts';

export interface Check {
  id: string;
  words: string;
}

/** A volume that was never measured is marked as such wherever it is used. */
export const volumeWords = ({ workingVolume, volumeBasis }: Source): string =>
  `volume at ${workingVolume}${volumeBasis === 'assumed' ? ' (assumed)' : ''}`;

export interface Ticks {
  ticked: ReadonlySet<string>;
  toggle: (id: string) => Promise<void>;
}

/**
 * The ticks of a step, kept with it.
 *
 * @param basis - what the ticks are made for; ticks for something else count for nothing
 */
export function useTicks(run: TuneRun, stepId: string, basis?: string): Ticks {
  const [saveMark] = useSaveMarkMutation();
  const mark = run.tune.marks.find((each) => each.stepId === stepId);
  const counts = basis === undefined || mark?.basis === undefined || mark.basis === basis;
  // Ticks without a basis of their own leave the step's as it is.
  const keptBasis = basis ?? mark?.basis;
  // What was ticked a moment ago stands until the save has ended, so that the box follows the finger at once.
  const [wanted, setWanted] = useState<readonly string[] | null>(null);
  const ticked = new Set(wanted ?? (counts ? (mark?.checks ?? []) : []));
  const toggle = async (id: string): Promise<void> => {
    const next = ticked.has(id) ? [...ticked].filter((other) => other !== id) : [...ticked, id];
    setWanted(next);
    await saveMark({
      id: run.tune.id,
      stepId,
      body: {
        version: mark?.version ?? 0,
        checks: next,
        ...(keptBasis === undefined ? {} : { basis: keptBasis }),
        ...(mark?.values === undefined ? {} : { values: mark.values }),
        ...(mark?.skippedReason === undefined ? {} : { skippedReason: mark.skippedReason }),
      },
    });
    setWanted((now) => (now === next ? null : now));
  };
  return { ticked, toggle };
}

/** What to see to before the tone plays. */
export function Checks({
  run,
  current,
  checks,
  basis,
  children,
}: {
  run: TuneRun;
  current: RunStep;
  checks: readonly Check[];
  basis?: string;
  /** what was seen to elsewhere */
  children?: JSX.Element;
}): JSX.Element {
  const { ticked, toggle } = useTicks(run, current.step.id, basis);
  return (
    <fieldset className="flex flex-wrap items-center gap-x-6 max-sm:gap-x-4">
      <legend className="sr-only">First</legend>
      <span className="label" aria-hidden>
        First
      </span>
      {children}
      {checks.map(({ id, words }) => (
        <label key={id} className="flex min-h-11 cursor-pointer items-center gap-2.5">
          <input type="checkbox" className="checkbox checkbox-primary" checked={ticked.has(id)} onChange={() => void toggle(id)} />
          <span className={ticked.has(id) ? 'text-quiet' : 'font-medium'}>{words}</span>
        </label>
      ))}
    </fieldset>
  );
}
