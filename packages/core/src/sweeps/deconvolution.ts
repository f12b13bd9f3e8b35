import type FFT from 'fft.js';
import type { SweepSpec } from '../tones/sweepSpec.ts';
import type { Samples } from '../numerics/samples.ts';

/** So much of the strongest line's power is added below the division, so that nothing beyond the sweep's ends blows up. */
const FLOOR = 1e-7;

/** The spectrum of samples, padded to the transform's size; its first half only. */
export function spectrumOf(fft: FFT, samples: Samples): number[] {
  const padded = new Array<number>(fft.size).fill(0);
  for (let n = 0; n < samples.length; n += 1) padded[n] = samples[n]!;
  const spectrum = fft.createComplexArray();
  fft.realTransform(spectrum, padded);
  return spectrum;
}

/**
 * The first half of the quotient of two spectra, as `realTransform` leaves them; what lies well outside of the sweep's band is nothing:
 * rumble below it would be blown up.
 */
export function divided(
  fft: FFT,
  heard: readonly number[],
  reference: readonly number[],
  { fromLine, toLine }: { fromLine: number; toLine: number },
): number[] {
  const quotient = fft.createComplexArray();
  const half = fft.size / 2;
  let strongest = 0;
  for (let k = 0; k <= half; k += 1) strongest = Math.max(strongest, reference[2 * k]! ** 2 + reference[2 * k + 1]! ** 2);
  const [from, to] = [Math.floor(fromLine / 2), Math.min(half, Math.ceil(toLine * 1.2))];
  for (let k = 0; k <= half; k += 1) {
    const [a, b, c, d] = [heard[2 * k]!, heard[2 * k + 1]!, reference[2 * k]!, reference[2 * k + 1]!];
    const below = c * c + d * d + FLOOR * strongest;
    const isIn = k >= from && k <= to;
    quotient[2 * k] = isIn ? (a * c + b * d) / below : 0;
    quotient[2 * k + 1] = isIn ? (b * c - a * d) / below : 0;
  }
  return quotient;
}

/** An impulse from the first half of its spectrum, which is filled up in place. */
export function impulseFrom(fft: FFT, spectrum: number[]): Float64Array {
  fft.completeSpectrum(spectrum);
  const output = fft.createComplexArray();
  fft.inverseTransform(output, spectrum);
  // Far faster than `Float64Array.from`, which matters over a million samples.
  const impulse = new Float64Array(fft.size);
  for (let n = 0; n < fft.size; n += 1) impulse[n] = output[2 * n]!;
  return impulse;
}

/** Samples on either side of the arrival. */
export interface ImpulseWindow {
  before: number;
  after: number;
}

/** Short enough to keep the second harmonic's earlier arrival out, long enough for the lowest bass. */
export function windowOf(sampleRateHz: number, { fromHertz, toHertz, seconds }: SweepSpec): ImpulseWindow {
  const octaves = Math.log2(toHertz / fromHertz);
  return { before: Math.round(sampleRateHz * Math.min(0.5, (0.8 * seconds) / octaves)), after: sampleRateHz };
}

/** The stretch around the arrival, faded in and out. */
export function cutOut(impulse: Float64Array, peak: number, { before, after }: ImpulseWindow): Float64Array {
  const stretch = new Float64Array(before + after);
  for (let n = 0; n < stretch.length; n += 1) {
    const share = n < before ? Math.min(1, (2 * n) / before) : Math.min(1, (2 * (before + after - n)) / after);
    const window = 0.5 - 0.5 * Math.cos(Math.PI * share);
    stretch[n] = window * impulse[(peak - before + n + impulse.length) % impulse.length]!;
  }
  return stretch;
}
