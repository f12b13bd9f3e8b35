// Filters held against SciPy 1.10's analog ones (results/filters.json, made by make_filters.py): 0.01 dB, 0.1 degree, 0.2 % of delay.
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seededRandom } from '../numerics/random.ts';
import { capacitor, cornerOf } from './capacitor.ts';
import { crossoverFit } from './crossoverFit.ts';
import { crossoverResponse, filterAt } from './crossoverResponse.ts';
import { denominator, FILTER_FAMILIES, ordersOf, type Filter } from './filters.ts';

interface ReferenceFilter {
  filter: Filter;
  magnitudeDb: number[];
  phaseDeg: number[];
  groupDelaySecond: number[];
}
const file = new URL('../../test/reference/results/filters.json', import.meta.url);
const { frequenciesHz, cases } = JSON.parse(readFileSync(file, 'utf8')) as { frequenciesHz: number[]; cases: ReferenceFilter[] };
const turned = (a: number, b: number): number => Math.abs(((a - b + 540) % 360) - 180);

describe('filters against SciPy', () => {
  it.each(cases)('$filter.family $filter.order, $filter.kind', ({ filter, magnitudeDb, phaseDeg, groupDelaySecond }) => {
    const own = crossoverResponse({ filters: [filter], frequenciesHz });
    own.magnitudeDb.forEach((db, i) => expect(Math.abs(db - magnitudeDb[i]!)).toBeLessThan(0.01));
    own.phaseDeg.forEach((deg, i) => expect(turned(deg, phaseDeg[i]!)).toBeLessThan(0.1));
    own.groupDelaySecond.forEach((second, i) =>
      expect(Math.abs(second - groupDelaySecond[i]!)).toBeLessThan(0.002 * Math.abs(groupDelaySecond[i]!) + 1e-7),
    );
    own.phaseDeg.forEach((deg) => expect(deg > -180 && deg <= 180).toBe(true));
  });
});

describe('filters', () => {
  const at = (filter: Filter, hertz: number) => filterAt(filter, hertz);
  it.each([2, 4, 6, 8])('a Linkwitz-Riley pair of order %i sums flat', (order) => {
    for (const hertz of [20, 55, 80, 81, 200, 3000]) {
      const pair = (['lowpass', 'highpass'] as const).map((kind) => at({ kind, family: 'linkwitz-riley', order, cornerHz: 80 }, hertz));
      // Orders 2 and 6 want one side turned round.
      const turn = order % 4 === 2 ? [0, 180] : [0, 0];
      const sum = pair.reduce(
        ({ re, im }, { db, deg }, i) => {
          const [size, angle] = [10 ** (db / 20), ((deg + turn[i]!) * Math.PI) / 180];
          return { re: re + size * Math.cos(angle), im: im + size * Math.sin(angle) };
        },
        { re: 0, im: 0 },
      );
      expect(Math.abs(20 * Math.log10(Math.hypot(sum.re, sum.im)))).toBeLessThan(0.01);
    }
  });
  it('in a row add up', () => {
    const filters: Filter[] = [
      { kind: 'highpass', family: 'butterworth', order: 2, cornerHz: 80 },
      { kind: 'highpass', family: 'butterworth', order: 2, cornerHz: 80 },
    ];
    const { magnitudeDb } = crossoverResponse({ filters, frequenciesHz: [80, 20] });
    // Two corners in a row: 6 dB down, 24 dB per octave.
    expect(magnitudeDb[0]).toBeCloseTo(-6.0206, 3);
    expect(magnitudeDb[1]).toBeCloseTo(-48.2, 0);
    expect(crossoverResponse({ filters: [], frequenciesHz: [100] })).toEqual({ magnitudeDb: [0], phaseDeg: [0], groupDelaySecond: [0] });
  });
  it('fall by six decibels an octave and order, far from the corner', () => {
    for (const family of FILTER_FAMILIES)
      for (const order of ordersOf(family)) {
        const filter: Filter = { kind: 'lowpass', family, order, cornerHz: 100 };
        const fall = at(filter, 12_800).db - at(filter, 25_600).db;
        expect(Math.abs(fall - 6.0206 * order)).toBeLessThan(0.05);
      }
  });
  it.each([
    ['butterworth', 9],
    ['butterworth', 0],
    ['linkwitz-riley', 3],
    ['bessel', 1],
    ['bessel', 2.5],
  ] as const)('refuses %s of order %d', (family, order) => {
    expect(() => crossoverResponse({ filters: [{ kind: 'lowpass', family, order, cornerHz: 100 }], frequenciesHz: [100] })).toThrow(
      'has order',
    );
    expect(() => denominator(family, order)).toThrow('has order');
  });
  it('refuses a corner or frequency at or below 0', () => {
    const filter: Filter = { kind: 'lowpass', family: 'bessel', order: 2, cornerHz: 0 };
    expect(() => crossoverResponse({ filters: [filter], frequenciesHz: [-1] })).toThrow(
      'corner must be above 0 Hz; frequency must be above 0 Hz',
    );
  });
});

describe('a fit', () => {
  const families = FILTER_FAMILIES.flatMap((family) => ordersOf(family).map((order) => ({ family, order })));
  /** Voltages around the corner with 1 % noise: from three octaves inside to where the meter ends. */
  function pointsOf(filter: Filter, seed: string) {
    const random = seededRandom(seed);
    const side = filter.kind === 'highpass' ? 1 : -1;
    return [2, 1, 0.5, 0.2, 0, -0.2, -0.5, -0.8, -1.1, -1.4, -1.7].flatMap((octaves) => {
      const frequencyHz = filter.cornerHz * 2 ** (side * octaves);
      const voltageRms = 8 * 10 ** (filterAt(filter, frequencyHz).db / 20) * (1 + 0.01 * random.normal());
      // Nothing is read below some millivolts.
      return voltageRms < 0.004 ? [] : [{ frequencyHz, voltageRms }];
    });
  }
  it('finds what made the points, or says that it cannot tell: 95 of 100 and more', () => {
    let right = 0;
    let ambiguous = 0;
    let count = 0;
    fc.assert(
      fc.property(
        fc.constantFrom(...families),
        fc.constantFrom('highpass' as const, 'lowpass' as const),
        fc.double({ min: Math.log(20), max: Math.log(10_000), noNaN: true }),
        fc.integer({ min: 0, max: 1e6 }),
        ({ family, order }, kind, logCorner, seed) => {
          const filter: Filter = { kind, family, order, cornerHz: Math.exp(logCorner) };
          const fit = crossoverFit({ kind, points: pointsOf(filter, String(seed)) });
          count += 1;
          if (fit.verdict === 'not-a-filter') return;
          if (fit.verdict === 'ambiguous') ambiguous += 1;
          // Where it cannot tell, the true one has to be among those that it names; a good fit has to be the true one.
          const named = fit.verdict === 'ambiguous' ? [fit, ...fit.alternatives] : [fit];
          if (named.some((each) => each.order === order && each.family === family && Math.abs(each.cornerHz / filter.cornerHz - 1) < 0.05))
            right += 1;
        },
      ),
      { seed: 4620, numRuns: 200 },
    );
    console.info(`Fits: ${right} of ${count} right, ${ambiguous} of them said to be ambiguous`);
    expect(right / count).toBeGreaterThanOrEqual(0.95);
    expect(ambiguous / count).toBeLessThan(0.3);
  });
  it('finds a dial that is off', () => {
    const filter: Filter = { kind: 'highpass', family: 'butterworth', order: 2, cornerHz: 94 };
    const fit = crossoverFit({ kind: 'highpass', points: pointsOf(filter, 'dial') });
    expect(fit).toMatchObject({ verdict: 'good', family: 'butterworth', order: 2, slopeDbPerOctave: 12 });
    if (fit.verdict !== 'not-a-filter') expect(Math.abs(fit.cornerHz - 94)).toBeLessThan(2);
  });
  const flat = [40, 60, 80, 120, 200].map((frequencyHz) => ({ frequencyHz, voltageRms: 4 }));
  it.each<[string, typeof flat, string]>([
    ['equal voltages', flat, 'same at every frequency'],
    ['a boost', flat.map((p, i) => ({ ...p, voltageRms: [4, 9, 1, 9, 1][i]! })), 'equaliser or boost'],
  ])('finds no filter in %s', (_, points, reason) => {
    const fit = crossoverFit({ kind: 'highpass', points });
    expect(fit).toMatchObject({ verdict: 'not-a-filter', reason: expect.stringContaining(reason) as string });
    expect('cornerHz' in fit).toBe(false);
  });
  it('says ambiguous where the points end at the corner', () => {
    const filter: Filter = { kind: 'highpass', family: 'bessel', order: 2, cornerHz: 80 };
    const points = [80, 90, 105, 130, 170, 250, 400].map((frequencyHz) => ({
      frequencyHz,
      voltageRms: 6 * 10 ** (filterAt(filter, frequencyHz).db / 20),
    }));
    const fit = crossoverFit({ kind: 'highpass', points });
    expect(fit.verdict).toBe('ambiguous');
    expect(fit.alternatives.length).toBeGreaterThan(0);
  });
  it.each<[string, typeof flat, string]>([
    ['four points', flat.slice(1), 'these are 4'],
    ['one frequency twice', [...flat.slice(1), flat[1]!], 'these are 4'],
    ['a voltage of 0', flat.map((p, i) => (i === 2 ? { ...p, voltageRms: 0 } : p)), 'voltage must be above 0 V'],
  ])('refuses %s', (_, points, message) => {
    expect(() => crossoverFit({ kind: 'lowpass', points })).toThrow(message);
  });
});

describe('a series capacitor', () => {
  it.each([
    // Handbook figures of first-order tweeter capacitors (memory): 4 ohm at 5 kHz takes 8 µF, 8 ohm at 5 kHz 4 µF.
    [4, 5000, 7.96e-6, 8.2e-6, 6.8e-6],
    [8, 5000, 3.98e-6, 3.9e-6, 4.7e-6],
    [4, 3000, 13.26e-6, 12e-6, 15e-6],
  ])('for %d ohm at %d Hz', (driverOhm, cornerHz, farad, nearest, next) => {
    const found = capacitor({ driverOhm, cornerHz });
    expect(found.capacitanceFarad / farad).toBeCloseTo(1, 2);
    expect(found.nearest.map(({ capacitanceFarad }) => capacitanceFarad)).toEqual([nearest, next]);
    for (const each of found.nearest) expect(each.cornerHz).toBeCloseTo(cornerOf(each.capacitanceFarad, driverOhm), 6);
  });
  it('is one value alone where the series has it', () => {
    expect(capacitor({ driverOhm: 1 / (2 * Math.PI * 1000 * 2.2e-6), cornerHz: 1000 }).nearest).toHaveLength(1);
  });
  it.each([
    [{ driverOhm: 0, cornerHz: 1000 }, 'driver impedance must be above 0 ohm'],
    [{ driverOhm: 4, cornerHz: -1 }, 'corner must be above 0 Hz'],
  ])('refuses %j', (input, message) => expect(() => capacitor(input)).toThrow(message));
});
