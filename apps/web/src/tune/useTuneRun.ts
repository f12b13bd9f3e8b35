import { createSelector, weakMapMemoize } from '@reduxjs/toolkit';
import type { TuneDetail } from '@yield/contract';
import {
  levelPath,
  newSituation,
  nextStep,
  pathChannel,
  runOf,
  weakestStage,
  type FiguresOf,
  type Judgement,
  type KindId,
  type LevelStage,
  type Reading,
  type RunRecords,
  type RunStep,
  type Situation,
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

/** A tune's run as it stands now, with what this browser has not sent yet counted in; null until the tune is there. */
export function useTuneRun(tuneId: string, skip = false): TuneRun | null {
  const { data } = useReadTuneQuery(tuneId, { skip });
  const entries = useAppSelector(selectEntries);
  return data === undefined ? null : evaluated(data, entries);
}

/** Once per change, however many parts of the screen ask: rail, step and level path show one and the same run. */
const evaluated = weakMapMemoize((tune: TuneDetail, entries: readonly OutboxEntry[]): TuneRun => {
  const own = entries.filter((entry) => entry.tuneId === tune.id && entry.refused === undefined);
  const unsentReadings = own.flatMap((entry): Reading[] => (entry.kind === 'reading' ? [{ id: entry.id, ...entry.reading }] : []));
  const unsentTraces = own.flatMap((entry) => (entry.kind === 'trace' ? [entry.trace] : []));
  const records: RunRecords = {
    readings: merged(tune.readings, unsentReadings),
    traces: merged(tune.traces, unsentTraces),
    marks: tune.marks,
  };
  const now = newSituation(tune.chain.body, tune.settings, records);
  return { tune, now, steps: runOf(now), unsentIds: new Set(own.map(({ id }) => id)) };
});

function merged<T extends { id: string }>(stored: readonly T[], unsent: readonly T[]): readonly T[] {
  if (unsent.length === 0) return stored;
  const known = new Set(stored.map(({ id }) => id));
  return [...stored, ...unsent.filter(({ id }) => !known.has(id))];
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
