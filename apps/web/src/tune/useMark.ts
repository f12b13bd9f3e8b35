import type { SaveMark } from '@yield/contract';
import { markAt, type RunStep } from '@yield/core';
import { newUuid } from '../api/newId.ts';
import { yieldApi } from '../api/yieldApi.ts';
import { entryAdded, nextPlace, outboxSelectors } from '../store/outbox.ts';
import { useAppStore } from '../store/store.ts';
import type { TuneRun } from './useTuneRun.ts';

export interface Mark {
  /** what counts: ticks for something else do not */
  ticked: ReadonlySet<string>;
  skippedReason: string | undefined;
  toggle: (checkId: string) => void;
  /** Ticks everything that the step asks for. */
  tickAll: () => void;
  /** Changes these fields and leaves the others as they are; undefined takes one out. */
  save: (changes: MarkChanges) => void;
}

export type MarkChanges = { [F in keyof Omit<SaveMark, 'version'>]?: Omit<SaveMark, 'version'>[F] | undefined };

/** The ticks of a step, what they stand for, and whether it is skipped: the one way in which they are changed. */
export function useMark(run: TuneRun, { id: stepId, checks }: Pick<RunStep, 'id' | 'checks'>): Mark {
  const mark = markAt(run.now, stepId);
  const basis = checks?.basis;
  const counts = basis === undefined || mark?.basis === undefined || mark.basis === basis.key;
  const ticked = new Set(counts ? mark?.checks : []);
  const saveAt = useSaveMark(run);
  const save = (changes: MarkChanges): void => saveAt(stepId, changes);
  // Ticks without a basis of their own leave the step's as it is.
  const saveTicks = (next: readonly string[]): void =>
    save({ checks: [...next], ...(basis === undefined ? {} : { basis: basis.key, basisWords: basis.words }) });
  return {
    ticked,
    skippedReason: mark?.skippedReason,
    save,
    toggle: (checkId) => saveTicks(ticked.has(checkId) ? [...ticked].filter((other) => other !== checkId) : [...ticked, checkId]),
    tickAll: () => saveTicks([...new Set([...ticked, ...(checks?.items ?? []).map(({ id }) => id)])]),
  };
}

/**
 * Changes the mark of any step: these fields, the others stay as they are.
 *
 * On what stands there when it is called, not when the screen was drawn: between the two this browser may have ticked it itself, and would
 * then meet its own tick as somebody else's.
 */
export function useSaveMark(run: TuneRun): (stepId: string, changes: MarkChanges) => void {
  const { dispatch, getState } = useAppStore();
  const tuneId = run.tune.id;
  return (stepId, changes) => {
    const state = getState();
    const tune = yieldApi.endpoints.readTune.select(tuneId)(state).data ?? run.tune;
    const stored = tune.marks.find((each) => each.stepId === stepId);
    const waiting = outboxSelectors
      .selectAll(state.outbox)
      .findLast((entry) => entry.kind === 'mark' && entry.tuneId === tuneId && entry.stepId === stepId && entry.refused === undefined);
    const { checks = [], basis, basisWords, values, skippedReason } = (waiting?.kind === 'mark' ? waiting.body : stored) ?? {};
    const all = { checks, basis, basisWords, values, skippedReason, ...changes };
    const body = Object.fromEntries(Object.entries(all).filter(([, value]) => value !== undefined)) as Omit<SaveMark, 'version'>;
    // What the server has: ticks that still wait here build on each other.
    const version = stored?.version ?? 0;
    dispatch(entryAdded({ kind: 'mark', id: newUuid(), tuneId, queuedAt: nextPlace(), stepId, body: { ...body, version } }));
  };
}
