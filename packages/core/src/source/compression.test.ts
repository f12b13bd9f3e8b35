// The law of the volume control is known here, and the rail with it: the step is known to be found from.
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { voltageFactor } from '../levels/decibels.ts';
import { compressedFrom, type MeasuredStep } from './compression.ts';

const SEED = { seed: 4620, numRuns: 60 };

/** RMS of a sine clipped hard at a peak, by adding up a cycle. */
function clippedRms(rms: number, railPeak: number): number {
  const count = 720;
  let sum = 0;
  for (let n = 0; n < count; n += 1) {
    const volt = Math.SQRT2 * rms * Math.sin((2 * Math.PI * n) / count);
    sum += Math.max(-railPeak, Math.min(railPeak, volt)) ** 2;
  }
  return Math.sqrt(sum / count);
}

interface Source {
  growthDb: number;
  /** decibels per step squared */
  bendDb: number;
  from: number;
  count: number;
  /** decibels from the first step to the rail */
  railDb: number;
  decimals: number;
}

function tableOf({ growthDb, bendDb, from, count, railDb, decimals }: Source): { steps: MeasuredStep[]; levelsDb: number[] } {
  const levelsDb = Array.from({ length: count }, (_, i) => growthDb * i - bendDb * i ** 2);
  const railPeak = Math.SQRT2 * voltageFactor(railDb);
  const steps = levelsDb.map((db, i) => ({
    step: from + i,
    voltageRms: Number(clippedRms(voltageFactor(db), railPeak).toFixed(decimals)),
  }));
  return { steps, levelsDb };
}

const sources = fc.record({
  growthDb: fc.double({ min: 0.9, max: 3, noNaN: true }),
  bendDb: fc.double({ min: 0, max: 0.02, noNaN: true }),
  from: fc.integer({ min: 0, max: 30 }),
  count: fc.constant(16),
  railDb: fc.double({ min: 6, max: 9, noNaN: true }),
  decimals: fc.integer({ min: 3, max: 4 }),
});

describe('where a voltage stops following the volume', () => {
  it('is found within a step of the rail, whatever the law', () => {
    fc.assert(
      fc.property(sources, (source) => {
        const { steps, levelsDb } = tableOf(source);
        // 0.25 dB over its rail a sine has 1 % of distortion.
        const truth = levelsDb.findIndex((db) => db > source.railDb + 0.25);
        fc.pre(truth >= 4 && truth < source.count - 3);
        expect(Math.abs(compressedFrom(steps, 0.5) - truth)).toBeLessThanOrEqual(1);
      }),
      SEED,
    );
  });
  it('is nowhere while the rail is out of reach', () => {
    fc.assert(
      fc.property(sources, (source) => {
        expect(compressedFrom(tableOf({ ...source, railDb: 90 }).steps, 0.5)).toBe(-1);
      }),
      SEED,
    );
  });
  it('does not depend on where the scale begins', () => {
    const source = { growthDb: 1.5, bendDb: 0, count: 14, railDb: 9, decimals: 4 };
    const found = [0, 7, 25].map((from) => compressedFrom(tableOf({ ...source, from }).steps, 0.5));
    expect(new Set(found).size).toBe(1);
    expect(found[0]).toBeGreaterThan(5);
  });
  it('is found through steps that were left out', () => {
    const { steps } = tableOf({ growthDb: 1.5, bendDb: 0, from: 10, count: 14, railDb: 9.2, decimals: 3 });
    const sparse = steps.filter((_, i) => i !== 2 && i !== 3);
    expect(sparse[compressedFrom(sparse, 0.5)]!.step).toBe(steps[compressedFrom(steps, 0.5)]!.step);
  });
  it.each([
    [[]],
    [[{ step: 1, voltageRms: 1 }]],
    [
      [
        { step: 1, voltageRms: 1 },
        { step: 2, voltageRms: 1.2 },
      ],
    ],
  ])('is nowhere in a table of %j', (steps) => {
    expect(compressedFrom(steps, 0.5)).toBe(-1);
  });
});
