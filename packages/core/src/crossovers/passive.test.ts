// Passive parts held against ngspice 39 (AC analysis; decks and results in ../../test/reference, made by make_reference.py).
// Tolerance: 6e-6 of the size, the rounding of the simulator's printed figures.
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { magnitude } from '../numerics/complex.ts';
import { filterAt } from './crossoverResponse.ts';
import {
  passiveAt,
  passiveCornerHz,
  passiveImpedanceAt,
  passiveOrder,
  twoWayParts,
  type DriverImpedance,
  type PassiveAlignment,
  type PassiveParts,
} from './passive.ts';

interface Case {
  name: string;
  parts: PassiveParts;
  driver: DriverImpedance;
  answers: { hertz: number; gre: number; gim: number; zre: number; zim: number }[];
}
const file = new URL('../../test/reference/results/passive.json', import.meta.url);
const { cases } = JSON.parse(readFileSync(file, 'utf8')) as { cases: Case[] };
const db = (value: { re: number; im: number }): number => 20 * Math.log10(magnitude(value));

describe('passive parts against the circuit simulator', () => {
  it.each(cases)('$name', ({ parts, driver, answers }) => {
    for (const { hertz, gre, gim, zre, zim } of answers) {
      const at = passiveAt(parts, driver, hertz);
      expect(Math.hypot(at.re - gre, at.im - gim)).toBeLessThan(6e-6 * Math.hypot(gre, gim) + 1e-9);
      const seen = passiveImpedanceAt(parts, driver, hertz);
      expect(Math.hypot(seen.re - zre, seen.im - zim)).toBeLessThan(1e-5 * Math.hypot(zre, zim));
    }
  });
});

describe('a two-way network', () => {
  // Handbook tables of two-way networks (memory): first order C = 159155 / (R f) µF and L = 159.155 R / f mH;
  // second-order Butterworth C = 112540 / (R f), L = 225.08 R / f; Linkwitz-Riley C = 79577 / (R f), L = 318.31 R / f.
  it.each<[1 | 2, PassiveAlignment, number, number, number, number]>([
    [1, 'butterworth', 3000, 4, 13.26e-6, 0.2122e-3],
    [1, 'butterworth', 2500, 8, 7.958e-6, 0.5093e-3],
    [2, 'butterworth', 3000, 4, 9.378e-6, 0.3001e-3],
    [2, 'butterworth', 2000, 8, 7.034e-6, 0.9003e-3],
    [2, 'linkwitz-riley', 3000, 4, 6.631e-6, 0.4244e-3],
    [2, 'linkwitz-riley', 2500, 8, 3.979e-6, 1.0186e-3],
  ])('of order %d, %s, at %d Hz into %d ohm', (order, alignment, cornerHz, ohm, farad, henry) => {
    const { lowpass, highpass, isReversed } = twoWayParts({ order, alignment, cornerHz, lowerOhm: ohm, upperOhm: ohm });
    expect(highpass.capacitanceFarad! / farad).toBeCloseTo(1, 3);
    expect(lowpass.inductanceHenry! / henry).toBeCloseTo(1, 3);
    expect(isReversed).toBe(order === 2);
    if (order === 1) return;
    expect(highpass.inductanceHenry! / henry).toBeCloseTo(1, 3);
    expect(lowpass.capacitanceFarad! / farad).toBeCloseTo(1, 3);
  });

  it.each(['butterworth', 'linkwitz-riley', 'bessel'] as const)(
    'of second order gives the %s response into its resistance',
    (alignment) => {
      const { lowpass, highpass } = twoWayParts({ order: 2, alignment, cornerHz: 2500, lowerOhm: 6, upperOhm: 4 });
      for (const hertz of [200, 1000, 2500, 4000, 12_000]) {
        const [low, high] = (['lowpass', 'highpass'] as const).map(
          (kind) => filterAt({ kind, family: alignment, order: 2, cornerHz: 2500 }, hertz).db,
        );
        expect(db(passiveAt(lowpass, { resistanceOhm: 6 }, hertz))).toBeCloseTo(low!, 4);
        expect(db(passiveAt(highpass, { resistanceOhm: 4 }, hertz))).toBeCloseTo(high!, 4);
      }
    },
  );

  it('of first order sums flat and looks like its load to the amplifier', () => {
    const { lowpass, highpass } = twoWayParts({ order: 1, cornerHz: 3000, lowerOhm: 4, upperOhm: 4 });
    for (const hertz of [100, 3000, 9000]) {
      const [a, b] = [passiveAt(lowpass, { resistanceOhm: 4 }, hertz), passiveAt(highpass, { resistanceOhm: 4 }, hertz)];
      expect(Math.hypot(a.re + b.re, a.im + b.im)).toBeCloseTo(1, 9);
      const [x, y] = [passiveImpedanceAt(lowpass, { resistanceOhm: 4 }, hertz), passiveImpedanceAt(highpass, { resistanceOhm: 4 }, hertz)];
      // Two branches side by side: 1 / (1/x + 1/y).
      const admittance = {
        re: x.re / magnitude(x) ** 2 + y.re / magnitude(y) ** 2,
        im: -x.im / magnitude(x) ** 2 - y.im / magnitude(y) ** 2,
      };
      expect(1 / magnitude(admittance)).toBeCloseTo(4, 9);
    }
  });

  it.each([
    [{ order: 3 as 2, cornerHz: 100, lowerOhm: 4, upperOhm: 4 }, 'order 1 or 2'],
    [{ order: 1 as const, cornerHz: 0, lowerOhm: 4, upperOhm: 4 }, 'corner must be above 0 Hz'],
    [{ order: 1 as const, cornerHz: 100, lowerOhm: -4, upperOhm: 4 }, 'lower driver must be above 0 ohm'],
  ])('refuses %j', (input, message) => expect(() => twoWayParts(input)).toThrow(message));
});

describe('the corner that parts really give', () => {
  it('is the one that they were computed for, with a plain resistance', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 60, max: 8000, noNaN: true }),
        fc.double({ min: 2, max: 16, noNaN: true }),
        fc.constantFrom(1 as const, 2 as const),
        (cornerHz, ohm, order) => {
          const { lowpass, highpass } = twoWayParts({ order, cornerHz, lowerOhm: ohm, upperOhm: ohm });
          for (const parts of [lowpass, highpass]) {
            expect(passiveOrder(parts)).toBe(order);
            expect(passiveCornerHz(parts, { resistanceOhm: ohm })! / cornerHz).toBeCloseTo(1, 3);
          }
        },
      ),
      { seed: 4620, numRuns: 60 },
    );
  });
  it('moves with the real impedance: a coil of 3.2 ohm for 4 takes a capacitor’s corner up', () => {
    const parts: PassiveParts = { kind: 'highpass', capacitanceFarad: 10e-6 };
    expect(passiveCornerHz(parts, { resistanceOhm: 4 })).toBeCloseTo(3979, 0);
    expect(passiveCornerHz(parts, { resistanceOhm: 3.2 })).toBeCloseTo(4974, 0);
    // The coil's inductance holds the treble up: the corner comes down again.
    expect(passiveCornerHz(parts, { resistanceOhm: 3.2, inductanceHenry: 60e-6 })!).toBeLessThan(4500);
  });
  it('is none where the part in series is missing, and a bridged capacitor filters nothing', () => {
    const bare: PassiveParts = { kind: 'highpass', inductanceHenry: 1e-3 };
    expect(passiveOrder(bare)).toBe(0);
    expect(passiveCornerHz(bare, { resistanceOhm: 4 })).toBeUndefined();
    expect(passiveAt(bare, { resistanceOhm: 4 }, 50)).toEqual({ re: 1, im: 0 });
  });
});
