import type { EqualiserFilter } from './equaliserResponse.ts';

/** Frequencies as an equaliser's peaks are worked out at them: the squared sine of half the angle each. */
export type PeakGrid = Float64Array;

export function peakGrid(frequenciesHz: ArrayLike<number>, sampleRateHz: number): PeakGrid {
  return Float64Array.from({ length: frequenciesHz.length }, (_, i) => Math.sin((Math.PI * frequenciesHz[i]!) / sampleRateHz) ** 2);
}

/**
 * Adds the level of one peak, in dB, to a sum at every point of a grid.
 *
 * The magnitude of a second-order section as a polynomial in sin²(w/2), which loses no figures at low frequencies and needs no complex numbers.
 *
 * @param sign - 1 adds the peak, −1 takes it away again
 * @see R. Bristow-Johnson, "Audio EQ Cookbook", W3C Note (2021): peakingEQ
 */
export function addPeak(
  sum: Float64Array,
  grid: PeakGrid,
  { frequencyHz, gainDb, q }: Omit<EqualiserFilter, 'kind'>,
  sampleRateHz: number,
  sign: 1 | -1 = 1,
): void {
  if (gainDb === 0) return;
  const [n0, n1, n2, d0, d1, d2] = squaresOf({ frequencyHz, gainDb, q }, sampleRateHz);
  const scale = (sign * 10) / Math.LN10;
  for (let i = 0; i < grid.length; i += 1) {
    const x = grid[i]!;
    sum[i]! += scale * Math.log((n0 + x * (n1 + x * n2)) / (d0 + x * (d1 + x * d2)));
  }
}

/** Numerator and denominator of a peak's squared magnitude, each a polynomial of the second order in sin²(w/2). */
function squaresOf(
  { frequencyHz, gainDb, q }: Omit<EqualiserFilter, 'kind'>,
  sampleRateHz: number,
): readonly [number, number, number, number, number, number] {
  const a = 10 ** (gainDb / 40);
  const w0 = (2 * Math.PI * frequencyHz) / sampleRateHz;
  const [middle, alpha] = [-2 * Math.cos(w0), Math.sin(w0) / (2 * q)];
  return [...squareOf(1 + alpha * a, middle, 1 - alpha * a), ...squareOf(1 + alpha / a, middle, 1 - alpha / a)];
}

/**
 * How fast the level of one peak follows a change of it, at every point of a grid, times a factor a point.
 *
 * The change shifts six coefficients; what that does to the level is two divisions a point, where the level itself is a logarithm.
 *
 * @param moved - the same peak, moved by a little; `by` is how much
 */
export function peakSlope(
  grid: PeakGrid,
  peak: Omit<EqualiserFilter, 'kind'>,
  moved: Omit<EqualiserFilter, 'kind'>,
  by: number,
  sampleRateHz: number,
  factors: Float64Array,
): Float64Array {
  const [n0, n1, n2, d0, d1, d2] = squaresOf(peak, sampleRateHz);
  const there = squaresOf(moved, sampleRateHz);
  const scale = 10 / Math.LN10 / by;
  const [a0, a1, a2] = [scale * (there[0] - n0), scale * (there[1] - n1), scale * (there[2] - n2)];
  const [b0, b1, b2] = [scale * (there[3] - d0), scale * (there[4] - d1), scale * (there[5] - d2)];
  const slope = new Float64Array(grid.length);
  for (let i = 0; i < grid.length; i += 1) {
    const x = grid[i]!;
    slope[i] = factors[i]! * ((a0 + x * (a1 + x * a2)) / (n0 + x * (n1 + x * n2)) - (b0 + x * (b1 + x * b2)) / (d0 + x * (d1 + x * d2)));
  }
  return slope;
}

const squareOf = (b0: number, b1: number, b2: number): [number, number, number] => [
  (b0 + b1 + b2) ** 2,
  -4 * (b0 * b1 + 4 * b0 * b2 + b1 * b2),
  16 * b0 * b2,
];

/** All peaks together, in dB. */
export function peakSum(filters: readonly Omit<EqualiserFilter, 'kind'>[], grid: PeakGrid, sampleRateHz: number): Float64Array {
  const sum = new Float64Array(grid.length);
  for (const filter of filters) addPeak(sum, grid, filter, sampleRateHz);
  return sum;
}
