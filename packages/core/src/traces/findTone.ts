import { fitSine, type SineFit } from './fitSine.ts';
import { hannSpectrum, powerOfTwoAtLeast } from '../numerics/spectrum.ts';
import { dirichlet } from '../numerics/dirichlet.ts';
import type { Samples } from '../numerics/samples.ts';

const FEW_CYCLES = 6;
/** Longest stretch that is transformed for the first guess. */
const LONGEST_TRANSFORM = 1 << 14;
/** A fit over six cycles knows the frequency well enough to start one over this many times as many. */
const GROWTH = 64;
/** A longer record, with more cycles, need not be looked at sample by sample to find its tone. */
const LONG_RECORD = 200_000;
const MANY_CYCLES = 60;

/**
 * Finds the strongest tone of a record and fits a sine to it.
 *
 * The search goes from coarse to fine: spectrum of one stretch, fit on that stretch, then on 64 times as much, up to the
 * whole record, so that each fit starts well within its reach.
 *
 * @returns null where no sine settles
 */
export function findTone(samples: Samples, sampleRateHz: number): SineFit | null {
  const stretch = Math.min(samples.length, LONGEST_TRANSFORM);
  let startHz = spectralPeakHz(samples.subarray(0, stretch), sampleRateHz);
  if (stretch < samples.length && startHz * (stretch / sampleRateHz) < FEW_CYCLES) {
    // A slow tone in a fast record: average neighbours until the whole record fits.
    const factor = Math.ceil(samples.length / LONGEST_TRANSFORM);
    const coarse = averaged(samples, factor);
    startHz = spectralPeakHz(coarse, sampleRateHz / factor);
    if (startHz * (samples.length / sampleRateHz) < FEW_CYCLES)
      return settle(samples, sampleRateHz, gridSearchHz(samples, sampleRateHz), samples.length);
    return settle(samples, sampleRateHz, startHz, samples.length);
  }
  if (startHz * (stretch / sampleRateHz) < FEW_CYCLES) startHz = gridSearchHz(samples, sampleRateHz);
  return settle(samples, sampleRateHz, startHz, stretch);
}

function settle(samples: Samples, sampleRateHz: number, startHz: number, firstCount: number): SineFit | null {
  let count = firstCount;
  let fit = fitSine(samples, sampleRateHz, startHz, count);
  while (fit !== null && count < samples.length) {
    count = Math.min(samples.length, count * GROWTH);
    if (count < LONG_RECORD || (count * fit.frequencyHz) / sampleRateHz < MANY_CYCLES) fit = fitSine(samples, sampleRateHz, fit, count);
    // Every eighth of so many samples knows the frequency to a ten-thousandth of a radian over the record; the rest is fitted later.
    else fit = fitSine(samples, sampleRateHz, fit, count, sparseStride(fit, sampleRateHz)) ?? fitSine(samples, sampleRateHz, fit, count);
  }
  return fit;
}

/** A stride near an eighth at which the tone, looked at so seldom, stands clear of its own harmonics, of its mirror and of the offset. */
function sparseStride({ frequencyHz }: SineFit, sampleRateHz: number): number {
  const clearness = (stride: number): number => {
    const omega = (2 * Math.PI * frequencyHz * stride) / sampleRateHz;
    return Math.min(Math.abs(Math.sin(omega)), Math.abs(Math.sin(2 * omega)));
  };
  return [8, 7, 9, 6, 10, 11, 13].reduce((best, stride) => (clearness(stride) > clearness(best) + 0.1 ? stride : best));
}

/** Frequency of the highest spectral line, between the bins by a parabola through the logarithms. */
function spectralPeakHz(samples: Samples, sampleRateHz: number): number {
  const size = powerOfTwoAtLeast(samples.length * (samples.length <= LONGEST_TRANSFORM / 4 ? 4 : 1));
  const magnitudes = hannSpectrum(samples, size);
  let peak = 1;
  for (let k = 1; k < magnitudes.length - 1; k += 1) if (magnitudes[k]! > magnitudes[peak]!) peak = k;
  const [left, middle, right] = [peak - 1, peak, peak + 1].map((k) => Math.log(Math.max(magnitudes[k] ?? 0, 1e-300))) as [
    number,
    number,
    number,
  ];
  const curve = left - 2 * middle + right;
  const shift = curve < 0 ? Math.max(-0.5, Math.min(0.5, (left - right) / (2 * curve))) : 0;
  return ((peak + shift) * sampleRateHz) / size;
}

/** For a handful of cycles, where the spectrum cannot tell them from the offset: the best three-parameter fit from a quarter of a cycle up. */
function gridSearchHz(samples: Samples, sampleRateHz: number): number {
  const coarse = averaged(samples, Math.max(1, Math.floor(samples.length / 1024)));
  const seconds = samples.length / sampleRateHz;
  const coarseRateHz = coarse.length / seconds;
  let best = { hz: 1 / seconds, residual: Infinity };
  for (let cycles = 0.25; cycles <= FEW_CYCLES + 2; cycles += 0.05) {
    const hz = cycles / seconds;
    if (hz >= coarseRateHz / 2) break;
    const residual = threeParameterResidual(coarse, (2 * Math.PI * hz) / coarseRateHz);
    if (residual < best.residual) best = { hz, residual };
  }
  return best.hz;
}

function threeParameterResidual(samples: Samples, omega: number): number {
  const count = samples.length;
  const centre = (count - 1) / 2;
  let sum = 0,
    square = 0,
    cosSum = 0,
    sinSum = 0;
  for (let n = 0; n < count; n += 1) {
    const x = samples[n] as number;
    const angle = omega * (n - centre);
    sum += x;
    square += x * x;
    cosSum += x * Math.cos(angle);
    sinSum += x * Math.sin(angle);
  }
  const c = dirichlet(omega, count);
  const cc = (count + dirichlet(2 * omega, count)) / 2;
  const ss = (count - dirichlet(2 * omega, count)) / 2;
  const determinant = count * cc - c * c;
  if (!(Math.abs(determinant) > 1e-9) || !(ss > 1e-9)) return Infinity;
  const offset = (sum * cc - cosSum * c) / determinant;
  const a = (count * cosSum - c * sum) / determinant;
  return square - offset * sum - a * cosSum - (sinSum * sinSum) / ss;
}

/** Means of neighbouring samples, `factor` at a time; a rest at the end is dropped. */
function averaged(samples: Samples, factor: number): Samples {
  if (factor === 1) return samples;
  const out = new Float64Array(Math.floor(samples.length / factor));
  for (let i = 0, at = 0; i < out.length; i += 1) {
    let sum = 0;
    for (const end = at + factor; at < end; at += 1) sum += samples[at] as number;
    out[i] = sum / factor;
  }
  return out;
}
