import { CoreError, timeBaseOf, type CsvRows, type FilePart, type TraceAnalysis } from '@yield/core';
import { Starved, type Arriving } from './arriving.ts';
import type { TraceAsk, WorkerTaskName, WorkerTasks } from './traceTask.ts';

/** Runs one task on a thread. @throws {Starved} where bytes came too slowly to be read as they came */
export type OnThread = <N extends WorkerTaskName>(name: N, ask: WorkerTasks[N]['ask']) => Promise<WorkerTasks[N]['answer']>;

/** Below this a second thread is not worth its trouble; above, the samples of both would take too much memory at once. */
const SHARED_BYTES = { least: 4_000_000, most: 128_000_000 };

/** Where the second thread begins. Of what still comes in it has to wait for its part, and has the smaller one. */
const BORDER_WHILE_ARRIVING = 0.65;

/** A capture's figures. Of a large table two threads read a part each, while it comes in, and then judge its channels. */
export async function traceOnThreads(ask: TraceAsk, onThread: OnThread, arriving: Arriving | undefined): Promise<TraceAnalysis> {
  const { bytes, options } = ask;
  const isOneThing = options.sweep !== undefined || options.pulse === true || options.curve === true;
  const isShared = !isOneThing && bytes.length >= SHARED_BYTES.least && bytes.length <= SHARED_BYTES.most;
  const shared = isShared ? await byTwo(ask, onThread, arriving) : undefined;
  // Whatever broke the transfer off is what the client is told.
  await arriving?.ended;
  return shared ?? onThread('trace', ask);
}

/** @returns undefined where the whole has to be looked at: bytes that rest, no table, or a fault, which is told by its place in the whole */
async function byTwo(ask: TraceAsk, onThread: OnThread, arriving: Arriving | undefined): Promise<TraceAnalysis | undefined> {
  const { bytes, options } = ask;
  const border = arriving === undefined ? 0.5 : BORDER_WHILE_ARRIVING;
  const readPart = (part: FilePart): Promise<CsvRows | null> =>
    onThread('rows', { bytes, options, part, ...(arriving === undefined ? {} : { count: arriving.count }) });
  try {
    const parts = await Promise.all([readPart({ from: 0, to: border }), readPart({ from: border, to: 1 })]);
    return areRows(parts) ? await judgedByTwo(parts, options, onThread) : undefined;
  } catch (error) {
    if (error instanceof Starved || error instanceof CoreError) return undefined;
    throw error;
  }
}

const areRows = (parts: readonly (CsvRows | null)[]): parts is CsvRows[] => !parts.includes(null);

/** Each later channel is held against the first one: that one is half of the work of two, and the rest goes beside it. */
async function judgedByTwo(parts: CsvRows[], options: TraceAsk['options'], onThread: OnThread): Promise<TraceAnalysis> {
  const [[first], later] = await Promise.all([
    onThread('judge', { parts, options, channels: [0, 1] }),
    onThread('judge', { parts, options, channels: [1, Infinity] }),
  ]);
  if (first === undefined) throw new Error('a table without a channel was read');
  const between = later.length === 0 ? [] : await onThread('relate', { parts, options, first, later });
  return { sampleRateHz: timeBaseOf(parts).sampleRateHz, channels: [first, ...later], between };
}
