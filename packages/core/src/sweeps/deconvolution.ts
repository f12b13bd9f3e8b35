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

/** Divides one spectrum by the other and transforms back; both hold the first half only, as `realTransform` leaves them. */
export function impulseOf(fft: FFT, heard: readonly number[], reference: readonly number[]): Float64Array {
  const half = fft.size / 2;
  let strongest = 0;
  for (let k = 0; k <= half; k += 1) strongest = Math.max(strongest, reference[2 * k]! ** 2 + reference[2 * k + 1]! ** 2);
  const quotient = fft.createComplexArray();
  for (let k = 0; k <= half; k += 1) {
    const [a, b, c, d] = [heard[2 * k]!, heard[2 * k + 1]!, reference[2 * k]!, reference[2 * k + 1]!];
    const below = c * c + d * d + FLOOR * strongest;
    quotient[2 * k] = (a * c + b * d) / below;
    quotient[2 * k + 1] = (b * c - a * d) / below;
  }
  fft.completeSpectrum(quotient);
  const output = fft.createComplexArray();
  fft.inverseTransform(output, quotient);
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
  return Float64Array.from({ length: before + after }, (_, n) => {
    const share = n < before ? Math.min(1, (2 * n) / before) : Math.min(1, (2 * (before + after - n)) / after);
    const window = 0.5 - 0.5 * Math.cos(Math.PI * share);
    return window * impulse[(peak - before + n + impulse.length) % impulse.length]!;
  });
}
