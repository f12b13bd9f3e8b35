import {
  analyseCapture,
  CoreError,
  equaliserFit,
  pulsePolarity,
  readCapture,
  recordedSweep,
  type CoreErrorCode,
  type EqualiserFit,
  type EqualiserFitInput,
  type Fault,
  type PlayedSweep,
  type PulseChannel,
  type ReadCaptureOptions,
  type SweepRecording,
  type TraceAnalysis,
  type TraceOptions,
} from '@yield/core';
import { giveBack } from '../giveBack.ts';

/** What the worker threads take on, by name: what is asked, and what comes back. */
export interface WorkerTasks {
  trace: { ask: { bytes: Uint8Array; options: ReadCaptureOptions & TraceOptions }; answer: TraceAnalysis };
  pulse: { ask: { bytes: Uint8Array; limitDb?: number }; answer: { channels: PulseChannel[] } };
  sweep: { ask: { bytes: Uint8Array; played: PlayedSweep }; answer: SweepRecording };
  equaliser: { ask: EqualiserFitInput; answer: EqualiserFit };
}
export type WorkerTaskName = keyof WorkerTasks;
export interface WorkerTask<N extends WorkerTaskName = WorkerTaskName> {
  name: N;
  ask: WorkerTasks[N]['ask'];
}

const RUN: { [N in WorkerTaskName]: (ask: WorkerTasks[N]['ask']) => WorkerTasks[N]['answer'] } = {
  trace: ({ bytes, options }) => analyseCapture(bytes, options),
  pulse: ({ bytes, limitDb }) => pulsePolarity(readCapture(bytes), limitDb),
  sweep: ({ bytes, played }) => recordedSweep(readCapture(bytes), played),
  equaliser: equaliserFit,
};

/** An error cannot carry its fields across the thread border, so it goes as data. */
export type WorkerResult<N extends WorkerTaskName = WorkerTaskName> =
  | { kind: 'done'; answer: WorkerTasks[N]['answer'] }
  | { kind: 'refused'; code: CoreErrorCode; faults: readonly Fault[] };

/** Runs on a worker thread: reads and judges one capture, or fits one equaliser. */
export default function runTask<N extends WorkerTaskName>({ name, ask }: WorkerTask<N>): WorkerResult<N> {
  try {
    return { kind: 'done', answer: RUN[name](ask) };
  } catch (error) {
    if (error instanceof CoreError) return { kind: 'refused', code: error.code, faults: error.faults };
    throw error;
  } finally {
    if ('bytes' in ask) giveBack(ask.bytes.length, true);
  }
}
