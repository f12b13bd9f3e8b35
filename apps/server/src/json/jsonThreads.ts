import { CoreError } from '@yield/core';
import { Piscina } from 'piscina';
import { Problem } from '../problem.ts';
import { threadCode } from '../threadCode.ts';
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
  const pool = new Piscina<JsonTask, JsonResult>({
    ...threadCode(new URL('./jsonTask', import.meta.url)),
    minThreads: 0,
    maxThreads: THREADS,
    idleTimeout: 60_000,
    resourceLimits: { maxOldGenerationSizeMb: HEAP_MB },
  });
  async function onThread(task: JsonTask, signal: AbortSignal | undefined): Promise<JsonResult> {
    if (pool.queueSize >= MAX_WAITING) throw new Problem(503, 'Too busy', 'Too many large requests wait. Try again in a moment.');
    const timeOut = AbortSignal.timeout(MAX_MS);
    try {
      return await pool.run(task, { signal: signal === undefined ? timeOut : AbortSignal.any([signal, timeOut]) });
    } catch (error) {
      const { name, code } = (error ?? {}) as { name?: string; code?: string };
      if (timeOut.aborted || code === 'ERR_WORKER_OUT_OF_MEMORY')
        throw new Problem(422, 'Too much', 'This takes too long or too much memory to work out. Send less of it at a time.');
      if (name === 'AbortError') throw new Problem(499, 'Broken off', 'The request was dropped before its answer was ready.');
      throw error;
    }
  }
  return {
    run: async (task, signal) => {
      const most = ('calculation' in task ? NEVER_INLINE_FROM_BYTES[task.calculation] : undefined) ?? INLINE_BYTES;
      const result = task.bytes.length <= most ? runJsonTask(task) : await onThread(task, signal);
      if (result.kind === 'done') return result.value;
      if (result.kind === 'not-json') throw new Problem(400, 'Not JSON', result.why, [{ pointer: '', message: 'not valid JSON' }]);
      throw new CoreError(result.code, result.faults);
    },
    close: () => pool.destroy(),
  };
}
