import type { BroughtIn } from '@yield/contract';
import { analyseCapture, CoreError, type CoreErrorCode, type Fault } from '@yield/core';
import { newDataSource } from '../database/dataSource.ts';
import { giveBack } from '../giveBack.ts';
import type { Actor } from '../store/history.ts';
import { captureOptions } from '../traces/captureOptions.ts';
import { importZip } from './importZip.ts';

export interface ImportTask {
  /** the archive on disk */
  file: string;
  databaseUrl: string;
  /** largest capture, in bytes */
  traceLimitBytes: number;
  actor: Actor;
}

export type ImportResult =
  | { kind: 'done'; outcomes: BroughtIn[] }
  | { kind: 'refused'; code: CoreErrorCode; faults: readonly Fault[] }
  /** the database's own words on it */
  | { kind: 'failed'; code?: string; message: string };

/**
 * Runs on a worker thread, with a connection of its own: an archive is read, held against its schemas, judged and written here. A thread
 * that is ended half-way takes its connection along, and the database then forgets what it had begun.
 */
export default async function runImportTask({ file, databaseUrl, traceLimitBytes, actor }: ImportTask): Promise<ImportResult> {
  const dataSource = newDataSource(databaseUrl, undefined, 2);
  try {
    await dataSource.initialize();
    const outcomes = await importZip(
      file,
      {
        dataSource,
        traceLimitBytes,
        analyse: (bytes, capture) => {
          try {
            return analyseCapture(bytes, captureOptions(capture));
          } finally {
            giveBack(bytes.length, true);
          }
        },
      },
      actor,
    );
    return { kind: 'done', outcomes };
  } catch (error) {
    if (error instanceof CoreError) return { kind: 'refused', code: error.code, faults: error.faults };
    const { code, driverError, message = '' } = (error ?? {}) as { code?: string; driverError?: { code?: string }; message?: string };
    const own = driverError?.code ?? code;
    return { kind: 'failed', message, ...(own === undefined ? {} : { code: own }) };
  } finally {
    await dataSource.destroy().catch(() => undefined);
  }
}
