import type { BroughtIn } from '@yield/contract';
import type { ServerSettings } from '../settings.ts';
import type { Actor } from '../store/history.ts';
import { valueOf, type TaskResult } from '../taskResult.ts';
import { startThreads } from '../threads.ts';
import type { ImportTask } from './importTask.ts';

/** Brings archives in, one after the other, on a thread of its own. */
export interface Importer {
  /** @param file - the archive on disk; @throws {CoreError} for anything that is wrong with it, {Problem} where it takes too much */
  bringIn: (file: string, actor: Actor, signal: AbortSignal) => Promise<BroughtIn[]>;
  close: () => Promise<void>;
}

/** Two thousand readings and 200 MB of captures take twenty seconds. */
const MAX_MS = 600_000;
const MAX_WAITING = 8;
/** The largest tune.json as text, as plain data and once more as rows. */
const HEAP_MB = 768;

export function importer({ databaseUrl, traceLimitBytes }: Pick<ServerSettings, 'databaseUrl' | 'traceLimitBytes'>): Importer {
  const threads = startThreads<ImportTask, TaskResult<BroughtIn[]>>({
    code: new URL('./importTask', import.meta.url),
    threads: 1,
    idleMs: 30_000,
    taskMs: MAX_MS,
    waiting: MAX_WAITING,
    heapMb: HEAP_MB,
    words: {
      busy: 'Other archives are being imported. Try again in a minute.',
      tooMuch: 'This archive takes too long or too much memory to read. Nothing was imported.',
      gone: 'The transfer was broken off: nothing was imported.',
    },
  });
  return {
    bringIn: async (file, { who, clientAt }, signal) =>
      valueOf(await threads.run({ file, databaseUrl, traceLimitBytes, actor: { who, clientAt } }, signal)),
    close: threads.close,
  };
}
