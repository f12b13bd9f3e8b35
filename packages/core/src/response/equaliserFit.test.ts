import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { octavePoints, type LevelCurve } from './curve.ts';
import { equaliserFit, type EqualiserFit, type EqualiserFitInput } from './equaliserFit.ts';
import { equaliserResponse } from './equaliserResponse.ts';
import { nullsOf } from './nulls.ts';

const POINTS = [...octavePoints(20, 500, 24), 500];
const bump = (hertz: number, centre: number, db: number, octaves: number): number =>
  db * Math.exp(-0.5 * (Math.log2(hertz / centre) / octaves) ** 2);
const curve = (at: (hertz: number) => number): LevelCurve => ({ frequenciesHz: POINTS, levelDb: POINTS.map(at) });
const parametric = (bands: number): EqualiserFitInput['equaliser'] => ({ kind: 'parametric', bands });
const sumAt = ({ filters }: EqualiserFit, frequenciesHz: number[]): number[] => equaliserResponse({ filters, frequenciesHz }).magnitudeDb;
const EVERYWHERE = octavePoints(5, 23_000, 48);

describe('a fit', () => {
  it('takes a single peak off with a single band: what comes back is the peak itself, upside down', () => {
    const peak = { kind: 'peak' as const, frequencyHz: 80, gainDb: 8, q: 2.5 };
    const response = { frequenciesHz: POINTS, levelDb: equaliserResponse({ filters: [peak], frequenciesHz: POINTS }).magnitudeDb };
    const target = { frequenciesHz: [20, 500], levelDb: [0, 0] };
    const fit = equaliserFit({ response, target, fromHz: 20, toHz: 500, equaliser: parametric(3) });
    expect(fit.beforeDb).toBeGreaterThan(2);
    // The target is laid on the response at its mean, so what is left is flat.
    expect(fit.afterDb).toBeLessThan(0.2);
    const around = sumAt(fit, [80, 400]);
    expect(around[0]! - around[1]!).toBeCloseTo(-8, 0);
  });
  it('never passes a limit, leaves its steps or fills a null, whatever the response', () => {
    const response = fc
      .array(
        fc.tuple(
          fc.double({ min: 25, max: 400, noNaN: true }),
          fc.double({ min: -15, max: 12, noNaN: true }),
          fc.double({ min: 0.04, max: 0.8, noNaN: true }),
        ),
        { minLength: 1, maxLength: 4 },
      )
      .map((bumps) => curve((hertz) => 80 + bumps.reduce((sum, [centre, db, octaves]) => sum + bump(hertz, centre, db, octaves), 0)));
    fc.assert(
      fc.property(response, fc.constantFrom(0, 3, 6), fc.constantFrom(0.1, 0.5, 1), (given, maxBoostDb, gainStepDb) => {
        const equaliser = { kind: 'parametric', bands: 3, minQ: 0.6, maxQ: 6, frequencyStepHz: 1, qStep: 0.1 } as const;
        const fit = equaliserFit({ response: given, fromHz: 25, toHz: 400, equaliser, maxBoostDb, maxCutDb: 9, gainStepDb });
        const onStep = (value: number, step: number): void => expect(Math.abs(value / step - Math.round(value / step))).toBeLessThan(1e-6);
        for (const { frequencyHz, gainDb, q } of fit.filters) {
          onStep(frequencyHz, 1);
          onStep(gainDb, gainStepDb);
          onStep(q, 0.1);
          expect(frequencyHz >= 25 && frequencyHz <= 400 && q >= 0.6 && q <= 6).toBe(true);
        }
        const sum = sumAt(fit, EVERYWHERE);
        expect(Math.max(...sum)).toBeLessThan(maxBoostDb + 0.05);
        expect(Math.min(...sum)).toBeGreaterThan(-9.05);
        expect(fit.afterDb).toBeLessThanOrEqual(fit.beforeDb + 1e-9);
        for (const dip of nullsOf(given, 25, 400))
          expect(fit.left).toContainEqual(expect.objectContaining({ reason: 'null', fromHz: dip.fromHz }));
      }),
      { seed: 4620, numRuns: 12 },
    );
  });
  it('leaves a null where it is, and says so', () => {
    const response = curve((hertz) => 80 + bump(hertz, 45, 6, 0.4) + bump(hertz, 118, -18, 0.045));
    const fit = equaliserFit({ response, fromHz: 25, toHz: 300, equaliser: parametric(5), maxBoostDb: 9 });
    // What lies beside it asks for a little.
    expect(sumAt(fit, [118])[0]).toBeLessThan(1.5);
    const dip = fit.left.find(({ reason }) => reason === 'null')!;
    expect(dip.fromHz < 118 && dip.toHz > 118).toBe(true);
    expect(fit.left.map(({ reason }) => reason)).toEqual(['outside', 'null', 'outside']);
  });
  it('says where the limits keep it from the target', () => {
    const response = curve((hertz) => 80 + bump(hertz, 80, -9, 0.55));
    const { left } = equaliserFit({ response, fromHz: 20, toHz: 500, equaliser: parametric(4) });
    expect(left.some(({ fromHz, toHz, reason }) => reason === 'limit' && fromHz < 80 && toHz > 80)).toBe(true);
  });
  it('keeps every centre of a graphic equaliser, those outside of the range at 0 dB', () => {
    const response = curve((hertz) => 80 + bump(hertz, 63, 6, 0.5));
    const centresHz = [31.5, 63, 125, 250, 500, 1000];
    const fit = equaliserFit({ response, fromHz: 40, toHz: 300, equaliser: { kind: 'graphic', centresHz, q: 1.4 }, gainStepDb: 1 });
    expect(fit.filters.map(({ frequencyHz }) => frequencyHz)).toEqual(centresHz);
    expect(fit.filters.filter(({ gainDb }) => gainDb !== 0).map(({ frequencyHz }) => frequencyHz)).toEqual(
      [63, 125, 250].filter((hertz) => fit.filters.find((f) => f.frequencyHz === hertz)!.gainDb !== 0),
    );
    expect(fit.filters[1]!.gainDb).toBeLessThan(-2);
    expect(fit.afterDb).toBeLessThan(fit.beforeDb);
  });
  it('does nothing to what is flat', () => {
    const fit = equaliserFit({ response: curve(() => 77.7), fromHz: 20, toHz: 500, equaliser: parametric(3) });
    expect(fit).toMatchObject({ filters: [], left: [] });
    expect(fit.afterDb).toBeCloseTo(0, 9);
  });
  it.each([
    ['/toHz', { fromHz: 100, toHz: 100 }],
    ['/fromHz', { fromHz: 10 }],
    ['/toHz', { toHz: 900 }],
    ['/equaliser/bands', { equaliser: parametric(0) }],
    ['/equaliser/minQ', { equaliser: { kind: 'parametric', bands: 2, minQ: 9, maxQ: 5 } }],
    ['/equaliser/qStep', { equaliser: { kind: 'parametric', bands: 2, minQ: 0.55, maxQ: 0.6, qStep: 0.5 } }],
    ['/equaliser/centresHz/1', { equaliser: { kind: 'graphic', centresHz: [63, 63], q: 1 } }],
    ['/response/frequenciesHz/108', { sampleRateHz: 900 }],
  ] as const)('names %s', (pointer, change) => {
    const input = { response: curve(() => 0), fromHz: 25, toHz: 400, equaliser: parametric(2), ...change } as EqualiserFitInput;
    try {
      equaliserFit(input);
      expect.unreachable();
    } catch (error) {
      expect((error as { faults: { pointer: string }[] }).faults.map((fault) => fault.pointer)).toContain(pointer);
    }
  });
});

interface Cabins {
  fromHz: number;
  toHz: number;
  bands: number;
  maxBoostDb: number;
  maxCutDb: number;
  frequenciesHz: number[];
  cabins: { levelDb: number[]; nullsHz: number[]; scipyDb: number }[];
}
const cabins = JSON.parse(readFileSync(new URL('../../test/reference/results/cabins.json', import.meta.url), 'utf8')) as Cabins;

describe('forty simulated cabins, five bands each', () => {
  const { frequenciesHz, fromHz, toHz, bands, maxBoostDb, maxCutDb } = cabins;
  const fitted = cabins.cabins.slice(0, 12).map(({ levelDb, nullsHz, scipyDb }) => {
    const response = { frequenciesHz, levelDb };
    const fit = equaliserFit({ response, fromHz, toHz, equaliser: parametric(bands), maxBoostDb, maxCutDb });
    const isCounted = (hertz: number): boolean =>
      hertz >= fromHz && hertz <= toHz && !nullsHz.some((bottom) => Math.abs(Math.log2(hertz / bottom)) <= 1 / 6);
    const mean = fit.correctedDb[0]! - levelDb[0]!;
    return { response, fit, nullsHz, scipyDb, isCounted, mean };
  });
  it('come as near to level as SciPy brings them, nulls apart', () => {
    for (const { fit, scipyDb, isCounted } of fitted) {
      const counted = fit.correctedDb.filter((_, i) => isCounted(frequenciesHz[i]!));
      const mean = counted.reduce((sum, db) => sum + db, 0) / counted.length;
      const rms = Math.sqrt(counted.reduce((sum, db) => sum + (db - mean) ** 2, 0) / counted.length);
      expect(rms).toBeLessThan(1.15 * scipyDb + 0.15);
      if (scipyDb <= 1.2) expect(rms).toBeLessThanOrEqual(1.5);
    }
  });
  it('have the nulls that SciPy was told of, none of them filled', () => {
    for (const { response, fit, nullsHz } of fitted) {
      const own = nullsOf(response, fromHz, toHz).map(({ bottomHz }) => bottomHz);
      nullsHz.forEach((hertz) => expect(own.some((bottom) => Math.abs(Math.log2(bottom / hertz)) < 1 / 6)).toBe(true));
      const sums = sumAt(fit, nullsHz.length === 0 ? [100] : nullsHz);
      sums.forEach((db) => expect(db).toBeLessThan(maxBoostDb));
    }
  });
});

interface Graphics {
  fromHz: number;
  toHz: number;
  maxCutDb: number;
  frequenciesHz: number[];
  cases: { centresHz: number[]; q: number; maxBoostDb: number; gainStepDb: number; levelDb: number[]; scipyDb: number }[];
}
const graphics = JSON.parse(readFileSync(new URL('../../test/reference/results/graphic.json', import.meta.url), 'utf8')) as Graphics;

describe('a graphic equaliser of fixed Q', () => {
  const { fromHz, toHz, maxCutDb, frequenciesHz, cases } = graphics;
  const everywhere = octavePoints(5, 23_900, 96);
  it.each(cases.map((each, i) => [i, each] as const))('case %i stays within its limits, within half a decibel of SciPy', (_, each) => {
    const { centresHz, q, maxBoostDb, gainStepDb, levelDb, scipyDb } = each;
    const response = { frequenciesHz, levelDb };
    const target = { frequenciesHz: [frequenciesHz[0]!, frequenciesHz.at(-1)!], levelDb: [0, 0] };
    const equaliser = { kind: 'graphic', centresHz, q } as const;
    const fit = equaliserFit({ response, target, fromHz, toHz, equaliser, maxBoostDb, maxCutDb, gainStepDb });
    const sum = sumAt(fit, everywhere);
    expect(Math.max(...sum)).toBeLessThanOrEqual(maxBoostDb + 1e-3);
    expect(Math.min(...sum)).toBeGreaterThanOrEqual(-maxCutDb - 1e-3);
    expect(fit.left.some(({ reason }) => reason === 'null')).toBe(false);
    expect(fit.afterDb).toBeLessThan(scipyDb + 0.5);
    expect(fit.afterDb).toBeLessThanOrEqual(fit.beforeDb);
  });
});
