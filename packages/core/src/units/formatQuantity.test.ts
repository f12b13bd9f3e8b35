import { describe, expect, it } from 'vitest';
import { fixed, formatQuantity, signedDb, significant } from './formatQuantity.ts';
import type { Unit } from './units.ts';

const plain = (text: string): string => text.replaceAll('\u00a0', ' ');

describe('formatQuantity', () => {
  it.each([
    [14.2, 'V', '14.2 V'],
    [0.346, 'V', '346 mV'],
    [1200, 'Hz', '1.20 kHz'],
    [999.7, 'Hz', '1.00 kHz'],
    [0.25, 'ohm', '0.250 Ω'],
    [4, 'ohm', '4 Ω'],
    [1.3333, 'ohm', '1.33 Ω'],
    [-3, 'dB', '−3.0 dB'],
    [0.000139, 's', '139 µs'],
    [0.5, 'W', '0.500 W'],
    [1500, 'W', '1.50 kW'],
    [0, 'V', '0 V'],
    [34, 'step', '34'],
    [0.0527, '%', '0.0527 %'],
  ] as [number, Unit, string][])('prints %d %s as “%s”', (value, unit, text) => {
    expect(plain(formatQuantity(value, unit))).toBe(text);
  });
});

describe('signs', () => {
  it('uses a real minus sign and never a negative zero', () => {
    expect(fixed(-1.25, 1)).toBe('−1.3');
    expect(fixed(-0.01, 1)).toBe('0.0');
    expect(significant(-12)).toBe('−12');
  });

  it('gives a change its sign', () => {
    expect(plain(signedDb(1.24))).toBe('+1.2 dB');
    expect(plain(signedDb(-0.4))).toBe('−0.4 dB');
    expect(plain(signedDb(0.01))).toBe('0.0 dB');
  });
});
