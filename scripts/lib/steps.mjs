import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { ROOT } from './project.mjs';

/** How long each step took last on this machine, in ms: what a bar is drawn against. */
const KEPT = path.join(ROOT, 'node_modules/.yield-durations.json');
/** Where nothing is known yet; a busy machine takes longer. */
const USUAL_MS = { packages: 60_000, build: 45_000, database: 5_000 };
/** Without a screen a line now and then has to do. */
const LINE_EVERY_MS = 10_000;
const BAR_WIDTH = 24;

/**
 * Says what a long start is at: the name of a step, how far it may be, and how long it took.
 *
 * @param id - "packages", "build" or "database"
 * @param words - such as "Packages"
 * @param work - is given `said`, which keeps what it says out of the bar's way; @returns what is told of the step, such as "as they were"
 */
export async function step(id, words, work) {
  const began = performance.now();
  const expected = durations()[id] ?? USUAL_MS[id] ?? 10_000;
  const seconds = () => `${((performance.now() - began) / 1000).toFixed(performance.now() - began < 9_950 ? 1 : 0)} s`;
  const isScreen = process.stdout.isTTY === true;
  const timer = setInterval(
    () => {
      // Never full before it is done.
      const share = Math.min(0.97, 1 - Math.exp((-1.6 * (performance.now() - began)) / expected));
      const filled = Math.round(BAR_WIDTH * share);
      const bar = `${'#'.repeat(filled)}${'.'.repeat(BAR_WIDTH - filled)}`;
      if (isScreen) process.stdout.write(`\r${words.padEnd(10)} [${bar}] ${seconds()} `);
      else console.log(`${words} … ${seconds()}`);
    },
    isScreen ? 250 : LINE_EVERY_MS,
  );
  try {
    const told = await work();
    const took = performance.now() - began;
    clearInterval(timer);
    if (isScreen) process.stdout.write('\r\u001b[K');
    console.log(`${words.padEnd(10)} ${told ?? 'done'}, ${seconds()}`);
    if (took > 1500) keep(id, took);
  } finally {
    clearInterval(timer);
  }
}

function durations() {
  try {
    return JSON.parse(readFileSync(KEPT, 'utf8'));
  } catch {
    return {};
  }
}

function keep(id, ms) {
  try {
    if (!existsSync(path.dirname(KEPT))) mkdirSync(path.dirname(KEPT), { recursive: true });
    writeFileSync(KEPT, JSON.stringify({ ...durations(), [id]: Math.round(ms) }));
  } catch {
    // It is a comfort, no more.
  }
}
