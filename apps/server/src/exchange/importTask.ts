import type { BroughtIn } from '@yield/contract';
import { analyseCapture, traceOptionsOf } from '@yield/core';
import { newDataSource } from '../database/dataSource.ts';
import { releaseMemory } from '../releaseMemory.ts';
import type { Actor } from '../store/history.ts';
import { settled, type TaskResult } from '../taskResult.ts';
import { importZip } from './importZip.ts';
import { standBack } from '../standBack.ts';

standBack();

export interface ImportTask {
  /** the archive on disk */
  file: string;
  databaseUrl: string;
  /** largest capture, in bytes */
  traceLimitBytes: number;
  actor: Actor;
}

/**
 * Runs on a worker thread, with a connection of its own: an archive is read, held against its schemas, judged and written here. A thread
 * that is ended half-way takes its connection along, and the database then forgets what it had begun.
 */
export default async function runImportTask({ file, databaseUrl, traceLimitBytes, actor }: ImportTask): Promise<TaskResult<BroughtIn[]>> {
  const dataSource = newDataSource(databaseUrl, undefined, 2);
  const analyse: Parameters<typeof importZip>[1]['analyse'] = (bytes, capture) => {
    try {
      return analyseCapture(bytes, traceOptionsOf(capture));
    } finally {
      releaseMemory(bytes.length, true);
    }
  };
  return await settled(async () => {
    try {
      await dataSource.initialize();
      return await importZip(file, { dataSource, traceLimitBytes, analyse }, actor);
    } finally {
      await dataSource.destroy().catch(() => undefined);
    }
  });
}
