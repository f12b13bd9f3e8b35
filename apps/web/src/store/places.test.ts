// The queue's order is the device's own count: a clock that is set back changes nothing.
import { afterEach, beforeEach, expect, it, vi } from 'vitest';

const kept = new Map<string, string>();
beforeEach(() => {
  kept.clear();
  vi.useFakeTimers();
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => kept.set(key, value),
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

/** The module as a page that was just opened has it. */
async function opened(): Promise<typeof import('./outbox.ts')> {
  vi.resetModules();
  return import('./outbox.ts');
}

it('places rise over a reload with the clock set back by hours', async () => {
  vi.setSystemTime('2026-05-01T12:00:00Z');
  const before = await opened();
  const first = [before.nextPlace(), before.nextPlace()];
  vi.setSystemTime('2026-05-01T08:00:00Z');
  const after = await opened();
  expect(after.nextPlace()).toBeGreaterThan(first[1]!);
});

it('two windows of one browser count together', async () => {
  const one = await opened();
  const other = await opened();
  const places = [one.nextPlace(), other.nextPlace(), one.nextPlace(), other.nextPlace()];
  expect(places).toEqual([...places].sort((a, b) => a - b));
  expect(new Set(places).size).toBe(4);
});

it('what an earlier version left, with times for places, stays before what is entered now', async () => {
  vi.setSystemTime('2026-05-01T08:00:00Z');
  const { nextPlace, notePlaces } = await opened();
  const left = Date.parse('2026-05-01T12:00:00Z');
  notePlaces([{ queuedAt: left }, {}]);
  expect(nextPlace()).toBeGreaterThan(left);
});

it('goes on counting in a browser that keeps nothing', async () => {
  vi.stubGlobal('localStorage', {
    getItem: () => {
      throw new Error('nothing is kept');
    },
    setItem: () => {
      throw new Error('nothing is kept');
    },
  });
  vi.setSystemTime('2026-05-01T12:00:00Z');
  const { nextPlace } = await opened();
  const first = nextPlace();
  vi.setSystemTime('2026-05-01T08:00:00Z');
  expect(nextPlace()).toBeGreaterThan(first);
});
