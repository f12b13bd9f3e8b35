import { hannSpectrum, powerOfTwoAtLeast } from '../numerics/spectrum.ts';
import type { Samples } from '../numerics/samples.ts';

export interface SpectrumPoint {
  frequencyHz: number;
  /** against the strongest line */
  db: number;
}

const LONGEST = 1 << 17;
const FLOOR_DB = -140;

/**
 * Spectrum for a picture: logarithmic in frequency, the highest line of each step.
 *
 * @param points - at most this many; fewer where the low end has fewer lines
 */
export function spectrumPoints(samples: Samples, sampleRateHz: number, points: number): SpectrumPoint[] {
  const size = Math.min(LONGEST, powerOfTwoAtLeast(samples.length));
  const magnitudes = hannSpectrum(samples.subarray(0, size), size);
  const highest = magnitudes.reduce((a, b) => Math.max(a, b), 0);
  if (highest === 0) return [];
  const last = magnitudes.length - 1;
  const growth = last ** (1 / points);
  const out: SpectrumPoint[] = [];
  for (let from = 1; from <= last;) {
    const to = Math.min(last + 1, Math.max(from + 1, Math.ceil(from * growth)));
    let peak = from;
    for (let k = from; k < to; k += 1) if (magnitudes[k]! > magnitudes[peak]!) peak = k;
    out.push({
      frequencyHz: (peak * sampleRateHz) / size,
      db: Math.max(FLOOR_DB, 20 * Math.log10(Math.max(magnitudes[peak]!, 1e-300) / highest)),
    });
    from = to;
  }
  return out;
}
