import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

/** Less than this is not worth a pause of some ten milliseconds. */
const LARGE_BYTES = 32_000_000;
/** Whoever still holds it lets go of it first. */
const AFTER_MS = 500;

let collect: ((how?: { type: 'minor' }) => void) | undefined;

/**
 * Has the memory of large work given back to the machine soon after it is done.
 *
 * Samples and file bytes lie outside of the collector's heap: it sees small objects, waits, and gigabytes stay taken meanwhile.
 *
 * @param bytes - of what was worked on
 * @param isNow - at once, on a thread that sleeps without looking at its timers until its next task
 */
export function releaseMemory(bytes: number, isNow = false): void {
  if (bytes < LARGE_BYTES) return;
  collect ??= collector();
  if (isNow) collect();
  else setTimeout(collect, AFTER_MS).unref();
}

function collector(): (how?: { type: 'minor' }) => void {
  // The only way to ask for it from within: the flag makes the function for contexts that come after it.
  setFlagsFromString('--expose-gc');
  return runInNewContext('gc') as (how?: { type: 'minor' }) => void;
}

/**
 * Lets go of short-lived buffers, such as the chunks of a body that was copied, in a millisecond.
 *
 * Left alone, they call for a look through all of the heap, which takes forty times as long, twice for a file of thirty megabytes.
 */
export function dropChunks(): void {
  collect ??= collector();
  collect({ type: 'minor' });
}
