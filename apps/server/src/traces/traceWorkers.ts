import { CoreError, traceOptionsOf, type CaptureSpec, type TraceAnalysis } from '@yield/core';
import { startThreads } from '../threads.ts';
import { Starved, type Arriving } from './arriving.ts';
import { traceOnThreads, type OnThread } from './largeTrace.ts';
import type { TraceAsk, WorkerResult, WorkerTask, WorkerTaskName, WorkerTasks } from './traceTask.ts';

export interface TraceWorkers {
  /**
   * @param signal - ends the task when nobody waits for it any more
   * @param arriving - where the bytes of a trace still come in
   * @throws {CoreError} as the core does for what it is asked
   * @throws {Problem} 503 with too many captures waiting, 422 for one that takes too long or too much memory
   */
  run<N extends WorkerTaskName>(
    name: N,
    ask: WorkerTasks[N]['ask'],
    signal?: AbortSignal,
    arriving?: Arriving,
  ): Promise<WorkerTasks[N]['answer']>;
  close(): Promise<void>;
}

export interface WorkerLimits {
  /** a task that takes longer is ended; the largest capture takes some ten seconds on a slow machine */
  taskMs: number;
  /** captures that wait for a thread, besides those being analysed */
  queue: number;
}
const LIMITS: WorkerLimits = { taskMs: 120_000, queue: 32 };
const THREADS = 2;
/** A thread that had nothing to do for so long ends; one stays. */
const IDLE_MS = 120_000;
/** Tasks that go on with what another one has read. */
const FOLLOWING: readonly WorkerTaskName[] = ['judge', 'relate'];
/** Of a thread's own objects, in MB; the samples of a capture are not among them. */
const HEAP_MB = 512;

/** Threads that analyse captures, so that the server keeps answering meanwhile. */
export function startTraceWorkers({ taskMs, queue }: WorkerLimits = LIMITS): TraceWorkers {
  const threads = startThreads<WorkerTask, WorkerResult>({
    code: new URL('./traceTask', import.meta.url),
    threads: THREADS,
    least: 1,
    // A thread that has just begun is slow: its code is not compiled yet.
    idleMs: IDLE_MS,
    taskMs,
    waiting: queue,
    heapMb: HEAP_MB,
    words: {
      busy: 'Too many captures wait to be read. Try again in a moment; what you dropped is kept in this browser.',
      tooMuch: 'This capture takes too long to read. Save a shorter stretch: a few dozen cycles are enough.',
      gone: 'The request was dropped before its answer was ready.',
    },
  });
  /** Runs one task. What follows on another is never turned away: its first part is done already. */
  const onThread = async <N extends WorkerTaskName>(name: N, ask: WorkerTasks[N]['ask'], signal: AbortSignal | undefined) => {
    const result = await threads.run({ name, ask }, signal, { isFollowing: FOLLOWING.includes(name) });
    if (result.kind === 'refused') throw new CoreError(result.code, result.faults);
    if (result.kind === 'starved') throw new Starved();
    return result.answer;
  };
  return {
    run: (name, ask, signal, arriving) => {
      const run: OnThread = (part, asked) => onThread(part, asked, signal);
      return name === 'trace' ? traceOnThreads(ask as TraceAsk, run, arriving) : run(name, ask);
    },
    close: threads.close,
  };
}

/** Judges the bytes of a capture, as they came, under its conditions. */
export type Analyse = (bytes: Buffer, capture: CaptureSpec, signal?: AbortSignal) => Promise<TraceAnalysis>;

/** Judges a capture under its conditions: the tone that played, or the sweep. */
export const analyseWith =
  (workers: TraceWorkers): Analyse =>
  (bytes, capture, signal) =>
    workers.run('trace', { bytes, options: traceOptionsOf(capture) }, signal);
