import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { groupings } from './arrangements.ts';
import { coilsOf, driverLetter, type DriverSpec } from './drivers.ts';
import { loadOptions } from './loadOptions.ts';
import { coilsIn, parseNetwork } from './network.ts';
import { networkWords } from './networkWords.ts';
import { networkOhm } from './solveNetwork.ts';

const alike = (count: number, coils: 1 | 2 | 4, coilOhm: number, more: Partial<DriverSpec> = {}): DriverSpec[] =>
  Array.from({ length: count }, (_, i) => ({ name: driverLetter(i), coils, coilOhm, ...more }));
const options = (drivers: DriverSpec[], minimumLoadOhm?: number) =>
  loadOptions({ drivers, ...(minimumLoadOhm === undefined ? {} : { minimumLoadOhm }) }).options;

describe('loadOptions', () => {
  it.each<[string, DriverSpec[], [number, string][]]>([
    ['one coil', alike(1, 1, 4), [[4, 'parallel']]],
    [
      'one dual',
      alike(1, 2, 4),
      [
        [2, 'parallel'],
        [8, 'series'],
      ],
    ],
    [
      'one of four coils',
      alike(1, 4, 2),
      [
        [0.5, 'parallel'],
        [2, 'mixed'],
        [8, 'series'],
      ],
    ],
    [
      'two dual',
      alike(2, 2, 4),
      [
        [1, 'parallel'],
        [4, 'series-parallel'],
        [4, 'parallel-series'],
        [16, 'series'],
      ],
    ],
    [
      'four single',
      alike(4, 1, 8),
      [
        [2, 'parallel'],
        [8, 'mixed'],
        [32, 'series'],
      ],
    ],
  ])('gives %s every load with equal shares', (_, drivers, wanted) => {
    const even = options(drivers).filter(({ balanced }) => balanced);
    expect(even.map(({ loadOhm, family }) => [loadOhm, family])).toEqual(wanted);
  });

  it('offers three drivers the unequal loads too, and says so', () => {
    const uneven = options(alike(3, 1, 4)).filter(({ balanced }) => !balanced);
    expect(uneven.map(({ loadOhm }) => Number(loadOhm.toFixed(3)))).toEqual([2.667, 6]);
  });
  it('holds loads against the minimum, thirds included', () => {
    const verdicts = (minimum: number): string[] => options(alike(3, 1, 4), minimum).map(({ verdict }) => verdict);
    expect(verdicts(1.33)[0]).toBe('fits');
    expect(verdicts(2)[0]).toBe('below-minimum');
    expect(verdicts(1.33).at(-1)).toBe('high');
  });
  it('expects a meter figure about the measured coil, or in the usual band of nominal', () => {
    expect(options(alike(1, 2, 4, { coilDcOhm: 3.4 }))[1]!.meterOhm).toEqual({ low: 6.46, high: 7.14 });
    expect(options(alike(1, 2, 4))[1]!.meterOhm.low).toBeCloseTo(5.2, 12);
  });
  it('mixes drivers of two kinds, every coil in use', () => {
    const drivers = [...alike(2, 2, 4), { name: 'C', coils: 1 as const, coilOhm: 8 }];
    const loads = options(drivers).map(({ loadOhm }) => Number(loadOhm.toFixed(3)));
    expect(loads).toContain(Number((1 / (4 / 4 + 1 / 8)).toFixed(3)));
    expect(loads).toContain(24);
  });
  it.each([
    [[], 'one to 8 drivers, not 0'],
    [alike(9, 1, 4), 'one to 8 drivers, not 9'],
    [[...alike(1, 1, 4), ...alike(1, 2, 4)], 'driver A is there twice'],
    [alike(1, 1, -4), 'coil must be above 0'],
  ])('refuses %#', (drivers, message) => {
    expect(() => options(drivers)).toThrow(message);
  });

  it('uses every coil once and presents the load that it says, for any drivers', () => {
    const kinds = fc.record({ coils: fc.constantFrom<1 | 2 | 4>(1, 2, 4), coilOhm: fc.constantFrom(1, 2, 3, 4, 6, 8) });
    fc.assert(
      fc.property(fc.array(kinds, { minLength: 1, maxLength: 8 }), (specs) => {
        const drivers = specs.map((spec, i) => ({ ...spec, name: driverLetter(i) }));
        const coils = coilsOf(drivers);
        const found = options(drivers);
        expect(found.length).toBeGreaterThan(0);
        expect(found.map(({ loadOhm }) => loadOhm)).toEqual([...found.map(({ loadOhm }) => loadOhm)].sort((a, b) => a - b));
        for (const { network, loadOhm, meterOhm } of found) {
          const parsed = parseNetwork(network, new Set(coils.map(({ name }) => name)));
          expect(coilsIn(parsed)).toHaveLength(coils.length);
          expect(networkOhm(parsed, (name) => coils.find((coil) => coil.name === name)!.nominalOhm)).toBeCloseTo(loadOhm, 9);
          expect(meterOhm.low).toBeLessThan(meterOhm.high);
          expect(networkWords(parsed, coils).length).toBeGreaterThan(5);
        }
      }),
      { seed: 4620, numRuns: 60 },
    );
  });
});

describe('groupings', () => {
  it.each([
    // the partition numbers
    [[4], 5],
    [[8], 22],
    // the Bell numbers
    [[1, 1, 1], 5],
    [[1, 1, 1, 1], 15],
  ])('of %j are as many as number theory says', (counts, many) => {
    expect(groupings(counts)).toHaveLength(many);
  });
});

describe('a wiring in words', () => {
  const named = (drivers: DriverSpec[], network: string): string => {
    const coils = coilsOf(drivers);
    return networkWords(parseNetwork(network, new Set(coils.map(({ name }) => name))), coils);
  };
  it.each([
    [alike(1, 1, 4), 'A1', 'one coil'],
    [alike(1, 2, 4), 'A1+A2', 'coils in series'],
    [alike(2, 1, 4), 'A1|B1', 'all in parallel'],
    [alike(2, 2, 4), '(A1+A2)|(B1+B2)', 'coils in series, drivers in parallel'],
    [alike(2, 2, 4), '(A1|A2)+(B1|B2)', 'coils in parallel, drivers in series'],
    [alike(4, 1, 4), '(A1+B1)|(C1+D1)', '2 series groups in parallel'],
    [alike(4, 1, 4), '(A1|B1)+(C1|D1)', '2 parallel groups in series'],
  ])('%#: %s', (drivers, network, words) => {
    expect(named(drivers, network)).toBe(words);
  });
});
