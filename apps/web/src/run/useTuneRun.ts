import { createSelector } from '@reduxjs/toolkit';
import type { TuneDetail } from '@yield/contract';
import {
  levelPath,
  stepsOf,
  stepState,
  stepTitle,
  type LevelStage,
  type Reading,
  type RunRecords,
  type Step,
  type StepState,
} from '@yield/core';
import { useMemo } from 'react';
import { useReadTuneQuery } from '../api/yieldApi.ts';
import { outboxSelectors, type OutboxEntry } from '../store/outbox.ts';
import { useAppSelector, type RootState } from '../store/store.ts';

export interface RunStep {
  step: Step;
  title: string;
  state: StepState;
  levels: LevelStage[];
}

export interface TuneRun {
  tune: TuneDetail;
  records: RunRecords;
  steps: RunStep[];
  /** readings and captures that this browser still holds */
  unsentIds: ReadonlySet<string>;
}

const selectEntries = createSelector([(state: RootState) => state.outbox], (outbox) => outboxSelectors.selectAll(outbox));

/** A tune's run as it stands now, with what this browser has not sent yet counted in; null until the tune is there. */
export function useTuneRun(tuneId: string): TuneRun | null {
  const { data } = useReadTuneQuery(tuneId);
  const entries = useAppSelector(selectEntries);
  return useMemo(() => (data === undefined ? null : runOf(data, entries)), [data, entries]);
}

function runOf(tune: TuneDetail, entries: readonly OutboxEntry[]): TuneRun {
  const own = entries.filter((entry) => entry.tuneId === tune.id && entry.refused === undefined);
  const unsentReadings = own.flatMap((entry): Reading[] => (entry.kind === 'reading' ? [{ id: entry.id, ...entry.reading }] : []));
  const unsentTraces = own.flatMap((entry) => (entry.kind === 'trace' ? [entry.trace] : []));
  const records: RunRecords = {
    readings: merged(tune.readings, unsentReadings),
    traces: merged(tune.traces, unsentTraces),
    marks: tune.marks,
  };
  const chain = tune.chain.body;
  const steps = stepsOf(chain, tune.settings.rules).map((step) => ({
    step,
    title: stepTitle(step),
    state: stepState(step, chain, tune.settings, records),
    levels: levelPath(step, chain, records),
  }));
  return { tune, records, steps, unsentIds: new Set(own.map(({ id }) => id)) };
}

function merged<T extends { id: string }>(stored: readonly T[], unsent: readonly T[]): T[] {
  const known = new Set(stored.map(({ id }) => id));
  return [...stored, ...unsent.filter(({ id }) => !known.has(id))];
}
