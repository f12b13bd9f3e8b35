import { Piscina } from 'piscina';
import type { SheetTask } from './sheetTask.ts';

export type MakeSheet = (task: SheetTask) => Promise<Uint8Array>;

/** Sheets are set on a thread of their own, which ends when nobody wants one. */
export function sheetMaker(): MakeSheet {
  const fromSource = import.meta.url.endsWith('.ts');
  const pool = new Piscina<SheetTask, Uint8Array>({
    filename: new URL(fromSource ? './sheetTask.ts' : './sheetTask.js', import.meta.url).href,
    minThreads: 0,
    maxThreads: 1,
    idleTimeout: 10_000,
    ...(fromSource ? { execArgv: ['--import', 'tsx'] } : {}),
  });
  return (task) => pool.run(task);
}
