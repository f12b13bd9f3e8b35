import { readFileSync } from 'node:fs';
import os from 'node:os';
import { isMainThread } from 'node:worker_threads';

/** Of a thread whose work can wait: the server's own loop and the database come first where cores are few. */
const NICENESS = 10;

/**
 * Lets a worker thread give way to whoever answers requests. On Linux a thread has a priority of its own, and its id can be read there; elsewhere
 * nothing is done.
 */
export function stepBack(): void {
  if (isMainThread || process.platform !== 'linux') return;
  try {
    const threadId = Number.parseInt(readFileSync('/proc/thread-self/stat', 'utf8'), 10);
    // The process itself keeps its own.
    if (threadId !== process.pid) os.setPriority(threadId, NICENESS);
  } catch {
    // Where it may not, work is as quick as before.
  }
}
