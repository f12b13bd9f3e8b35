import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { overdrive, type Overdrive } from './overdrive.ts';
import { powerLimit, type LoadRating } from './powerLimit.ts';

const RATINGS: LoadRating[] = [
  { loadOhm: 4, powerWatt: 100 },
  { loadOhm: 1, powerWatt: 260 },
  { loadOhm: 2, powerWatt: 170 },
];

describe('what a channel may be set to', () => {
  // V = sqrt(P R), worked by hand.
  it.each([
    [4, 300, 34.64],
    [4, 125, 22.36],
    [2, 250, 22.36],
    [1, 500, 22.36],
    [1, 1500, 38.73],
    [2, 3000, 77.46],
  ])('into %d ohm, %d W on the plate: %d V', (loadOhm, powerWatt, volt) => {
    const limit = powerLimit({ loadOhm, ratings: [{ loadOhm, powerWatt }] });
    expect(limit.voltageRms).toBeCloseTo(volt, 2);
    expect(limit).toMatchObject({ limitedBy: 'rating', limits: [{ by: 'rating', basis: 'rated' }] });
  });
  it('holds a source with an output resistance to both of its rows', () => {
    // 22 V behind 0.3 ohm makes (22 R / (R + 0.3))² / R into R.
    const made = (loadOhm: number): number => ((22 * loadOhm) / (loadOhm + 0.3)) ** 2 / loadOhm;
    const ratings = [2, 4].map((loadOhm) => ({ loadOhm, powerWatt: made(loadOhm) }));
    expect(powerLimit({ loadOhm: 3, ratings }).powerWatt).toBeCloseTo(made(3), 9);
  });
  it('keeps the voltage above the highest rated load, and knows nothing below the lowest', () => {
    expect(powerLimit({ loadOhm: 8, ratings: RATINGS })).toMatchObject({ powerWatt: 50, limits: [{ basis: 'same-voltage' }] });
    const below = powerLimit({ loadOhm: 0.5, ratings: RATINGS, driversWatt: 400 });
    expect(below).toMatchObject({ powerWatt: 400, limitedBy: 'drivers' });
    expect(below.notes.join(' ')).toContain('Below 1');
  });
  it('names the lowest limit, in a fixed order where they are equal', () => {
    const supply = { voltage: 12, ratedAtVoltage: 14.4, regulated: false };
    expect(powerLimit({ loadOhm: 4, ratings: RATINGS, supply, driversWatt: 90 })).toMatchObject({ limitedBy: 'supply' });
    expect(powerLimit({ loadOhm: 4, ratings: RATINGS, supply: { ...supply, regulated: true } }).limits).toHaveLength(1);
    expect(powerLimit({ loadOhm: 4, ratings: RATINGS, driversWatt: 100 }).limits.map(({ by }) => by)).toEqual(['rating', 'drivers']);
  });
  it('counts the current of its power against the fuses', () => {
    // 1000 / (13.8 × 0.7) = 103.5 A.
    const { fuse, notes } = powerLimit({ loadOhm: 1, ratings: [{ loadOhm: 1, powerWatt: 1000 }], fuseAmpere: 40 });
    expect(fuse).toMatchObject({ verdict: 'short' });
    expect(fuse!.currentAmpere).toBeCloseTo(103.5, 1);
    expect(notes.join(' ')).toMatch(/For 1\skW the amplifier draws 104 A at 13\.8 V and 70 %; its fuses carry 40 A/);
  });
  it('guesses ten watts for an ampere only where nothing is known, and says so', () => {
    expect(powerLimit({ loadOhm: 4, fuseAmpere: 30 })).toMatchObject({
      powerWatt: 300,
      limitedBy: 'fuse-rule',
      limits: [{ basis: 'guess' }],
    });
    expect(powerLimit({ loadOhm: 4, ratings: RATINGS, fuseAmpere: 30 }).limits.map(({ by }) => by)).toEqual(['rating']);
    expect(powerLimit({ loadOhm: 4 })).toEqual({ limits: [], notes: [expect.stringContaining('No power limit known')] });
  });
  it('takes the headroom off the lowest limit', () => {
    expect(powerLimit({ loadOhm: 4, ratings: RATINGS, headroomDb: 3 }).powerWatt).toBeCloseTo(100 * 10 ** -0.3, 9);
  });
  it('refuses two powers for one load at the later row', () => {
    const ratings = [...RATINGS, { loadOhm: 1, powerWatt: 250 }];
    expect(() => powerLimit({ loadOhm: 4, ratings })).toThrow('two powers for one load');
  });
  it('never lies above any of its limits', () => {
    const rows = fc.uniqueArray(fc.record({ loadOhm: fc.integer({ min: 1, max: 16 }), powerWatt: fc.integer({ min: 10, max: 2000 }) }), {
      maxLength: 5,
      selector: ({ loadOhm }) => loadOhm,
    });
    fc.assert(
      fc.property(
        fc.double({ min: 0.5, max: 20, noNaN: true }),
        rows,
        fc.integer({ min: 10, max: 2000 }),
        (loadOhm, ratings, driversWatt) => {
          const { limits, powerWatt } = powerLimit({ loadOhm, ratings, driversWatt });
          for (const limit of limits) expect(powerWatt!).toBeLessThanOrEqual(limit.powerWatt);
        },
      ),
      { seed: 4620 },
    );
  });
});

describe('a clipped sine', () => {
  const { cases } = JSON.parse(readFileSync(new URL('../../test/reference/results/overdrive.json', import.meta.url), 'utf8')) as {
    cases: (Overdrive & { overdriveDb: number })[];
  };
  // Means over a million points of a cycle, and NumPy's FFT: make_reference.py.
  it.each(cases)('$overdriveDb dB over the rails', ({ overdriveDb, ...wanted }) => {
    const got = overdrive({ overdriveDb });
    for (const [name, value] of Object.entries(wanted))
      expect(got[name as keyof Overdrive]).toBeCloseTo(value, name === 'flatFraction' ? 5 : 4);
  });
  it('carries up to twice the power of the largest clean one', () => {
    expect(overdrive({ overdriveDb: 60 }).powerAgainstCleanDb).toBeCloseTo(3.01, 2);
    expect(() => overdrive({ overdriveDb: -1 })).toThrow('overdrive');
  });
});
