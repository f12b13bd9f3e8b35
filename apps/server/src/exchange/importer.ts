import type { BroughtIn } from '@yield/contract';
import { CoreError } from '@yield/core';
import { Piscina } from 'piscina';
import { Problem } from '../problem.ts';
import type { ServerSettings } from '../settings.ts';
import type { Actor } from '../store/history.ts';
import { threadCode } from '../threadCode.ts';
import type { ImportResult, ImportTask } from './importTask.ts';

/** Brings archives in, one after the other, on a thread of its own. */
export interface Importer {
  /** @param file - the archive on disk; @throws {CoreError} for anything that is wrong with it, {Problem} where it takes too much */
  bringIn: (file: string, actor: Actor, signal: AbortSignal) => Promise<BroughtIn[]>;
  close: () => Promise<void>;
}

/** Two thousand readings and 200 MB of captures take twenty seconds. */
const MAX_MS = 600_000;
const MAX_WAITING = 4;
/** The largest tune.json as text, as plain data and once more as rows. */
const HEAP_MB = 768;

export function importer({ databaseUrl, traceLimitBytes }: Pick<ServerSettings, 'databaseUrl' | 'traceLimitBytes'>): Importer {
  const pool = new Piscina<ImportTask, ImportResult>({
    ...threadCode(new URL('./importTask', import.meta.url)),
    minThreads: 0,
    maxThreads: 1,
    idleTimeout: 30_000,
    resourceLimits: { maxOldGenerationSizeMb: HEAP_MB },
  });
  return {
    bringIn: async (file, actor, signal) => {
      if (pool.queueSize >= MAX_WAITING) throw new Problem(503, 'Too busy', 'Other archives are being brought in. Try again in a minute.');
      const timeOut = AbortSignal.timeout(MAX_MS);
      const result = await pool
        .run({ file, databaseUrl, traceLimitBytes, actor }, { signal: AbortSignal.any([signal, timeOut]) })
        .catch((error: unknown) => {
          const { name, code } = (error ?? {}) as { name?: string; code?: string };
          if (timeOut.aborted || code === 'ERR_WORKER_OUT_OF_MEMORY')
            throw new Problem(422, 'Too much', 'This archive takes too long or too much memory to read. Nothing was brought in.');
          if (name === 'AbortError') throw new Problem(499, 'Broken off', 'The transfer was broken off: nothing was brought in.');
          throw error;
        });
      if (result.kind === 'done') return result.outcomes;
      if (result.kind === 'refused') throw new CoreError(result.code, result.faults);
      throw Object.assign(new Error(result.message), result.code === undefined ? {} : { code: result.code });
    },
    close: () => pool.destroy(),
  };
}
