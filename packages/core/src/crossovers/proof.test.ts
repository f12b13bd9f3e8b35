import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seededRandom } from '../numerics/random.ts';
import { crossoverFit } from './crossoverFit.ts';
import { filterAt } from './crossoverResponse.ts';
import { explainVoltages } from './explainVoltages.ts';
import { FILTER_FAMILIES, ordersOf, type Filter } from './filters.ts';
import { otherFiltersLossDb, proofPoints, reads } from './proofPoints.ts';
import { safeCorner, type DriverRange } from './safeCorner.ts';

const anyFilter = fc
  .tuple(
    fc.constantFrom(...FILTER_FAMILIES.flatMap((family) => ordersOf(family).map((order) => ({ family, order })))),
    fc.constantFrom('highpass' as const, 'lowpass' as const),
    fc.double({ min: Math.log(25), max: Math.log(6000), noNaN: true }),
  )
  .map(([{ family, order }, kind, logCorner]): Filter => ({ kind, family, order, cornerHz: Math.exp(logCorner) }));
const EVERYTHING = { highestHz: 24_000 };
/** What a meter with 1 % of noise reads behind filters. */
function voltages(filters: readonly Filter[], hertz: readonly number[], seed: string, noise = 0.01) {
  const random = seededRandom(seed);
  return hertz.map((frequencyHz) => ({
    frequencyHz,
    voltageRms: 8 * 10 ** (filters.reduce((sum, filter) => sum + filterAt(filter, frequencyHz).db, 0) / 20) * (1 + noise * random.normal()),
  }));
}

describe('proposed frequencies', () => {
  it('are seven or so, from the passband down, all of them within reach', () => {
    fc.assert(
      fc.property(anyFilter, (filter) => {
        const { proposedHz } = proofPoints(filter, [], EVERYTHING);
        expect(proposedHz.length).toBeGreaterThanOrEqual(6);
        expect(new Set(proposedHz).size).toBe(proposedHz.length);
        const levels = proposedHz.map((hertz) => filterAt(filter, hertz).db);
        // From the passband down: each is lower than the one before, but for a Butterworth's last digit.
        levels.forEach((db, i) => expect(db).toBeLessThanOrEqual((levels[i - 1] ?? 0) + 1e-9));
        expect(levels[0]).toBeGreaterThan(-1.6);
        expect(Math.min(...levels)).toBeGreaterThan(-45);
        for (const hertz of proposedHz) expect(hertz >= 10 && hertz <= 20_000).toBe(true);
      }),
      { seed: 4620, numRuns: 120 },
    );
  });
  it('stay within the meter’s band, and say what fell out', () => {
    fc.assert(
      fc.property(anyFilter, fc.constantFrom(400, 1000, 20_000), fc.constantFrom(20, 45), (filter, highestHz, lowestHz) => {
        const meter = { lowestHz, highestHz };
        const { proposedHz, leftOut } = proofPoints(filter, [], meter);
        for (const hertz of proposedHz) expect(reads(meter, hertz)).toBe(true);
        for (const { frequencyHz, reason } of leftOut)
          expect(reason === 'meter' && reads(meter, frequencyHz) && frequencyHz >= 10).toBe(false);
      }),
      { seed: 4620, numRuns: 120 },
    );
  });
  it('keep out of what another filter takes', () => {
    const subsonic: Filter = { kind: 'highpass', family: 'butterworth', order: 4, cornerHz: 30 };
    const lowpass: Filter = { kind: 'lowpass', family: 'butterworth', order: 2, cornerHz: 60 };
    const { proposedHz, leftOut } = proofPoints(lowpass, [subsonic], EVERYTHING);
    expect(leftOut.every(({ reason }) => reason === 'other-filter')).toBe(true);
    expect(leftOut.length).toBeGreaterThan(0);
    for (const hertz of proposedHz) expect(otherFiltersLossDb([subsonic], hertz)).toBeLessThanOrEqual(3);
    expect(proposedHz.length).toBeGreaterThanOrEqual(6);
  });
  it('are enough: read with 1 % of noise, they bring back corner and slope, or the fit says that it cannot tell', () => {
    let right = 0;
    const count = 200;
    fc.assert(
      fc.property(anyFilter, fc.integer({ min: 0, max: 1e6 }), (filter, seed) => {
        const { proposedHz } = proofPoints(filter, [], EVERYTHING);
        const fit = crossoverFit({ kind: filter.kind, points: voltages([filter], proposedHz, String(seed)) });
        if (fit.verdict === 'not-a-filter') return;
        const named = fit.verdict === 'ambiguous' ? [fit, ...fit.alternatives] : [fit];
        if (named.some(({ order, cornerHz }) => order === filter.order && Math.abs(cornerHz / filter.cornerHz - 1) < 0.05)) right += 1;
      }),
      { seed: 4620, numRuns: count },
    );
    console.info(`Proposed frequencies: ${right} of ${count} filters found`);
    expect(right / count).toBeGreaterThanOrEqual(0.95);
  });
});

describe('what would explain voltages', () => {
  const set: Filter = { kind: 'lowpass', family: 'butterworth', order: 2, cornerHz: 80 };
  const hertz = proofPoints(set, [], EVERYTHING).proposedHz;
  const SWITCH = { multiplier: 1, multipliers: [1, 10] };
  const causes = (really: readonly Filter[], switches = SWITCH): string[] =>
    explainVoltages(set, voltages(really, hertz, 'explain'), switches).map(({ cause }) => cause);
  it.each<[string, Filter[], string]>([
    ['the switch', [{ ...set, cornerHz: 800 }], 'multiplier'],
    ['the switch, its dial a tenth off as well', [{ ...set, cornerHz: 880 }], 'multiplier'],
    ['a filter that is off', [], 'off'],
    ['the other kind', [{ ...set, kind: 'highpass' }], 'other-kind'],
    ['a steeper slope', [{ ...set, order: 4 }], 'other-slope'],
    ['a gentler slope', [{ ...set, order: 1 }], 'other-slope'],
  ])('is %s', (_, really, cause) => expect(causes(really)).toContain(cause));
  it('is nothing where the setting itself does, a dial a tenth off or not', () => {
    for (const cornerHz of [72, 80, 88]) expect(causes([{ ...set, cornerHz }])).toEqual([]);
  });
  it('is no switch where there is none, and nothing at all without three voltages', () => {
    expect(causes([{ ...set, cornerHz: 800 }], { multiplier: 1, multipliers: [1] })).not.toContain('multiplier');
    expect(explainVoltages(set, voltages([], [50, 80], 'few'), SWITCH)).toEqual([]);
    expect(explainVoltages(set, [{ frequencyHz: 50, voltageRms: 0 }, ...voltages([], [60, 80, 100], 'zero')], SWITCH)).toEqual([]);
  });
  it('finds the switch in either direction, for every dial and kind', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('highpass' as const, 'lowpass' as const),
        fc.constantFrom(2, 3, 4),
        fc.double({ min: 50, max: 1500, noNaN: true }),
        fc.boolean(),
        (kind, order, cornerHz, isTooHigh) => {
          const filter: Filter = { kind, family: 'butterworth', order, cornerHz };
          const points = proofPoints(filter, [], EVERYTHING).proposedHz;
          const really = { ...filter, cornerHz: isTooHigh ? 10 * cornerHz : cornerHz / 10 };
          const switches = isTooHigh ? { multiplier: 1, multipliers: [1, 10] } : { multiplier: 10, multipliers: [1, 10] };
          const found = explainVoltages(filter, voltages([really], points, 'switch', 0.003), switches);
          expect(found.map(({ cause }) => cause)).toContain('multiplier');
        },
      ),
      { seed: 4620, numRuns: 100 },
    );
  });
});

describe('a safe corner', () => {
  const range: DriverRange = { usableFromHz: 100, usableToHz: 5000 };
  const named: DriverRange = {
    ...range,
    recommended: [
      { order: 2, fromHz: 3500, toHz: 9000 },
      { order: 4, fromHz: 2500 },
    ],
  };
  it.each<[string, DriverRange, 'highpass' | 'lowpass', number, number, number, number]>([
    // A driver rated from 100 Hz wants 150 to 200 Hz at full power. Common practice, no source.
    ['at full power, half as much again', range, 'highpass', 4, 1, 150, 200],
    ['at a quarter of it, an eighth', range, 'highpass', 4, 0.25, 112.5, 125],
    ['at no power, the range itself', range, 'highpass', 4, 0, 100, 100],
    ['beyond the rating, no more than at the rating', range, 'highpass', 4, 3, 150, 200],
    ['of a low-pass, the range’s end', range, 'lowpass', 4, 1, 5000, 5000],
    ['as its maker says for that slope', named, 'highpass', 2, 1, 3500, 3500],
    ['as its maker says for the steepest below it', named, 'highpass', 8, 1, 2500, 2500],
    ['as its maker says for a low-pass', named, 'lowpass', 4, 1, 9000, 9000],
    ['by the range, where its maker names only steeper ones', named, 'highpass', 1, 1, 150, 200],
  ])('is %s', (_, driver, kind, order, share, limitHz, easyHz) => {
    const safe = safeCorner(driver, kind, order, share);
    if (safe.kind === 'unknown') throw new Error('unknown');
    expect(safe.limitHz).toBeCloseTo(limitHz, 9);
    expect(safe.easyHz).toBeCloseTo(easyHz, 9);
    expect(safe.why).not.toBe('');
  });
  it.each(['highpass', 'lowpass'] as const)('is unknown for a %s without range or word', (kind) => {
    expect(safeCorner({}, kind, 4, 1)).toEqual({ kind: 'unknown' });
  });
  it('never falls as the power grows', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }), (a, b) => {
        const [less, more] = [Math.min(a, b), Math.max(a, b)].map((share) => safeCorner(range, 'highpass', 2, share));
        if (less!.kind === 'unknown' || more!.kind === 'unknown') throw new Error('unknown');
        expect(more!.limitHz).toBeGreaterThanOrEqual(less!.limitHz);
        expect(more!.easyHz).toBeGreaterThanOrEqual(more!.limitHz);
      }),
      { seed: 4620 },
    );
  });
});
