import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { formatQuantity } from './formatQuantity.ts';
import { parseQuantity } from './parseQuantity.ts';
import type { Unit } from './units.ts';

const cases: [string, Unit, number][] = [
  ['34.6', 'V', 34.6],
  ['34,6', 'V', 34.6],
  ['346m', 'V', 0.346],
  ['346 mV', 'V', 0.346],
  ['1.2k', 'Hz', 1200],
  ['1.2 kHz', 'Hz', 1200],
  ['4 ohm', 'ohm', 4],
  ['4 Ω', 'ohm', 4],
  ['4 \u2126', 'ohm', 4],
  ['-3 dB', 'dB', -3],
  ['−3 dB', 'dB', -3],
  ['-3', 'dBFS', -3],
  ['.5', 'V', 0.5],
  ['1.234,5', 'W', 1234.5],
  ['1,234.5', 'W', 1234.5],
  ['2e3', 'Hz', 2000],
  ['47u', 'F', 47e-6],
  ['47 µF', 'F', 47e-6],
  ['1,5 m', 'm', 1.5],
  ['12 V', 'V', 12],
  ['0', 'V', 0],
];

describe('parseQuantity', () => {
  it.each(cases)('reads “%s” in a field for %s as %d', (text, unit, value) => {
    expect(parseQuantity(text, unit)).toMatchObject({ kind: 'ok', value });
  });

  it.each([
    ['abc', 'V', 'not a number'],
    ['12 ohm', 'V', 'wants volts'],
    ['1.2.3', 'V', 'more than one decimal sign'],
    ['3 kdB', 'dB', 'wants decibels'],
    ['1e999', 'V', 'too large'],
    ['--4', 'V', 'not a number'],
  ] as [string, Unit, string][])('refuses “%s” in a field for %s and says why', (text, unit, words) => {
    const parsed = parseQuantity(text, unit);
    expect(parsed.kind).toBe('fault');
    expect(parsed.kind === 'fault' && parsed.message).toContain(words);
  });

  it('calls nothing and blanks empty, not zero', () => {
    expect(parseQuantity('', 'V')).toEqual({ kind: 'empty' });
    expect(parseQuantity('  \u00a0', 'V')).toEqual({ kind: 'empty' });
  });

  it.each([
    ['14.2', 0.1],
    ['14.20', 0.01],
    ['14', 1],
    ['346m', 0.001],
    ['1.2k', 100],
  ] as [string, number][])('knows the last digit of “%s” to be worth %d', (text, resolution) => {
    const parsed = parseQuantity(text, 'V');
    expect(parsed.kind === 'ok' && parsed.resolution).toBeCloseTo(resolution, 12);
  });

  it('reads back what is printed, to three figures', () => {
    fc.assert(
      fc.property(fc.double({ min: 1e-3, max: 9e5, noNaN: true }), fc.constantFrom<Unit>('V', 'A', 'ohm', 'Hz', 's'), (value, unit) => {
        const parsed = parseQuantity(formatQuantity(value, unit), unit);
        expect(parsed.kind).toBe('ok');
        // Loads take no small prefix and are printed with six decimals at most.
        if (parsed.kind === 'ok') expect(Math.abs(parsed.value / value - 1)).toBeLessThan(0.0051);
      }),
      { seed: 4620 },
    );
  });
});
