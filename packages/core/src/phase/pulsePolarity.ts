import { CoreError } from '../coreError.ts';
import type { Capture } from '../formats/capture.ts';
import type { Samples } from '../numerics/samples.ts';

export interface PulseChannel {
  name: string;
  polarity: 'positive' | 'negative' | 'unclear';
  /** when the first excursion begins, from the first sample; left out where there is no pulse */
  arrivalSecond?: number;
  /** the largest excursion against the largest before the pulse, at most 120 */
  peakAboveNoiseDb?: number;
  /** where unclear */
  reason?: string;
}

/** Under this much above the noise nothing is said. */
export const USUAL_PULSE_LIMIT_DB = 12;
const MAX_RATIO_DB = 120;
/** An excursion stands out where it is larger than what came before by this. */
const STANDS_OUT = 1.5;
/** Below this share of the largest an excursion is the recorder's rounding. */
const MIN_SHARE = 1.5e-3;
/** A first excursion smaller than this share of the next is no ground to judge by. */
const MIN_OF_NEXT = 0.25;
const ABOUT_LARGEST = 0.6;
/** Quiet that a recording needs before its pulse. */
const MIN_QUIET_SECOND = 0.002;
const MIN_QUIET_SAMPLES = 16;

/**
 * Polarity of each channel of a recorded pulse that was played with its rise first.
 *
 * Judged from the first excursion that stands out of what was there before, never from the largest: behind a high-pass the largest
 * one goes the other way.
 *
 * @param limitDb - under this much above the noise nothing is said
 * @throws {CoreError} `INPUT_INVALID` for a limit below 0
 */
export function pulsePolarity(capture: Capture, limitDb: number = USUAL_PULSE_LIMIT_DB): { channels: PulseChannel[] } {
  if (!(limitDb >= 0)) throw new CoreError('INPUT_INVALID', [{ pointer: '/limitDb', message: 'the limit must be 0 dB or more' }]);
  return {
    channels: capture.channels.map(({ name, samples }) => ({ name, ...channelPolarity(samples, capture.sampleRateHz, limitDb) })),
  };
}

/** The same of one channel's samples. */
export function channelPolarity(samples: Samples, rateHz: number, limitDb: number): Omit<PulseChannel, 'name'> {
  const unclear = (reason: string, figures: Pick<PulseChannel, 'peakAboveNoiseDb'> = {}): Omit<PulseChannel, 'name'> => ({
    polarity: 'unclear',
    ...figures,
    reason,
  });
  // Where the recording rests is not known beforehand: first from its middle value, then from what lies before the pulse.
  const roughPeak = firstLarge(samples, middleOf(samples));
  const quiet = samples.subarray(0, Math.floor(roughPeak / 2));
  if (quiet.length < Math.max(MIN_QUIET_SAMPLES, MIN_QUIET_SECOND * rateHz))
    return unclear('The recording begins with its largest excursion: start it earlier, so that the rest before the pulse is on it.');
  let sum = 0;
  for (const value of quiet) sum += value;
  const offset = sum / quiet.length;
  let noise = 0;
  for (const value of quiet) noise = Math.max(noise, Math.abs(value - offset));
  const peak = furthest(samples, offset);
  const top = Math.abs(samples[peak]! - offset);
  if (top === 0) return unclear('Nothing is on this channel: check the input and play the pulse again.');
  const peakAboveNoiseDb = noise === 0 ? MAX_RATIO_DB : Math.min(MAX_RATIO_DB, 20 * Math.log10(top / noise));
  const figures = { peakAboveNoiseDb };
  if (peakAboveNoiseDb < limitDb)
    return unclear('The pulse is not clear of the noise. Move closer, play it louder, or switch off whatever hums.', figures);
  const runs = excursionsOf(samples, offset, Math.max(STANDS_OUT * noise, MIN_SHARE * top));
  const first = runs[0];
  if (first === undefined) return unclear('Only noise found. Play the pulse louder.', figures);
  const begin = beginOf(samples, offset, first, Math.max(noise, 0.02 * Math.abs(first.height)));
  const next = runs[1];
  if (next !== undefined && Math.abs(first.height) < MIN_OF_NEXT * Math.abs(next.height))
    return unclear(
      'The first excursion is less than a quarter of the next: it may be another way, or rubbing. Play the pulse through this driver alone.',
      figures,
    );
  if (hidesOpposite(samples, offset, begin, first))
    return unclear('Something moved the other way just before, in the noise: come closer or play it louder, and record it again.', figures);
  return { polarity: first.height > 0 ? 'positive' : 'negative', arrivalSecond: begin / rateHz, peakAboveNoiseDb };
}

/** The median of some of the samples: the pulse is short, so it is where the recording rests. */
function middleOf(samples: Samples): number {
  const step = Math.max(1, Math.floor(samples.length / 4096));
  const some = Float64Array.from({ length: Math.ceil(samples.length / step) }, (_, i) => samples[i * step]!).sort();
  return some[some.length >> 1]!;
}

/** The first sample of about the largest size: a track holds its pulse many times over, and the rest before the first is wanted. */
function firstLarge(samples: Samples, from: number): number {
  const largest = Math.abs(samples[furthest(samples, from)]! - from);
  return samples.findIndex((value) => Math.abs(value - from) >= ABOUT_LARGEST * largest);
}

function furthest(samples: Samples, from: number): number {
  let peak = 0;
  for (let n = 0; n < samples.length; n += 1) if (Math.abs(samples[n]! - from) > Math.abs(samples[peak]! - from)) peak = n;
  return peak;
}

/** A run of one sign that stands above a floor. */
interface Excursion {
  height: number;
  first: number;
  top: number;
}

function excursionsOf(samples: Samples, offset: number, floor: number): Excursion[] {
  const runs: Excursion[] = [];
  for (let n = 0; n < samples.length && runs.length < 3; n += 1) {
    const height = samples[n]! - offset;
    if (Math.abs(height) <= floor) continue;
    const run = runs.at(-1);
    if (run === undefined || Math.sign(run.height) !== Math.sign(height)) runs.push({ height, first: n, top: n });
    else if (Math.abs(height) > Math.abs(run.height)) Object.assign(run, { height, top: n });
  }
  return runs;
}

/** Back from where an excursion leaves the floor to where it rose out of the rest. */
function beginOf(samples: Samples, offset: number, { height, first }: Excursion, rest: number): number {
  let n = first;
  while (n > 0 && (samples[n - 1]! - offset) * Math.sign(height) > rest) n -= 1;
  return n;
}

/**
 * Whether the first excursion seen has another before it that the noise hides: summed over the width of the one seen, noise cancels and a
 * slow move does not.
 */
function hidesOpposite(samples: Samples, offset: number, begin: number, { height, top }: Excursion): boolean {
  const width = Math.max(2, top - begin);
  const before = begin - 3 * width;
  if (before < 4 * width) return false;
  const sums = (from: number, to: number, sign: number): number => {
    let [sum, most] = [0, 0];
    for (let n = from; n < to; n += 1) {
      sum += samples[n]! - offset;
      if (n - from >= width) sum -= samples[n - width]! - offset;
      if (n - from >= width - 1) most = Math.max(most, sign === 0 ? Math.abs(sum) : sign * sum);
    }
    return most;
  };
  return sums(before, begin, -Math.sign(height)) > STANDS_OUT * sums(0, before, 0) && sums(0, before, 0) > 0;
}
