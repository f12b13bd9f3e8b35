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

/** Changes that follow from what stands there. */
type ChangesOf = (standing: { checks: string[]; basis: string | undefined }) => MarkChanges;

/** The ticks of a step, what they stand for, and whether it is skipped: the one way in which they are changed. */
export function useMark(run: TuneRun, { id: stepId, checks }: Pick<RunStep, 'id' | 'checks'>): Mark {
  const mark = markAt(run.now, stepId);
  const basis = checks?.basis;
  const countingOf = (of: { checks: readonly string[]; basis?: string | undefined } | undefined): ReadonlySet<string> =>
    new Set(basis === undefined || of?.basis === undefined || of.basis === basis.key ? of?.checks : []);
  const ticked = countingOf(mark);
  const saveAt = useSaveMark(run);
  const save = (changes: MarkChanges): void => saveAt(stepId, changes);
  // On the ticks that stand when it is pressed: of two quick ones, the second is pressed on a screen that does not show the first yet. Ticks
  // without a basis of their own leave the step's as it is.
  const saveTicks = (next: (standing: ReadonlySet<string>) => Iterable<string>): void =>
    saveAt(stepId, (standing) => ({
      checks: [...next(countingOf(standing))],
      ...(basis === undefined ? {} : { basis: basis.key, basisWords: basis.words }),
    }));
  return {
    ticked,
    skippedReason: mark?.skippedReason,
    save,
    toggle: (checkId) =>
      saveTicks((standing) => (ticked.has(checkId) ? [...standing].filter((other) => other !== checkId) : new Set([...standing, checkId]))),
    tickAll: () => saveTicks((standing) => new Set([...standing, ...(checks?.items ?? []).map(({ id }) => id)])),
  };
}

/**
 * Changes the mark of any step: these fields, the others stay as they are.
 *
 * On what stands there when it is called, not when the screen was drawn: between the two this browser may have ticked it itself, and would
 * then meet its own tick as somebody else's.
 */
export function useSaveMark(run: TuneRun): (stepId: string, changes: MarkChanges | ChangesOf) => void {
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
    const standing = { checks, basis };
    const all = { checks, basis, basisWords, values, skippedReason, ...(typeof changes === 'function' ? changes(standing) : changes) };
    const body = Object.fromEntries(Object.entries(all).filter(([, value]) => value !== undefined)) as Omit<SaveMark, 'version'>;
    // What the server has: ticks that still wait here build on each other.
    const version = stored?.version ?? 0;
    dispatch(entryAdded({ kind: 'mark', id: newUuid(), tuneId, queuedAt: nextPlace(), stepId, body: { ...body, version } }));
  };
}
