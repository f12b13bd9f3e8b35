import FFT from 'fft.js';
import { CoreError, type Fault } from '../coreError.ts';
import type { Capture } from '../formats/capture.ts';
import { powerOfTwoAtLeast } from '../numerics/spectrum.ts';
import { transformOf } from '../numerics/transforms.ts';
import { octavePoints } from '../response/curve.ts';
import { cutOut, divided, impulseFrom, spectrumOf, windowOf } from './deconvolution.ts';
import { driftOf, compensateClockDrift } from './drift.ts';
import { isOtherSweep, OTHER_SWEEP } from './otherSweep.ts';
import type { Samples } from '../numerics/samples.ts';

/** A sweep as it was played: `sin(2 pi f1 K (e^(t/K) - 1))` with `K = T / ln(f2 / f1)`, without fades. */
export interface PlayedSweep {
  sweepSecond?: number;
  sweepFromHz?: number;
  sweepToHz?: number;
  /** 0 or below */
  levelDbfs?: number;
  /** whole, 1 … 192 */
  pointsPerOctave?: number;
}

export type SweepChannel =
  | {
      name: string;
      /** when the sweep begins in the recording, from its first sample */
      arrivalSecond: number;
      /** `sweepFromHz * 2^(k / pointsPerOctave)` */
      frequenciesHz: number[];
      /** the recording against the sweep as played; all that the room sends back included */
      levelDb: number[];
      /** the sweep over what is there before and after it, at most 120; left out with less than 50 ms of that */
      signalToNoiseDb?: number;
      /** how much faster the recorder's clock runs than the player's, in parts per million */
      driftPpm: number;
    }
  | { name: string; reason: string };

export interface SweepRecording {
  channels: SweepChannel[];
}

const USUAL = { sweepSecond: 5, sweepFromHz: 20, sweepToHz: 20_000, levelDbfs: 0, pointsPerOctave: 12 };
/** A transform of more would not fit into a worker's memory. */
const MAX_SAMPLES = 2 ** 22;
const MAX_CHANNELS = 32;
/** The likeness to the sweep at its place stands so far above that at other places: 13 to 17 dB are noise, up to 30 another sweep. */
const MIN_CLEAR_DB = 34;
/** Where a recording is most like the sweep lies so near to where the impulse peaks. */
const NEAR_SECOND = 0.03;
/** A recording may miss so much of the sweep's ends, where nothing but its click is. */
const EDGE_SECOND = 0.001;
const REST_AFTER_SECOND = 0.2;
const MIN_REST_SECOND = 0.05;
const MAX_RATIO_DB = 120;

/**
 * Responses from a recording of a sweep, every channel of it; the clocks of player and recorder may differ.
 *
 * The recording's spectrum divided by the sweep's is the response. A clock that runs faster shifts each tone by its own place in the sweep:
 * that shift is found where the impulse stands highest, and taken out.
 *
 * @throws {CoreError} `INPUT_INVALID` for a sweep that cannot be, `CAPTURE_NO_DATA` where no channel holds the whole sweep
 * @see A. Farina, "Simultaneous measurement of impulse response and distortion with a swept-sine technique", AES 108 (2000)
 */
export function recordedSweep(capture: Capture, played: PlayedSweep = {}): SweepRecording {
  const sweep = { ...USUAL, ...played };
  const faults = sweepFaults(sweep, capture.sampleRateHz);
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);
  const samples = capture.channels[0]!.samples.length;
  const count = Math.round(sweep.sweepSecond * capture.sampleRateHz);
  if (capture.channels.length > MAX_CHANNELS)
    throw refused(`The recording has more than ${MAX_CHANNELS} channels: save them in several files.`);
  if (samples < count - 2 * EDGE_SECOND * capture.sampleRateHz)
    throw refused('The recording is shorter than the sweep: start it before the sweep, and let it run to the end.');
  if (samples + count > MAX_SAMPLES) throw refused('The recording has too many samples: save it at 44.1 or 48 kHz, cut to the sweep.');
  const desk = sweepDesk(sweep, capture.sampleRateHz, powerOfTwoAtLeast(samples + count));
  let driftPpm: number | undefined;
  const channels = capture.channels.map(({ name, samples: heard }): SweepChannel => {
    const spectrum = desk.spectrumOf(heard);
    const place = desk.placeOf(spectrum);
    if (place === null) return { name, reason: NO_SWEEP };
    const quotient = desk.divided(spectrum);
    const impulse = desk.impulseOf(quotient, place);
    if (desk.isOther(impulse)) return { name, reason: OTHER_SWEEP };
    // One clock for all channels: the first that holds a sweep tells it.
    driftPpm ??= desk.driftOf(impulse);
    return { name, ...desk.responseOf(heard, quotient, place, driftPpm) };
  });
  if (channels.every((channel) => 'reason' in channel)) throw refused((channels[0] as { reason: string }).reason);
  return { channels };
}

const refused = (message: string): CoreError => new CoreError('CAPTURE_NO_DATA', [{ pointer: '', message }]);

function sweepFaults({ sweepSecond, sweepFromHz, sweepToHz, levelDbfs, pointsPerOctave }: typeof USUAL, rateHz: number): Fault[] {
  const faults: Fault[] = [];
  const say = (pointer: string, message: string): void => void faults.push({ pointer: `/${pointer}`, message });
  if (!(sweepSecond > 0)) say('sweepSecond', 'a sweep takes some time');
  if (!(sweepFromHz > 0)) say('sweepFromHz', 'a sweep begins above 0 Hz');
  if (!(sweepToHz > sweepFromHz)) say('sweepToHz', 'a sweep ends above its beginning');
  if (sweepToHz > rateHz / 2) say('sweepToHz', `this recording, at ${rateHz} Hz, holds tones below ${rateHz / 2} Hz only`);
  if (!(levelDbfs <= 0)) say('levelDbfs', 'no level lies above full scale, 0 dBFS');
  if (!(Number.isInteger(pointsPerOctave) && pointsPerOctave >= 1 && pointsPerOctave <= 192))
    say('pointsPerOctave', 'points to an octave are whole, 1 to 192');
  return faults;
}

interface Impulse {
  impulse: Float64Array;
  /** in samples */
  peak: number;
}

/** What one sweep asks of every channel: its own spectrum is worked out once. */
function sweepDesk(sweep: typeof USUAL, rateHz: number, size: number) {
  const { sweepSecond, sweepFromHz, sweepToHz } = sweep;
  const fft = new FFT(size);
  const reference = spectrumOf(fft, sweepSamples(sweep, rateHz));
  const spec = { fromHertz: sweepFromHz, toHertz: sweepToHz, seconds: sweepSecond };
  const near = Math.round(NEAR_SECOND * rateHz);
  const window = windowOf(rateHz, spec);
  const line = rateHz / size;
  return {
    spectrumOf: (heard: Samples): number[] => spectrumOf(fft, heard),
    /** roughly where the sweep begins, in samples: where the recording is most like it; null where nothing is */
    placeOf: (heard: readonly number[]): number | null => {
      const likeness = impulseFrom(fft, timesConjugate(fft, heard, reference));
      const peak = highest(likeness, 0, size);
      return clearDb(likeness, peak, rateHz) > MIN_CLEAR_DB ? peak : null;
    },
    divided: (heard: readonly number[]): number[] =>
      divided(fft, heard, reference, { fromLine: sweepFromHz / line, toLine: sweepToHz / line }),
    /** with its peak, near to where the recording is most like the sweep */
    impulseOf: (quotient: readonly number[], place: number): Impulse => {
      const impulse = impulseFrom(fft, [...quotient]);
      return { impulse, peak: highest(impulse, place - near, place + near) };
    },
    isOther: ({ impulse, peak }: Impulse): boolean => isOtherSweep(impulse, peak, rateHz, spec),
    /** parts per million */
    driftOf: ({ impulse, peak }: Impulse): number => driftOf(impulse, peak, rateHz, spec),
    responseOf: (heard: Samples, quotient: readonly number[], place: number, driftPpm: number) => {
      const spectrum = fft.createComplexArray();
      compensateClockDrift(quotient, driftPpm, spec, { lines: size / 2, lineHz: line }, spectrum);
      const impulse = impulseFrom(fft, spectrum);
      const peak = highest(impulse, place - near, place + near);
      const offset = vertexOf(spectrum, peak, size);
      const arrivalSecond = ((peak > size / 2 ? peak - size : peak) + offset) / rateHz;
      const { begin, end } = { begin: arrivalSecond, end: arrivalSecond + sweepSecond };
      if (begin < -EDGE_SECOND || end > heard.length / rateHz + EDGE_SECOND) return { reason: CUT_SHORT };
      const signalToNoiseDb = ratioDb(heard, rateHz, begin, end);
      return {
        arrivalSecond,
        ...levelsOf(cutOut(impulse, peak, window), rateHz, sweep),
        ...(signalToNoiseDb === null ? {} : { signalToNoiseDb }),
        driftPpm,
      };
    },
  };
}

const NO_SWEEP = 'No such sweep is found: check which sweep was played, and that the microphone or the input was connected.';
const CUT_SHORT = 'The sweep is cut short: start the recording before it, and let it run to the end.';

function sweepSamples({ sweepSecond, sweepFromHz, sweepToHz, levelDbfs }: typeof USUAL, rateHz: number): Float64Array {
  const pace = sweepSecond / Math.log(sweepToHz / sweepFromHz);
  const full = 10 ** (levelDbfs / 20);
  return Float64Array.from({ length: Math.floor(sweepSecond * rateHz) + 1 }, (_, n) => {
    const second = n / rateHz;
    return second > sweepSecond ? 0 : full * Math.sin(2 * Math.PI * sweepFromHz * pace * Math.expm1(second / pace));
  });
}

/** The product of one spectrum and the other turned back: the spectrum of how alike they are at each shift. */
function timesConjugate(fft: FFT, heard: readonly number[], reference: readonly number[]): number[] {
  const product = fft.createComplexArray();
  for (let k = 0; k <= fft.size / 2; k += 1) {
    const [a, b, c, d] = [heard[2 * k]!, heard[2 * k + 1]!, reference[2 * k]!, reference[2 * k + 1]!];
    product[2 * k] = a * c + b * d;
    product[2 * k + 1] = b * c - a * d;
  }
  return product;
}

/** The sample furthest from nothing between two places, which may lie before the first one. */
function highest(impulse: Float64Array, from: number, to: number): number {
  const size = impulse.length;
  let peak = (from + size) % size;
  for (let n = from; n < to; n += 1) {
    const at = (n + size) % size;
    if (Math.abs(impulse[at]!) > Math.abs(impulse[peak]!)) peak = at;
  }
  return peak;
}

/** The peak against the RMS of all that is not near it, in dB. */
function clearDb(likeness: Float64Array, peak: number, rateHz: number): number {
  const size = likeness.length;
  const [before, after] = [Math.min(0.05 * rateHz, size / 8), Math.min(0.3 * rateHz, size / 8)];
  let [energy, count] = [0, 0];
  for (let n = 0; n < size; n += 1) {
    const from = (n - peak + size) % size;
    if (from < after || from > size - before) continue;
    energy += likeness[n]! ** 2;
    count += 1;
  }
  const top = Math.abs(likeness[peak]!);
  return top === 0 || count === 0 ? 0 : 20 * Math.log10(top / Math.sqrt(energy / count + 1e-300));
}

/** Where the peak lies between its samples, worked out from the spectrum itself: the impulse is band-limited, so it can be had anywhere. */
function vertexOf(spectrum: readonly number[], peak: number, size: number): number {
  const at = (offset: number): number => {
    let sum = 0;
    const step = (2 * Math.PI * (peak + offset)) / size;
    const [stepCos, stepSin] = [Math.cos(step), Math.sin(step)];
    let [cos, sin] = [1, 0];
    for (let k = 1; k < size / 2; k += 1) {
      [cos, sin] = [cos * stepCos - sin * stepSin, sin * stepCos + cos * stepSin];
      sum += spectrum[2 * k]! * cos - spectrum[2 * k + 1]! * sin;
    }
    return sum;
  };
  const sign = at(0) < 0 ? -1 : 1;
  let [centre, width] = [0, 0.5];
  for (let round = 0; round < 5; round += 1) {
    const [before, here, after] = [-width, 0, width].map((by) => sign * at(centre + by)) as [number, number, number];
    const curvature = before - 2 * here + after;
    const move = curvature < 0 ? (width * (before - after)) / (2 * curvature) : 0;
    centre = Math.max(-1, Math.min(1, centre + Math.max(-width, Math.min(width, move))));
    width /= 3;
  }
  return centre;
}

/** Power mean over the fraction of an octave around each point, flat in log frequency, cut at the sweep's ends. */
function levelsOf(
  impulse: Float64Array,
  rateHz: number,
  { sweepFromHz, sweepToHz, pointsPerOctave }: typeof USUAL,
): { frequenciesHz: number[]; levelDb: number[] } {
  const size = powerOfTwoAtLeast(impulse.length);
  const spectrum = spectrumOf(transformOf(size), impulse);
  const line = rateHz / size;
  // Power over log frequency, summed up line by line; between lines it runs straight.
  const power = (k: number): number => spectrum[2 * k]! ** 2 + spectrum[2 * k + 1]! ** 2;
  const upTo = new Float64Array(size / 2 + 1);
  for (let k = 2; k <= size / 2; k += 1) upTo[k] = upTo[k - 1]! + ((power(k) + power(k - 1)) / 2) * Math.log(k / (k - 1));
  const integral = (hertz: number): number => {
    const k = Math.max(1, Math.min(size / 2 - 1, Math.floor(hertz / line)));
    const width = Math.log(hertz / line / k);
    const share = Math.max(0, Math.min(1, hertz / line - k));
    return upTo[k]! + width * (power(k) + (share / 2) * (power(k + 1) - power(k)));
  };
  const frequenciesHz = octavePoints(sweepFromHz, sweepToHz, pointsPerOctave);
  const half = 2 ** (0.5 / pointsPerOctave);
  return {
    frequenciesHz,
    levelDb: frequenciesHz.map((hertz) => {
      const [low, high] = [Math.max(sweepFromHz, hertz / half), Math.min(sweepToHz, hertz * half)];
      return 10 * Math.log10(Math.max(1e-30, (integral(high) - integral(low)) / Math.log(high / low)));
    }),
  };
}

/** RMS while the sweep runs over the RMS of the rest, each without its own offset; null with too little of the rest. */
function ratioDb(heard: Samples, rateHz: number, begin: number, end: number): number | null {
  const first = Math.max(0, Math.ceil(begin * rateHz));
  const last = Math.min(heard.length, Math.floor(end * rateHz));
  const after = Math.min(heard.length, Math.ceil((end + REST_AFTER_SECOND) * rateHz));
  const rest = [heard.subarray(0, first), heard.subarray(after)];
  const restCount = rest.reduce((sum, part) => sum + part.length, 0);
  if (restCount < MIN_REST_SECOND * rateHz) return null;
  const quiet = deviation(rest);
  const loud = deviation([heard.subarray(first, last)]);
  return quiet === 0 ? MAX_RATIO_DB : Math.min(MAX_RATIO_DB, 20 * Math.log10(loud / quiet));
}

function deviation(parts: readonly Samples[]): number {
  let [sum, squares, count] = [0, 0, 0];
  for (const part of parts)
    for (const value of part) {
      sum += value;
      squares += value * value;
      count += 1;
    }
  return Math.sqrt(Math.max(0, squares / count - (sum / count) ** 2));
}
