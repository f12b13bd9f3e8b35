import { expect, it } from 'vitest';
import { ALIKE_RATIO, APART_DB } from './upstream.ts';

const SAMPLES = 4000;

/** A sine driven so far over its rails: RMS against the rail's own sine in dB, and distortion in percent, by its Fourier series. */
function clipped(overDb: number): { rmsDb: number; thdPercent: number } {
  const wave = Array.from({ length: SAMPLES }, (_, i) =>
    Math.max(-1, Math.min(1, 10 ** (overDb / 20) * Math.sin((2 * Math.PI * i) / SAMPLES))),
  );
  const square = wave.reduce((sum, value) => sum + value ** 2, 0) / SAMPLES;
  const first = (2 / SAMPLES) * wave.reduce((sum, value, i) => sum + value * Math.sin((2 * Math.PI * i) / SAMPLES), 0);
  return { rmsDb: 10 * Math.log10(2 * square), thdPercent: (100 * Math.sqrt(square - first ** 2 / 2)) / (first / Math.SQRT2) };
}

it('a wave that an amplifier clips is never alike at two levels this far apart', () => {
  const driven = Array.from({ length: 100 }, (_, i) => clipped(0.3 * (i + 1)));
  const ratios = driven.flatMap((low) =>
    driven.filter(({ rmsDb }) => rmsDb - low.rmsDb >= APART_DB).map(({ thdPercent }) => thdPercent / low.thdPercent),
  );
  expect(ratios.length).toBeGreaterThan(100);
  expect(Math.min(...ratios)).toBeGreaterThan(1.8);
  expect(Math.min(...ratios)).toBeGreaterThan(ALIKE_RATIO);
});
