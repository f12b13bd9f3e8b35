import type { ServerSettings } from '../settings.ts';
import { valueOf, type TaskResult } from '../taskResult.ts';
import { startThreads } from '../threads.ts';
import type { ExportedTune, ExportTask } from './exportTask.ts';

/** Reads tunes out of the database and makes their files, one after the other, on a thread of its own. */
export interface Exporter {
  /** @throws {Problem} 404 where there is no such tune, 503 where too many wait, 422 for one that takes too much */
  tune: (tuneId: string, signal: AbortSignal) => Promise<ExportedTune>;
  close: () => Promise<void>;
}

export function exporter({ databaseUrl }: Pick<ServerSettings, 'databaseUrl'>): Exporter {
  const threads = startThreads<ExportTask, TaskResult<ExportedTune>>({
    code: new URL('./exportTask', import.meta.url),
    threads: 1,
    idleMs: 60_000,
    taskMs: 120_000,
    waiting: 64,
    // The largest tune as rows, as plain data and as text.
    heapMb: 768,
    words: {
      busy: 'Too many exports wait. Try again in a minute.',
      tooMuch: 'This tune takes too long or too much memory to export.',
      gone: 'The request was dropped before its archive was ready.',
    },
  });
  return { tune: async (tuneId, signal) => valueOf(await threads.run({ databaseUrl, tuneId }, signal)), close: threads.close };
}
