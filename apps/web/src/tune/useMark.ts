import type { SaveMark } from '@yield/contract';
import { markAt, type RunStep } from '@yield/core';
import { useState } from 'react';
import { problemWords } from '../api/problem.ts';
import { useSaveMarkMutation } from '../api/yieldApi.ts';
import type { TuneRun } from './useTuneRun.ts';

export interface Mark {
  /** what counts: ticks for something else do not */
  ticked: ReadonlySet<string>;
  skippedReason: string | undefined;
  toggle: (checkId: string) => Promise<void>;
  /** Ticks everything that the step asks for. */
  tickAll: () => Promise<void>;
  /** Changes these fields and leaves the others as they are; undefined takes one out. */
  save: (changes: MarkChanges) => Promise<void>;
  /** why the last save was refused */
  problem: string | null;
}

export type MarkChanges = { [F in keyof Omit<SaveMark, 'version'>]?: Omit<SaveMark, 'version'>[F] | undefined };

/** The ticks of a step, what they stand for, and whether it is skipped: the one way in which they are changed. */
export function useMark(run: TuneRun, { id: stepId, checks }: Pick<RunStep, 'id' | 'checks'>): Mark {
  const [saveMark] = useSaveMarkMutation();
  const [problem, setProblem] = useState<string | null>(null);
  const mark = markAt(run.now, stepId);
  const basis = checks?.basis;
  const counts = basis === undefined || mark?.basis === undefined || mark.basis === basis.key;
  // Saved changes reach this component with the next frame only; a box follows the finger at once.
  const [wanted, setWanted] = useState<readonly string[] | null>(null);
  const ticked = new Set(wanted ?? (counts ? mark?.checks : []));
  const save = async (changes: MarkChanges): Promise<void> => {
    const { stepId: _step, ...kept } = mark ?? { stepId, checks: [] };
    const all = { ...kept, ...changes };
    const body = Object.fromEntries(Object.entries(all).filter(([, value]) => value !== undefined)) as Omit<SaveMark, 'version'>;
    const version = run.tune.marks.find((each) => each.stepId === stepId)?.version ?? 0;
    const { error } = await saveMark({ id: run.tune.id, stepId, body: { ...body, version } });
    setProblem(error === undefined ? null : problemWords(error).text);
  };
  const saveTicks = async (next: readonly string[]): Promise<void> => {
    setWanted(next);
    // Ticks without a basis of their own leave the step's as it is.
    await save({ checks: [...next], ...(basis === undefined ? {} : { basis: basis.key, basisWords: basis.words }) });
    setWanted((now) => (now === next ? null : now));
  };
  return {
    ticked,
    skippedReason: mark?.skippedReason,
    problem,
    save,
    toggle: (checkId) => saveTicks(ticked.has(checkId) ? [...ticked].filter((other) => other !== checkId) : [...ticked, checkId]),
    tickAll: () => saveTicks([...new Set([...ticked, ...(checks?.items ?? []).map(({ id }) => id)])]),
  };
}
