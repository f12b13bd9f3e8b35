import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { octavePoints, smoothedLevels, type LevelCurve } from './curve.ts';
import { equaliserResponse, type EqualiserFilter } from './equaliserResponse.ts';
import { responseAverage } from './responseAverage.ts';

const flat = (db: number): LevelCurve => ({ frequenciesHz: [20, 200, 2000], levelDb: [db, db, db] });

describe('curves', () => {
  it('are averaged by power or by decibel, with their weights and their spread', () => {
    const range = { fromHz: 30, toHz: 1000, pointsPerOctave: 3 };
    // Powers 1 and 0.01 average to 0.505, −2.97 dB; decibels to −10.
    const curves = [flat(0), flat(-20)];
    expect(responseAverage({ curves, ...range }).levelDb[0]).toBeCloseTo(10 * Math.log10(0.505), 9);
    expect(responseAverage({ curves, method: 'decibel', ...range }).levelDb[0]).toBeCloseTo(-10, 9);
    const weighted = responseAverage({ curves: [{ ...flat(0), weight: 3 }, flat(-20)], method: 'decibel', ...range });
    expect(weighted.levelDb[0]).toBeCloseTo(-5, 9);
    expect(weighted.spreadDb[0]).toBeCloseTo(20, 9);
    expect(weighted.frequenciesHz).toEqual(octavePoints(30, 1000, 3));
  });
  it('are smoothed by the mean of the power, cut at their ends: as a fine sum says', () => {
    const curve: LevelCurve = { frequenciesHz: [20, 60, 90, 400, 1000], levelDb: [70, 88, 61, 80, 75] };
    const smoothed = smoothedLevels(curve, 3);
    const at = smoothedLevels(curve, 0);
    fc.assert(
      fc.property(fc.double({ min: 20, max: 1000, noNaN: true }), (hertz) => {
        const [low, high] = [Math.max(20, hertz * 2 ** (-1 / 6)), Math.min(1000, hertz * 2 ** (1 / 6))];
        const count = 4000;
        const powers = Array.from({ length: count }, (_, i) => 10 ** (at(low * (high / low) ** ((i + 0.5) / count)) / 10));
        expect(smoothed(hertz)).toBeCloseTo(10 * Math.log10(powers.reduce((sum, power) => sum + power, 0) / count), 3);
      }),
      { seed: 4620, numRuns: 40 },
    );
  });
  it.each([
    ['/curves/0/frequenciesHz/1', { curves: [{ frequenciesHz: [20, 20], levelDb: [0, 0] }], fromHz: 20, toHz: 30 }],
    ['/curves/0/levelDb', { curves: [{ frequenciesHz: [20, 40], levelDb: [0] }], fromHz: 20, toHz: 30 }],
    ['/fromHz', { curves: [flat(0)], fromHz: 10, toHz: 100 }],
    ['/toHz', { curves: [flat(0)], fromHz: 100, toHz: 5000 }],
    ['/toHz', { curves: [flat(0)], fromHz: 100, toHz: 100 }],
  ])('are refused at %s', (pointer, input) => {
    expect(() => responseAverage(input)).toThrow(
      expect.objectContaining({ faults: [expect.objectContaining({ pointer }) as unknown] }) as Error,
    );
  });
});

describe('an equaliser', () => {
  const at = (filters: EqualiserFilter[], frequenciesHz: number[], sampleRateHz = 48_000): number[] =>
    equaliserResponse({ filters, frequenciesHz, sampleRateHz }).magnitudeDb;
  it('has its gain at the centre of a peak, all of it at the end of a shelf and half of it at its middle', () => {
    // R. Bristow-Johnson's cookbook: the middle of a shelf is where half of its decibels are.
    expect(at([{ kind: 'peak', frequencyHz: 80, gainDb: -6, q: 1.4 }], [80])[0]).toBeCloseTo(-6, 9);
    const shelf: EqualiserFilter = { kind: 'low-shelf', frequencyHz: 1000, gainDb: 6, q: Math.SQRT1_2 };
    expect(at([shelf], [1])[0]).toBeCloseTo(6, 3);
    expect(at([shelf], [1000])[0]).toBeCloseTo(3, 9);
    expect(at([{ ...shelf, kind: 'high-shelf' }], [1, 23_990])).toEqual([expect.closeTo(0, 3), expect.closeTo(6, 2)]);
  });
  it('is undone by the same filters with their gains turned round', () => {
    const filter = fc.record({
      kind: fc.constantFrom('peak' as const, 'low-shelf' as const, 'high-shelf' as const),
      frequencyHz: fc.double({ min: 20, max: 20_000, noNaN: true }),
      gainDb: fc.double({ min: -18, max: 18, noNaN: true }),
      q: fc.double({ min: 0.3, max: 10, noNaN: true }),
    });
    fc.assert(
      fc.property(fc.array(filter, { maxLength: 5 }), fc.double({ min: 20, max: 20_000, noNaN: true }), (filters, hertz) => {
        const back = filters.map((each) => ({ ...each, gainDb: -each.gainDb }));
        const { magnitudeDb, phaseDeg } = equaliserResponse({ filters: [...filters, ...back], frequenciesHz: [hertz] });
        expect(magnitudeDb[0]).toBeCloseTo(0, 6);
        expect(phaseDeg[0]).toBeCloseTo(0, 5);
      }),
      { seed: 4620 },
    );
  });
  it('knows nothing from half the sample rate on', () => {
    expect(() => at([], [24_000])).toThrow('half the sample rate');
    expect(() => at([{ kind: 'peak', frequencyHz: 30_000, gainDb: 1, q: 1 }], [100])).toThrow('half the sample rate');
    expect(at([], [50])).toEqual([0]);
  });
});
