import { RESYNC_SAMPLES } from '../numerics/rotation.ts';
import { solveLinear } from '../numerics/solveLinear.ts';
import { dirichlet } from '../numerics/dirichlet.ts';
import type { Samples } from '../numerics/samples.ts';

export const HIGHEST_HARMONIC = 10;

export interface HarmonicFit {
  offset: number;
  /** per order 1, 2, …: peak amplitude and phase of amplitude × cos(order × 2π f t + phase), t = 0 at the first sample */
  harmonics: { order: number; amplitude: number; phaseRad: number }[];
  /** mean square of what offset and harmonics leave unexplained */
  residualMeanSquare: number;
}

/**
 * Least-squares fit of an offset and the harmonics 1 to 10 of a known fundamental, over any number of cycles.
 *
 * Harmonics at or above 95 % of half the sample rate are left out. With the time axis centred, sines and cosines decouple and
 * the normal matrices follow in closed form from the Dirichlet kernel, so that one pass over the samples is enough.
 *
 * @param frequencyHz - the fundamental, above 0 and below half the sample rate
 */
export function fitHarmonics(samples: Samples, sampleRateHz: number, frequencyHz: number): HarmonicFit {
  const count = samples.length;
  const omega = (2 * Math.PI * frequencyHz) / sampleRateHz;
  const orders = Math.max(1, Math.min(HIGHEST_HARMONIC, Math.floor((0.475 * sampleRateHz) / frequencyHz)));
  const { cosSums, sinSums, squareSum } = correlate(samples, omega);

  const kernel = (multiple: number): number => dirichlet(multiple * omega, count);
  const cosMatrix = Array.from({ length: orders + 1 }, (_, j) =>
    Array.from({ length: orders + 1 }, (_, k) => (kernel(j - k) + kernel(j + k)) / 2),
  );
  const sinMatrix = Array.from({ length: orders }, (_, j) =>
    Array.from({ length: orders }, (_, k) => (kernel(j - k) - kernel(j + k + 2)) / 2),
  );
  const cosRight = Array.from(cosSums.subarray(0, orders + 1));
  const sinRight = Array.from(sinSums.subarray(1, orders + 1));
  const cos = solveLinear(cosMatrix, [...cosRight]) ?? cosRight.map(() => 0);
  const sin = solveLinear(sinMatrix, [...sinRight]) ?? sinRight.map(() => 0);

  const explained =
    cos.reduce((sum, value, i) => sum + value * cosRight[i]!, 0) + sin.reduce((sum, value, i) => sum + value * sinRight[i]!, 0);
  const centre = (count - 1) / 2;
  return {
    offset: cos[0]!,
    harmonics: Array.from({ length: orders }, (_, i) => {
      const order = i + 1;
      const a = cos[order]!;
      const b = sin[i]!;
      return { order, amplitude: Math.hypot(a, b), phaseRad: Math.atan2(-b, a) - order * omega * centre };
    }),
    residualMeanSquare: Math.max(0, (squareSum - explained) / count),
  };
}

/**
 * Sums of x cos(k ω m) and x sin(k ω m) for k = 0 … 10, m counted from the middle.
 *
 * Goertzel's recursion, three operations a sample and order, spelt out for ten orders: it is the hot loop. Restarting it at
 * every block keeps its rounding errors, which grow with the square of the length, near 1e-10.
 * @see G. Goertzel, "An algorithm for the evaluation of finite trigonometric series", Amer. Math. Monthly 65 (1958)
 */
function correlate(samples: Samples, omega: number): { cosSums: Float64Array; sinSums: Float64Array; squareSum: number } {
  const count = samples.length;
  const centre = (count - 1) / 2;
  const cosSums = new Float64Array(HIGHEST_HARMONIC + 1);
  const sinSums = new Float64Array(HIGHEST_HARMONIC + 1);
  const states = new Float64Array(2 * HIGHEST_HARMONIC);
  const factor = (order: number): number => 2 * Math.cos(order * omega);
  const k1 = factor(1),
    k2 = factor(2),
    k3 = factor(3),
    k4 = factor(4),
    k5 = factor(5);
  const k6 = factor(6),
    k7 = factor(7),
    k8 = factor(8),
    k9 = factor(9),
    k10 = factor(10);
  let squareSum = 0;
  for (let block = 0; block < count; block += RESYNC_SAMPLES) {
    const blockEnd = Math.min(count, block + RESYNC_SAMPLES);
    let sum = 0;
    let p1 = 0,
      p2 = 0,
      p3 = 0,
      p4 = 0,
      p5 = 0,
      p6 = 0,
      p7 = 0,
      p8 = 0,
      p9 = 0,
      p10 = 0;
    let q1 = 0,
      q2 = 0,
      q3 = 0,
      q4 = 0,
      q5 = 0,
      q6 = 0,
      q7 = 0,
      q8 = 0,
      q9 = 0,
      q10 = 0;
    for (let n = block; n < blockEnd; n += 1) {
      const x = samples[n] as number;
      squareSum += x * x;
      sum += x;
      let next = x - q1 + k1 * p1;
      q1 = p1;
      p1 = next;
      next = x - q2 + k2 * p2;
      q2 = p2;
      p2 = next;
      next = x - q3 + k3 * p3;
      q3 = p3;
      p3 = next;
      next = x - q4 + k4 * p4;
      q4 = p4;
      p4 = next;
      next = x - q5 + k5 * p5;
      q5 = p5;
      p5 = next;
      next = x - q6 + k6 * p6;
      q6 = p6;
      p6 = next;
      next = x - q7 + k7 * p7;
      q7 = p7;
      p7 = next;
      next = x - q8 + k8 * p8;
      q8 = p8;
      p8 = next;
      next = x - q9 + k9 * p9;
      q9 = p9;
      p9 = next;
      next = x - q10 + k10 * p10;
      q10 = p10;
      p10 = next;
    }
    states.set([p1, q1, p2, q2, p3, q3, p4, q4, p5, q5, p6, q6, p7, q7, p8, q8, p9, q9, p10, q10]);
    cosSums[0]! += sum;
    for (let order = 1; order <= HIGHEST_HARMONIC; order += 1) {
      const theta = order * omega;
      const p = states[2 * order - 2] as number;
      const q = states[2 * order - 1] as number;
      // p − q e^(−iθ) is the block's sum seen from its last sample; turned, it is seen from the middle of the record.
      const real = p - q * Math.cos(theta);
      const imaginary = q * Math.sin(theta);
      const turn = theta * (blockEnd - 1 - centre);
      cosSums[order]! += real * Math.cos(turn) + imaginary * Math.sin(turn);
      sinSums[order]! += real * Math.sin(turn) - imaginary * Math.cos(turn);
    }
  }
  return { cosSums, sinSums, squareSum };
}
