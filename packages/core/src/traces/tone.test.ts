// Waves made from their definition; the wrong answers shut out are named at each test.
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { findTone } from './findTone.ts';
import { findFlattening } from './flattening.ts';
import { fitSine, wrapRad, type SineFit } from './fitSine.ts';
import { refineTone } from './refineTone.ts';

const sine = (count: number, rateHz: number, hz: number, amplitude = 1, phaseRad = 0, offset = 0): Float64Array =>
  Float64Array.from({ length: count }, (_, n) => offset + amplitude * Math.cos((2 * Math.PI * hz * n) / rateHz + phaseRad));

const clippedAt = (samples: Float64Array, high: number, low = -high): Float64Array => samples.map((v) => Math.max(low, Math.min(high, v)));

describe('fitSine', () => {
  it('settles on a sine from up to half a cycle over the record away', () => {
    const hz = 100;
    const samples = sine(2000, 10000, hz, 3, 0.8, -0.4); // 20 cycles
    for (const off of [-0.45, -0.2, 0.1, 0.45]) {
      const fit = fitSine(samples, 10000, hz + off / 0.2)!;
      expect(fit.frequencyHz).toBeCloseTo(hz, 7);
      expect(fit.amplitude).toBeCloseTo(3, 8);
      expect(wrapRad(fit.phaseRad)).toBeCloseTo(0.8, 7);
      expect(fit.offset).toBeCloseTo(-0.4, 8);
    }
  });

  it('goes on from a fit to a shorter stretch, to the same result', () => {
    const samples = sine(50_000, 48000, 997.3, 0.5, -2);
    const short = fitSine(samples, 48000, 997, 4000)!;
    const long = fitSine(samples, 48000, short)!;
    expect(long.frequencyHz).toBeCloseTo(997.3, 8);
    expect(long.amplitude).toBeCloseTo(0.5, 9);
    expect(long.phaseRad).toBeCloseTo(-2, 7);
  });

  it('says null, not a made-up sine, where it runs away', () => {
    expect(fitSine(new Float64Array(100), 1000, 50)).toBeNull();
    expect(fitSine(sine(100, 1000, 10), 1000, 499.9)?.frequencyHz ?? 10).toBeLessThan(500);
  });
});

describe('findTone', () => {
  // Shuts out taking the first or the last harmonic for the tone, the offset for a slow one, or an alias of a fast one.
  it.each([
    ['two cycles and a half', 1000, 20000, 50],
    ['a handful of samples a cycle', 5000, 48000, 9000],
    ['a long record of a slow tone', 400_000, 200_000, 20],
    ['a long record of a fast tone', 400_000, 200_000, 20_000],
    ['a record just over one stretch', 16_400, 48000, 40],
  ])('finds the tone in %s', (_, count, rateHz, hz) => {
    expect(findTone(sine(count, rateHz, hz, 2, 1, 5), rateHz)!.frequencyHz / hz).toBeCloseTo(1, 6);
  });

  it('finds the fundamental of a square wave, not a harmonic', () => {
    const square = sine(6000, 48000, 333).map(Math.sign);
    expect(findTone(square, 48000)!.frequencyHz).toBeCloseTo(333, 0);
  });

  it('finds any tone of the audio band in any record of a cycle and a half or more', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 20, max: 20000, noNaN: true }),
        fc.double({ min: 6, max: 2000, noNaN: true }),
        fc.double({ min: 1.5, max: 60, noNaN: true }),
        fc.double({ min: -3, max: 3, noNaN: true }),
        (hz, perCycle, cycles, phase) => {
          fc.pre(perCycle * cycles >= 24);
          const samples = sine(Math.round(perCycle * cycles), hz * perCycle, hz, 1, phase, 0.5);
          expect(findTone(samples, hz * perCycle)!.frequencyHz / hz).toBeCloseTo(1, 5);
        },
      ),
      { seed: 4620, numRuns: 200 },
    );
  });
});

describe('refineTone', () => {
  it('frees the frequency from the pull of clipping over part cycles', () => {
    for (const cycles of [1.4, 2.3, 3.75, 7.1]) {
      const samples = clippedAt(sine(Math.round(400 * cycles), 20000, 50, 10, 0.4), 7);
      const plain = findTone(samples, 20000)!.frequencyHz;
      const refined = refineTone(samples, 20000, plain);
      expect(Math.abs(refined - 50)).toBeLessThanOrEqual(Math.abs(plain - 50) + 1e-9);
      expect(Math.abs(refined / 50 - 1)).toBeLessThan(2e-3);
    }
  });

  it('leaves a pure sine and a long record as they are', () => {
    expect(refineTone(sine(1000, 20000, 50), 20000, 50)).toBeCloseTo(50, 9);
    expect(refineTone(sine(40_000, 20000, 50), 20000, 50.001)).toBe(50.001);
  });
});

describe('findFlattening', () => {
  const fitOf = (amplitude: number): SineFit => ({ frequencyHz: 100, amplitude, phaseRad: 0, offset: 0 });

  it('sees nothing flat in a sine, however fine or coarse the samples', () => {
    for (const rateHz of [1000, 4800, 48_000, 480_000]) {
      const result = findFlattening(sine(rateHz / 10, rateHz, 100.01, 5), rateHz, { ...fitOf(5), frequencyHz: 100.01 }, 0, 0);
      expect(result).toEqual({ positiveFlat: false, negativeFlat: false, positiveFlatFraction: 0, negativeFlatFraction: 0 });
    }
  });

  it('knows the side that is flat', () => {
    const top = findFlattening(clippedAt(sine(4800, 48000, 100, 5), 4, -9), 48000, fitOf(4.8), 0, 0);
    expect(top).toMatchObject({ positiveFlat: true, negativeFlat: false, negativeFlatFraction: 0 });
    const bottom = findFlattening(clippedAt(sine(4800, 48000, 100, 5), 9, -4), 48000, fitOf(4.8), 0, 0);
    expect(bottom).toMatchObject({ positiveFlat: false, negativeFlat: true, positiveFlatFraction: 0 });
  });

  it('takes a tilted top, as behind a coupling capacitor, for flat all the same', () => {
    const clipped = clippedAt(sine(4800, 48000, 100, 10), 6);
    const tilted = clipped.map((v, n) => v + 0.4 * Math.sin((2 * Math.PI * 100 * n) / 48000) * Math.sign(v));
    expect(findFlattening(tilted, 48000, fitOf(7.3), 0, 0).positiveFlat).toBe(true);
  });

  it('does not take the staircase of few bits for a flat top', () => {
    const step = 5 / 12;
    const coarse = sine(4800, 48000, 100.3, 5).map((v) => Math.round(v / step) * step);
    expect(findFlattening(coarse, 48000, { ...fitOf(5), frequencyHz: 100.3 }, step, step / 3.5)).toMatchObject({
      positiveFlat: false,
      negativeFlat: false,
    });
  });

  it('widens with the overdrive', () => {
    const widths = [9, 7, 5, 3].map(
      (rail) => findFlattening(clippedAt(sine(4800, 48000, 100, 10), rail), 48000, fitOf(rail * 1.2), 0, 0).positiveFlatFraction,
    );
    expect([...widths].sort((a, b) => a - b)).toEqual(widths);
  });
});
