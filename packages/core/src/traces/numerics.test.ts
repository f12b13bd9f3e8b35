import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildEnvelope, envelopeColumns } from './envelope.ts';
import { fitHarmonics } from './fitHarmonics.ts';
import { wrapRad } from './fitSine.ts';
import { solveLinear } from '../numerics/solveLinear.ts';
import { hannSpectrum } from '../numerics/spectrum.ts';
import { spectrumPoints } from './spectrumPoints.ts';

const random = fc.double({ min: -10, max: 10, noNaN: true });
const signal = fc.array(random, { minLength: 64, maxLength: 64 }).map((values) => Float64Array.from(values));

describe('hannSpectrum', () => {
  // The slow, obvious second implementation: the definition of the discrete Fourier transform.
  it('agrees with the direct transform of the windowed signal', () => {
    fc.assert(
      fc.property(signal, (samples) => {
        const mean = samples.reduce((a, b) => a + b, 0) / 64;
        const windowed = samples.map((v, n) => (v - mean) * (0.5 - 0.5 * Math.cos((2 * Math.PI * n) / 64)));
        const got = hannSpectrum(samples, 128);
        for (const k of [1, 5, 31, 60]) {
          let re = 0;
          let im = 0;
          windowed.forEach((v, n) => {
            re += v * Math.cos((2 * Math.PI * k * n) / 128);
            im -= v * Math.sin((2 * Math.PI * k * n) / 128);
          });
          expect(got[k]).toBeCloseTo((4 / 64) * Math.hypot(re, im), 10);
        }
      }),
      { seed: 4620, numRuns: 30 },
    );
  });

  it('shows the peak of a sine that lies on a line', () => {
    const samples = Float64Array.from({ length: 1024 }, (_, n) => 3 * Math.sin((2 * Math.PI * 32 * n) / 1024));
    expect(hannSpectrum(samples, 1024)[32]).toBeCloseTo(3, 9);
  });
});

describe('spectrumPoints', () => {
  it('keeps the strongest line at 0 dB and its frequency, within the points asked for', () => {
    const samples = Float64Array.from({ length: 8192 }, (_, n) => Math.sin((2 * Math.PI * 1000 * n) / 48000));
    const points = spectrumPoints(samples, 48000, 300);
    const peak = points.reduce((a, b) => (b.db > a.db ? b : a));
    expect(points.length).toBeLessThanOrEqual(301);
    expect(peak.db).toBe(0);
    expect(Math.abs(peak.frequencyHz - 1000)).toBeLessThan(6);
  });
  it('is empty for silence', () => {
    expect(spectrumPoints(new Float64Array(100), 48000, 300)).toEqual([]);
  });
});

describe('fitHarmonics', () => {
  it('gives back the harmonics of which a record was made, over any part of a cycle and across blocks', () => {
    const made = [1, 0.3, 0, 0.12, 0.05, 0, 0, 0.02, 0, 0.01];
    for (const count of [230, 1024, 1025, 5003]) {
      const omega = (2 * Math.PI) / 137.3;
      const samples = Float64Array.from(
        { length: count },
        (_, n) => 0.4 + made.reduce((sum, a, i) => sum + a * Math.cos((i + 1) * omega * n + 0.3 * i), 0),
      );
      const fit = fitHarmonics(samples, 137.3, 1);
      expect(fit.offset).toBeCloseTo(0.4, 9);
      fit.harmonics.forEach(({ amplitude }, i) => expect(amplitude).toBeCloseTo(made[i]!, 8));
      expect(wrapRad(fit.harmonics[1]!.phaseRad)).toBeCloseTo(0.3, 8);
      expect(fit.residualMeanSquare).toBeLessThan(1e-12);
    }
  });

  it('leaves out harmonics that the sample rate cannot hold', () => {
    const samples = Float64Array.from({ length: 500 }, (_, n) => Math.cos((2 * Math.PI * n) / 5));
    expect(fitHarmonics(samples, 5, 1).harmonics.map(({ order }) => order)).toEqual([1, 2]);
  });
});

describe('solveLinear', () => {
  it('solves what it is given', () => {
    fc.assert(
      fc.property(fc.array(random, { minLength: 9, maxLength: 9 }), fc.array(random, { minLength: 3, maxLength: 3 }), (cells, wanted) => {
        const matrix = [0, 1, 2].map((i) => [0, 1, 2].map((j) => cells[3 * i + j]! + (i === j ? 40 : 0)));
        const right = matrix.map((row) => row.reduce((sum, v, j) => sum + v * wanted[j]!, 0));
        solveLinear(matrix, right)!.forEach((v, i) => expect(v).toBeCloseTo(wanted[i]!, 9));
      }),
      { seed: 4620 },
    );
  });
  it('says null for a singular matrix', () => {
    expect(
      solveLinear(
        [
          [1, 2],
          [2, 4],
        ],
        [1, 2],
      ),
    ).toBeNull();
  });
});

describe('the envelope', () => {
  const samples = Float64Array.from({ length: 20011 }, (_, n) => Math.fround(Math.sin(n * 0.37) * (n % 977)));
  const pyramid = buildEnvelope(samples);

  it('holds the lowest and highest of every column, whatever the view', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 20000, noNaN: true }),
        fc.double({ min: 16, max: 20011, noNaN: true }),
        fc.integer({ min: 1, max: 300 }),
        (from, width, columns) => {
          const to = Math.min(20011, from + width);
          fc.pre(to - from >= 1);
          const got = envelopeColumns(samples, pyramid, from, to, columns);
          const column = Math.floor(columns / 2);
          const start = Math.floor(from + (column * (to - from)) / columns);
          const end = Math.min(20011, Math.max(start + 1, Math.ceil(from + ((column + 1) * (to - from)) / columns)));
          const slice = samples.subarray(start, end);
          expect(got[2 * column]).toBe(Math.fround(slice.reduce((a, b) => Math.min(a, b), Infinity)));
          expect(got[2 * column + 1]).toBe(Math.fround(slice.reduce((a, b) => Math.max(a, b), -Infinity)));
        },
      ),
      { seed: 4620 },
    );
  });

  it('says NaN beyond the record', () => {
    expect(envelopeColumns(samples, pyramid, 20011, 20100, 2)[0]).toBeNaN();
  });
});
