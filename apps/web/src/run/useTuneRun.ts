import { createSelector } from '@reduxjs/toolkit';
import type { TuneDetail } from '@yield/contract';
import {
  isChannelStep,
  levelPath,
  provedFilters,
  stepsOf,
  stepState,
  stepTitle,
  type ChannelStep,
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

export interface RunStep<S extends Step = Step> {
  step: S;
  title: string;
  state: StepState;
  /** of its channel, or of the first one where it is about the source or the processor */
  levels: LevelStage[];
}

export type ChannelRunStep = RunStep<ChannelStep>;

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
  const all = stepsOf(chain, tune.settings.rules, provedFilters(chain, tune.settings, records));
  const first = all.find(isChannelStep);
  const steps = all.map((step) => {
    const ofChannel = 'channel' in step ? step : first;
    return {
      step,
      title: stepTitle(step),
      state: stepState(step, chain, tune.settings, records),
      levels: ofChannel === undefined ? [] : levelPath(ofChannel, chain, records),
    };
  });
  return { tune, records, steps, unsentIds: new Set(own.map(({ id }) => id)) };
}

function merged<T extends { id: string }>(stored: readonly T[], unsent: readonly T[]): T[] {
  const known = new Set(stored.map(({ id }) => id));
  return [...stored, ...unsent.filter(({ id }) => !known.has(id))];
}
