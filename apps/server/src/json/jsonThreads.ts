import { CoreError } from '@yield/core';
import { Problem } from '../problem.ts';
import { startThreads } from '../threads.ts';
import runJsonTask, { type JsonResult, type JsonTask } from './jsonTask.ts';

/** Reads and checks JSON: what is small at once, what is larger on a thread, so that the server answers meanwhile. */
export interface JsonThreads {
  /**
   * @returns the value of a body, or the text of a calculation's answer
   * @throws {Problem} 400 for what is no JSON, 422 for what takes too long or too much memory, 503 where too many wait
   * @throws {CoreError} with a fault for each field
   */
  run: (task: JsonTask, signal?: AbortSignal) => Promise<unknown>;
  close: () => Promise<void>;
}

/** Reading, checking and working out so much takes a few milliseconds. */
const INLINE_BYTES = 64_000;
/** Small bodies that ask for much: every wiring of many coils, and what is drawn over thousands of frequencies. */
const NEVER_INLINE_FROM_BYTES: Partial<Record<string, number>> = { 'load-options': 600, 'crossover-sum': 8_000, 'meter-diagnosis': 2_000 };
const THREADS = 2;
const MAX_WAITING = 32;
const MAX_MS = 20_000;
const HEAP_MB = 256;

export function jsonThreads(): JsonThreads {
  const threads = startThreads<JsonTask, JsonResult>({
    code: new URL('./jsonTask', import.meta.url),
    threads: THREADS,
    idleMs: 60_000,
    taskMs: MAX_MS,
    waiting: MAX_WAITING,
    heapMb: HEAP_MB,
    words: {
      busy: 'Too many large requests wait. Try again in a moment.',
      tooMuch: 'This takes too long or too much memory to work out. Send less of it at a time.',
      gone: 'The request was dropped before its answer was ready.',
    },
  });
  return {
    run: async (task, signal) => {
      const most = ('calculation' in task ? NEVER_INLINE_FROM_BYTES[task.calculation] : undefined) ?? INLINE_BYTES;
      const result = task.bytes.length <= most ? runJsonTask(task) : await threads.run(task, signal);
      if (result.kind === 'done') return result.value;
      if (result.kind === 'not-json') throw new Problem('not-json', result.why, [{ pointer: '', message: 'not valid JSON' }]);
      throw new CoreError(result.code, result.faults);
    },
    close: threads.close,
  };
}
