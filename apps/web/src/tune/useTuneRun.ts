import { createSelector, weakMapMemoize } from '@reduxjs/toolkit';
import type { TuneDetail } from '@yield/contract';
import {
  levelPath,
  settledSituation,
  nextStep,
  pathChannel,
  runOf,
  weakestStage,
  withChanges,
  type FiguresOf,
  type Judgement,
  type KindId,
  type LevelStage,
  type Reading,
  type RunRecords,
  type RunStep,
  type Situation,
  type StepMark,
  type StepOf,
} from '@yield/core';
import { useReadTuneQuery } from '../api/yieldApi.ts';
import { outboxSelectors, type OutboxEntry } from '../store/outbox.ts';
import { useAppSelector, type RootState } from '../store/store.ts';

/** One step of a run as its own view sees it: its subject and its figures with their types. */
export type StepNow<K extends KindId = KindId> = Omit<RunStep, 'step' | 'state'> & { step: StepOf<K>; state: Judgement<FiguresOf<K>> };

/** The steps of one kind. What the run holds of a kind was made by that kind. */
export const stepsOfKind = <K extends KindId>({ steps }: Pick<TuneRun, 'steps'>, kind: K): StepNow<K>[] =>
  steps.filter((step) => step.kind.kind === kind).map((step) => step as RunStep & StepNow<K>);

export interface TuneRun {
  tune: TuneDetail;
  now: Situation;
  steps: readonly RunStep[];
  /** readings and captures that this browser still holds */
  unsentIds: ReadonlySet<string>;
}

const selectEntries = createSelector([(state: RootState) => state.outbox], (outbox) => outboxSelectors.selectAll(outbox));

/** A tune with what this browser edited and has not sent yet; undefined until it is there. */
export function useTune(tuneId: string): TuneDetail | undefined {
  const { data } = useReadTuneQuery(tuneId);
  const entries = useAppSelector(selectEntries);
  return data === undefined ? undefined : edited(data, entries);
}

/** Once per change: whatever shows the tune shows one and the same. */
const edited = weakMapMemoize((tune: TuneDetail, entries: readonly OutboxEntry[]): TuneDetail => {
  const own = entries.filter((entry) => entry.kind === 'edit' && entry.tuneId === tune.id && entry.refused === undefined);
  return own.length === 0 ? tune : own.reduce(withEdit, tune);
});

function withEdit(tune: TuneDetail, entry: OutboxEntry): TuneDetail {
  if (entry.kind !== 'edit') return tune;
  if (entry.of === 'chain') return { ...tune, chain: { ...tune.chain, body: withChanges(tune.chain.body, entry.changes) } };
  const { name, vehicle, settings } = tune;
  return { ...tune, ...withChanges({ name, vehicle, settings }, entry.changes) };
}

/** A tune's run as it stands now, with what this browser has not sent yet counted in; null until the tune is there. */
export function useTuneRun(tuneId: string, skip = false): TuneRun | null {
  const { data } = useReadTuneQuery(tuneId, { skip });
  const entries = useAppSelector(selectEntries);
  return data === undefined ? null : evaluated(data, entries);
}

/** Once per change, however many parts of the screen ask: rail, step and level path show one and the same run. */
const evaluated = weakMapMemoize((stored: TuneDetail, entries: readonly OutboxEntry[]): TuneRun => {
  const tune = edited(stored, entries);
  const own = entries.filter((entry) => entry.tuneId === tune.id && entry.refused === undefined);
  const unsentReadings = own.flatMap((entry): Reading[] => (entry.kind === 'reading' ? [{ id: entry.id, ...entry.reading }] : []));
  const unsentTraces = own.flatMap((entry) => (entry.kind === 'trace' ? [entry.trace] : []));
  const voids = own.filter((entry) => entry.kind === 'void');
  const records: RunRecords = {
    readings: voided(merged(tune.readings, unsentReadings), voids),
    traces: voided(merged(tune.traces, unsentTraces), voids),
    marks: marked(tune.marks, own),
  };
  const now = settledSituation(tune.chain.body, tune.settings, records);
  return { tune, now, steps: runOf(now), unsentIds: new Set(own.map(({ id }) => id)) };
});

type Timed = { id: string; takenAt: string; voidedReason?: string };

/** What waits here was entered last, whatever this device's clock says: it never sorts before what is stored. */
export function merged<T extends Timed>(stored: readonly T[], unsent: readonly T[]): readonly T[] {
  if (unsent.length === 0) return stored;
  const known = new Set(stored.map(({ id }) => id));
  let last = stored.reduce((latest, { takenAt }) => (takenAt > latest ? takenAt : latest), '');
  const waiting = unsent.filter(({ id }) => !known.has(id));
  // In the order in which they were entered: the clock may have been set back between two of them.
  const ordered = waiting.map((item) => {
    if (item.takenAt < last) return { ...item, takenAt: last };
    last = item.takenAt;
    return item;
  });
  return [...stored, ...ordered];
}

function voided<T extends Timed>(items: readonly T[], voids: readonly (OutboxEntry & { kind: 'void' })[]): readonly T[] {
  if (voids.length === 0) return items;
  const byTarget = new Map(voids.map(({ targetId, reason }) => [targetId, reason]));
  return items.map((item) => {
    const reason = byTarget.get(item.id);
    if (reason === undefined) return item;
    const { voidedReason, ...rest } = item;
    return (reason === null ? rest : { ...rest, voidedReason: voidedReason ?? reason }) as T;
  });
}

/** The ticks as they are on this screen: of each step the last ones made here, else the stored ones. */
function marked(stored: readonly StepMark[], own: readonly OutboxEntry[]): readonly StepMark[] {
  const waiting = new Map(own.flatMap((entry) => (entry.kind === 'mark' ? [[entry.stepId, { stepId: entry.stepId, ...entry.body }]] : [])));
  return waiting.size === 0 ? stored : [...stored.filter(({ stepId }) => !waiting.has(stepId)), ...waiting.values()];
}

/** Where the next step of a run is; with nothing left to do, where the run ends. */
export function pathToNext({ steps }: Pick<TuneRun, 'steps'>, tuneId: string, fromId?: string): string {
  const next = nextStep(steps, fromId);
  return next === undefined ? `/tunes/${tuneId}/finished` : `/tunes/${tuneId}/run/${next.id}`;
}

/** The levels of a channel, and whose they are. */
export interface Path {
  title: string;
  stages: LevelStage[];
}

/**
 * The levels beside a step: of its channel, or of the first one where it is about the source or the processor.
 *
 * @returns undefined while nothing was read that could stand on it
 */
export function pathBeside({ now }: Pick<TuneRun, 'now'>, step: Pick<RunStep, 'channels'>): Path | undefined {
  const of = pathChannel(step, now);
  const stages = of === undefined ? [] : levelPath(now, of);
  return of === undefined || weakestStage(stages) === undefined ? undefined : { title: of.channel.name, stages };
}

/** The levels of a tune's first channel; undefined where there is none yet. */
export const useFirstPath = (run: TuneRun | null): Path | undefined => (run === null ? undefined : pathBeside(run, { channels: [] }));
