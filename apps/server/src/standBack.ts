import { readlinkSync } from 'node:fs';
import os from 'node:os';

/** Behind everything that somebody waits for with a probe in hand, yet not starved. */
const BEHIND = 10;

/**
 * Lets the thread that calls it stand back where the processors are busy: storing a reading goes before summing up and analysing.
 *
 * Linux schedules each thread by its own priority, and takes a thread's number where a process's is asked for. Elsewhere nothing happens.
 */
export function standBack(): void {
  try {
    // "4711/task/4713": who reads this link is told the thread that it is.
    const thread = Number(readlinkSync('/proc/thread-self').split('/').at(-1));
    if (thread !== process.pid) os.setPriority(thread, BEHIND);
  } catch {
    // It works on as it is.
  }
}
