import { powerOfTwoAtLeast } from '../numerics/spectrum.ts';
import { transformOf } from '../numerics/transforms.ts';
import type { SweepSpec } from '../tones/sweepSpec.ts';
import { cutOut, spectrumOf } from './deconvolution.ts';

const BANDS_PER_OCTAVE = 3;
const MIN_BANDS = 6;
/** Below it filters, ports and cabins delay tones by as much as another sweep would. */
const FROM_HZ = 500;
/** Of a sweep that ends low, the upper part of its range. */
const UPPER_SHARE = 2 / 3;
/** What is heard in a band counts where so much of it arrives together: noise arrives at any time. */
const MIN_TOGETHER = 0.2;
/**
 * Looked at around the arrival, in seconds: closely, where most of a recording's noise is left out, and widely, for a sweep of quite another
 * pace.
 */
const EITHER_SIDE_SECOND = [0.5, 2];
/** What filters and ways do to the arrival stays below so many cycles of the lowest tone that is looked at. */
const MIN_CYCLES = 2;
/** Ways that are delayed against each other make a stair; another sweep makes a straight line, this near to it. */
const MAX_OFF_LINE = 0.12;

/**
 * Whether a recording holds another exponential sweep than the one it was divided by.
 *
 * Two such sweeps pass a tone at times that part by `a + b ln f`, so that what was heard arrives on a straight line over log frequency,
 * where the sweep itself arrives at one time. When each band arrives is told by the turn of the phase from line to line.
 *
 * @param impulse - of the recording over the sweep; @param peak - its arrival, in samples; @param rateHz - above 0
 * @see A. Farina, AES 108 (2000), for the sweep; thresholds were chosen on simulated rooms, no source
 */
export const isOtherSweep = (impulse: Float64Array, peak: number, rateHz: number, sweep: SweepSpec): boolean =>
  EITHER_SIDE_SECOND.some((second) => {
    // An impulse goes round: further than half of it from the peak the same would be looked at twice.
    const side = Math.min(Math.round(second * rateHz), Math.floor(impulse.length / 2));
    const stretch = cutOut(impulse, peak, { before: side, after: side });
    const fft = transformOf(powerOfTwoAtLeast(stretch.length));
    return isOnLine(spectrumOf(fft, stretch), rateHz / fft.size, sweep, side / rateHz);
  });

/** @param eitherSide - so much of the impulse is looked at, before and after the arrival, in seconds */
function isOnLine(spectrum: readonly number[], lineHz: number, { fromHertz, toHertz }: SweepSpec, eitherSide: number): boolean {
  const lowHz = Math.max(fromHertz, Math.min(FROM_HZ, toHertz * (fromHertz / toHertz) ** UPPER_SHARE));
  const width = 2 ** (1 / BANDS_PER_OCTAVE);
  const turns: { log: number; re: number; im: number; weight: number; noise: number }[] = [];
  for (let hertz = lowHz; hertz * width <= toHertz * 1.001; hertz *= width) {
    let [re, im, power] = [0, 0, 0];
    const [first, last] = [Math.ceil(hertz / lineHz), Math.floor((hertz * width) / lineHz)];
    for (let k = first; k < last; k += 1) {
      const [a, b, c, d] = [spectrum[2 * k]!, spectrum[2 * k + 1]!, spectrum[2 * k + 2]!, spectrum[2 * k + 3]!];
      re += c * a + d * b;
      im += d * a - c * b;
      power += a * a + b * b;
    }
    const size = Math.hypot(re, im);
    // What arrives together out of many lines is told exactly, and counts for more.
    const together = size / (power || 1);
    if (together <= MIN_TOGETHER) continue;
    turns.push({
      log: Math.log(hertz * Math.sqrt(width)),
      re: re / size,
      im: im / size,
      weight: (last - first) * together ** 2,
      noise: 1 - together,
    });
  }
  if (turns.length < MIN_BANDS) return false;
  // Told against the arrival of the middle band, so that no turn goes past half a circle.
  const middle = turns[Math.floor(turns.length / 2)]!;
  const places = turns.map(({ log, re, im, weight, noise }) => ({
    log,
    weight,
    noise,
    second: -Math.atan2(im * middle.re - re * middle.im, re * middle.re + im * middle.im) / (2 * Math.PI * lineHz),
  }));
  const whole = places.reduce((sum, { weight }) => sum + weight, 0);
  // A few bands that weigh all alone make a line of any noise.
  if (whole ** 2 / places.reduce((sum, { weight }) => sum + weight ** 2, 0) < MIN_BANDS) return false;
  const mean = (of: (place: (typeof places)[number]) => number): number =>
    places.reduce((sum, each) => sum + each.weight * of(each), 0) / whole;
  const [log, second] = [mean((each) => each.log), mean((each) => each.second)];
  const slope = mean((each) => (each.log - log) * (each.second - second)) / mean((each) => (each.log - log) ** 2);
  const offLine = Math.sqrt(mean((each) => (each.second - second - slope * (each.log - log)) ** 2));
  const span = Math.abs(slope) * (places.at(-1)!.log - places[0]!.log);
  // The recording’s own noise lies earlier, the higher the tone: the recording begins and ends, and each tone has its time in it.
  const byNoise = 2 * eitherSide * Math.max(...places.map(({ noise }) => noise));
  return span > Math.max(MIN_CYCLES / lowHz, byNoise) && offLine < MAX_OFF_LINE * span;
}

export const OTHER_SWEEP =
  'The recording contains a sweep of another range or length. Enter the range and length of the sweep that was played, or play this one.';
