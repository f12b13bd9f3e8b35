import {
  analyseCapture,
  analyseChannels,
  CoreError,
  equaliserFit,
  pulsePolarity,
  captureFromRows,
  readCapture,
  readCaptureRows,
  recordedSweep,
  relationOf,
  timeBaseOf,
  type CsvRows,
  type Samples,
  type FilePart,
  type ChannelAnalysis,
  type ChannelRelation,
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
import { releaseMemory } from '../releaseMemory.ts';
import { arrivalFrom, Starved } from './arriving.ts';
import { standBack } from '../standBack.ts';

standBack();

/** What the worker threads take on, by name: what is asked, and what comes back. */
export interface WorkerTasks {
  trace: { ask: TraceAsk; answer: TraceAnalysis };
  /** what a large trace is made of, so that two threads share in it; its columns lie in shared memory */
  rows: { ask: TraceAsk & { part: FilePart; count?: Int32Array<SharedArrayBuffer> }; answer: CsvRows | null };
  judge: { ask: Rows & { channels: readonly [number, number] }; answer: ChannelAnalysis[] };
  relate: { ask: Rows & { first: ChannelAnalysis; later: ChannelAnalysis[] }; answer: ChannelRelation[] };
  pulse: { ask: { bytes: Uint8Array; limitDb?: number }; answer: { channels: PulseChannel[] } };
  sweep: { ask: { bytes: Uint8Array; played: PlayedSweep }; answer: SweepRecording };
  equaliser: { ask: EqualiserFitInput; answer: EqualiserFit };
}
export interface TraceAsk {
  bytes: Uint8Array;
  options: ReadCaptureOptions & TraceOptions;
}
interface Rows {
  parts: CsvRows[];
  options: TraceAsk['options'];
}
export type WorkerTaskName = keyof WorkerTasks;
export interface WorkerTask<N extends WorkerTaskName = WorkerTaskName> {
  name: N;
  ask: WorkerTasks[N]['ask'];
}

const RUN: { [N in WorkerTaskName]: (ask: WorkerTasks[N]['ask']) => WorkerTasks[N]['answer'] } = {
  trace: ({ bytes, options }) => analyseCapture(bytes, options),
  rows: ({ bytes, options, part, count }) => readCaptureRows(bytes, options, part, count && arrivalFrom(count)),
  judge: ({ parts, channels, options }) => analyseChannels(captureFromRows(parts, options, channels), options),
  relate: ({ parts, options, first, later }) =>
    later.flatMap((channel, i) => {
      const samples = (): Samples => captureFromRows(parts, options, [i + 1, i + 2]).channels[0]!.samples;
      return relationOf(first, channel, samples, timeBaseOf(parts).sampleRateHz);
    }),
  pulse: ({ bytes, limitDb }) => pulsePolarity(readCapture(bytes), limitDb),
  sweep: ({ bytes, played }) => recordedSweep(readCapture(bytes), played),
  equaliser: equaliserFit,
};

/** An error cannot carry its fields across the thread border, so it goes as data. `starved`: the bytes came too slowly to be read as they came. */
export type WorkerResult<N extends WorkerTaskName = WorkerTaskName> =
  | { kind: 'done'; answer: WorkerTasks[N]['answer'] }
  | { kind: 'refused'; code: CoreErrorCode; faults: readonly Fault[] }
  | { kind: 'starved' };

/** Transforms of a sweep leave so much behind for each byte of its file. */
const SWEEP_GARBAGE = 100;
const isSweep = (name: WorkerTaskName, ask: object): boolean =>
  name === 'sweep' || ('options' in ask && (ask.options as TraceOptions).sweep !== undefined);

/** Runs on a worker thread: reads and judges one capture, or fits one equaliser. */
export default function runTask<N extends WorkerTaskName>({ name, ask }: WorkerTask<N>): WorkerResult<N> {
  try {
    return { kind: 'done', answer: RUN[name](ask) };
  } catch (error) {
    if (error instanceof CoreError) return { kind: 'refused', code: error.code, faults: error.faults };
    if (error instanceof Starved) return { kind: 'starved' };
    throw error;
  } finally {
    if ('bytes' in ask) releaseMemory(isSweep(name, ask) ? SWEEP_GARBAGE * ask.bytes.length : ask.bytes.length, true);
  }
}
