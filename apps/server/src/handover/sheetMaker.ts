import { Piscina } from 'piscina';
import { Problem } from '../problem.ts';
import { threadCode } from '../threadCode.ts';
import type { SheetTask } from './sheetTask.ts';

/** @param of - what it is made of: the same is made once, whoever asks */
export interface MakeSheet {
  (of: string, task: SheetTask): Promise<Uint8Array>;
  /** somebody looks at a sheet, and will want it soon */
  warm: () => void;
  close: () => Promise<void>;
}

/** Sheets of this many tunes and papers are kept; each is some twenty kilobytes. */
const KEPT = 32;
/** More that wait are turned away: each takes a second. */
const MOST_WAITING = 16;

/** Sheets are set on a thread of their own, which ends when nobody wants one. */
export function sheetMaker(): MakeSheet {
  const pool = new Piscina<SheetTask | 'warm', Uint8Array>({
    ...threadCode(new URL('./sheetTask', import.meta.url)),
    minThreads: 0,
    maxThreads: 1,
    idleTimeout: 120_000,
  });
  const kept = new Map<string, Promise<Uint8Array>>();
  const make = (of: string, task: SheetTask): Promise<Uint8Array> => {
    const known = kept.get(of);
    if (known !== undefined) return known;
    if (pool.queueSize >= MOST_WAITING) throw new Problem(503, 'Too busy', 'Too many sheets are being made. Try again in a moment.');
    const made = pool.run(task);
    kept.set(of, made);
    // What failed is tried anew by whoever asks next.
    made.catch(() => kept.delete(of));
    const oldest = kept.size > KEPT ? kept.keys().next().value : undefined;
    if (oldest !== undefined) kept.delete(oldest);
    return made;
  };
  const warm = (): void => {
    // Where it fails, so will the sheet, and says why.
    if (pool.threads.length === 0) pool.run('warm').catch(() => undefined);
  };
  return Object.assign(make, { warm, close: () => pool.destroy() });
}
