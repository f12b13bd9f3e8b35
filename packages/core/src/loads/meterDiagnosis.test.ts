import { say } from '@yield/words';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { DriverSpec } from './drivers.ts';
import { judgeCoil } from './judgeCoil.ts';
import { meterDiagnosis, whyMeterReadsLess, type MeterDiagnosisInput } from './meterDiagnosis.ts';

const dual = (count: number, coilOhm: number, coilDcOhm?: number): DriverSpec[] =>
  Array.from({ length: count }, (_, i) => ({ name: 'ABCD'[i]!, coils: 2, coilOhm, ...(coilDcOhm === undefined ? {} : { coilDcOhm }) }));
const diagnose = (drivers: DriverSpec[], intendedNetwork: string, meterOhm: number, more: Partial<MeterDiagnosisInput> = {}) =>
  meterDiagnosis({ drivers, intendedNetwork, meterOhm, leadOhm: 0.2, ...more });

describe('meterDiagnosis', () => {
  // Two dual coils of 3.5 ohm DC each; every reading with 0.2 ohm of leads in it.
  const two = dual(2, 4, 3.5);
  it.each([
    ['all as meant', 'A1|A2|B1|B2', 1.1, 'matches', 'as-intended', 0.875],
    ['coils in series instead', 'A1|A2|B1|B2', 3.7, 'differs', 'one-coil-only', 3.5],
    ['one driver left out', 'A1|A2|B1|B2', 1.95, 'differs', 'driver-missing', 1.75],
    ['one coil left out', '(A1+A2)|(B1+B2)', 7.2, 'differs', 'driver-missing', 7],
    ['one coil shorted', 'A1+A2+B1+B2', 10.7, 'differs', 'short', 10.5],
    ['one coil open', 'A1|A2|B1|B2', 1.37, 'differs', 'coil-open', 3.5 / 3],
    ['nothing there', 'A1+A2+B1+B2', 1e6, 'open', 'open', 1e6 - 0.2],
    ['a strand across', 'A1+A2+B1+B2', 0.25, 'short', 'short', 0],
  ] as const)('%s', (_, network, reading, verdict, kind, expectedOhm) => {
    const result = diagnose(two, network, reading);
    expect(result.verdict).toBe(verdict);
    expect(result.causes[0]!.kind).toBe(kind);
    expect(result.causes[0]!.expectedOhm).toBeCloseTo(expectedOhm, 9);
    expect(result.notes.join(' ')).toContain('cannot see polarity');
  });

  it('keeps every mistake in the list that would read the same', () => {
    const kinds = diagnose(two, 'A1|A2|B1|B2', 3.7).causes.map(({ kind }) => kind);
    expect(kinds).toEqual(['one-coil-only', 'other-wiring']);
  });
  it('lists wirings that the meter could not tell from the right one', () => {
    const result = diagnose(two, '(A1+A2)|(B1+B2)', 3.7);
    expect(result.verdict).toBe('matches');
    expect(result.causes.map(({ kind, network }) => `${kind} ${network ?? ''}`)).toContain('other-wiring (A1|A2)+(B1|B2)');
  });
  it('suspects the leads where none were taken off, and a bad contact where they were', () => {
    const one: DriverSpec[] = [{ name: 'A', coils: 1, coilOhm: 4, coilDcOhm: 3.4 }];
    expect(diagnose(one, 'A1', 3.9, { leadOhm: 0 }).causes[0]!.kind).toBe('leads-not-subtracted');
    expect(diagnose(one, 'A1', 4.0).causes[0]!.note).toContain('A bad contact');
  });
  // Figures from four vehicles: what the ohmmeter showed, and what it was.
  const kindsOf = (...args: Parameters<typeof diagnose>): string[] => diagnose(...args).causes.map(({ kind }) => kind);
  const oneDual = (coilOhm: number): DriverSpec[] => [{ name: 'A', coils: 2, coilOhm }];
  it('never lays a reading that is too low to the leads', () => {
    expect(kindsOf(oneDual(2), 'A1|A2', 0.5, { leadOhm: 0 })).not.toContain('leads-not-subtracted');
    expect(diagnose(oneDual(2), 'A1|A2', 0.5, { leadOhm: 0 }).causes[0]!.note).toContain('shorted turns');
  });
  it('takes coils that nobody measured and that are wound a little high as intended', () => {
    const pair: DriverSpec[] = ['A', 'B'].map((name) => ({ name, coils: 2, coilOhm: 4 }));
    const { verdict, causes, notes } = diagnose(pair, '(A1+A2)|(B1+B2)', 4.3, { leadOhm: 0.2 });
    expect([verdict, causes[0]!.kind]).toEqual(['matches', 'as-intended']);
    expect(notes.join(' ')).toContain('a higher winding');
  });
  it('thinks of leads and contacts before one coil only', () => {
    const [first, second] = kindsOf(oneDual(2), 'A1|A2', 1.4, { leadOhm: 0.2 });
    expect([first, second]).toEqual(['leads-not-subtracted', 'one-coil-only']);
  });
  it('knows one coil of each driver, beside a driver that is missing', () => {
    const pair: DriverSpec[] = ['A', 'B'].map((name) => ({ name, coils: 2, coilOhm: 4, coilDcOhm: 3.4 }));
    // Four in parallel are 0.85; either driver alone, or one coil of each, is 1.7.
    const kinds = kindsOf(pair, 'A1|A2|B1|B2', 1.7, { leadOhm: 0 });
    expect(kinds).toContain('driver-missing');
    expect(kinds).toContain('one-coil-only');
  });
  it('widens the band by the meter’s own error', () => {
    const narrow = diagnose(two, 'A1', 3.5, { meterPercent: 0, meterDigitsOhm: 0 }).expectedOhm;
    const wide = diagnose(two, 'A1', 3.5, { meterPercent: 2, meterDigitsOhm: 0.3 }).expectedOhm;
    expect(narrow.low).toBeCloseTo(3.5 * 0.95, 12);
    expect(wide.low).toBeCloseTo(3.5 * 0.95 * 0.98 - 0.3, 12);
    expect(wide.high).toBeCloseTo(3.5 * 1.05 * 1.02 + 0.3, 12);
  });
  it('says where nothing fits, and where the leads read more than the whole', () => {
    expect(diagnose(two, 'A1|A2|B1|B2', 30).notes[0]).toContain('No one mistake gives exactly this figure');
    expect(diagnose(two, 'A1|A2|B1|B2', 0.1).notes.join(' ')).toContain('below that of the leads');
  });
  it('explains why a coil reads less than its name', () => {
    expect(whyMeterReadsLess(4)).toMatch(/2\.60\sΩ to 3\.80\sΩ/);
  });
  it.each([
    [{ meterOhm: -1 }, 'meter reading must be at least 0'],
    [{ intendedNetwork: 'A1|C1' }, 'C1, which is not described'],
    [{ drivers: [] }, 'one to 8 drivers'],
  ])('refuses %j', (change, message) => {
    expect(() => meterDiagnosis({ drivers: two, intendedNetwork: 'A1', meterOhm: 3, ...change })).toThrow(message);
  });

  it('always finds as intended what reads as computed, whatever the leads', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('A1|A2|B1|B2', '(A1+A2)|(B1+B2)', 'A1+A2+B1+B2', 'A1'),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (network, leadOhm) => {
          const exact = { 'A1|A2|B1|B2': 0.875, '(A1+A2)|(B1+B2)': 3.5, 'A1+A2+B1+B2': 14, A1: 3.5 }[network];
          expect(diagnose(two, network, exact + leadOhm, { leadOhm }).verdict).toBe('matches');
        },
      ),
      { seed: 4620 },
    );
  });
});

describe('judgeCoil', () => {
  const accuracy = { meterPercent: 1, meterDigitsOhm: 0.1 };
  it.each([
    [3.6, 4, 'sound', 'is right for a 4'],
    [2.0, 4, 'other', 'It looks like a coil of 2'],
    [6.9, 4, 'other', 'It looks like a coil of 8'],
    [1e6, 4, 'open', 'No path'],
    [0.5, 4, 'shorted', 'close to zero'],
    [25, 4, 'other', 'is not a 4'],
  ] as const)('%f ohm on the meter for a coil of %f ohm is %s', (meterOhm, nominalOhm, verdict, words) => {
    const judged = judgeCoil(meterOhm, { nominalOhm }, 0.2, accuracy);
    expect(judged.verdict).toBe(verdict);
    expect(say(judged.finding).text).toContain(words);
  });
});
