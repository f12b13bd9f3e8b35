import type { Samples } from './samples.ts';
import { transformOf } from './transforms.ts';

/**
 * Magnitudes of the Hann-windowed Fourier transform.
 *
 * @param samples - a stretch of any length up to `size`; its mean is removed first
 * @param size - transform length, a power of two, at least the stretch's length
 * @returns size / 2 peak amplitudes in the samples' unit, for the frequencies k × sample rate / size; a sine on a bin shows its peak
 */
export function hannSpectrum(samples: Samples, size: number): Float64Array {
  const count = samples.length;
  const fft = transformOf(size);
  const input = new Array<number>(size).fill(0);
  let mean = 0;
  for (let n = 0; n < count; n += 1) mean += samples[n] as number;
  mean /= count;
  for (let n = 0; n < count; n += 1) {
    input[n] = ((samples[n] as number) - mean) * (0.5 - 0.5 * Math.cos((2 * Math.PI * n) / count));
  }
  const output = fft.createComplexArray();
  fft.realTransform(output, input);
  // A Hann window halves a sine's height; a real sine has half of it at each of the two mirrored frequencies.
  const scale = 4 / count;
  const magnitudes = new Float64Array(size / 2);
  for (let k = 0; k < size / 2; k += 1) magnitudes[k] = scale * Math.hypot(output[2 * k] as number, output[2 * k + 1] as number);
  return magnitudes;
}

/** Smallest power of two that is at least n. */
export function powerOfTwoAtLeast(n: number): number {
  return 2 ** Math.ceil(Math.log2(Math.max(2, n)));
}
