import { startThreads } from '../threads.ts';
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
const MAX_WAITING = 16;

/** Sheets are set on a thread of their own, which ends when nobody wants one. */
export function sheetMaker(): MakeSheet {
  const threads = startThreads<SheetTask | 'warm', Uint8Array>({
    code: new URL('./sheetTask', import.meta.url),
    threads: 1,
    idleMs: 120_000,
    taskMs: 60_000,
    waiting: MAX_WAITING,
    words: {
      busy: 'Too many sheets are being made. Try again in a moment.',
      tooMuch: 'This sheet takes too long to make. Print it from the screen.',
      gone: 'The request was dropped before its answer was ready.',
    },
  });
  const kept = new Map<string, Promise<Uint8Array>>();
  const make = (of: string, task: SheetTask): Promise<Uint8Array> => {
    const known = kept.get(of);
    if (known !== undefined) return known;
    const made = threads.run(task);
    kept.set(of, made);
    // What failed is tried anew by whoever asks next.
    made.catch(() => kept.delete(of));
    const oldest = kept.size > KEPT ? kept.keys().next().value : undefined;
    if (oldest !== undefined) kept.delete(oldest);
    return made;
  };
  const warm = (): void => {
    // Where it fails, so will the sheet, and says why.
    if (!threads.isWarm()) threads.run('warm').catch(() => undefined);
  };
  return Object.assign(make, { warm, close: threads.close });
}
