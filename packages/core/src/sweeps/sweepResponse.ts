import FFT from 'fft.js';
import { toneSamples } from '../tones/toneSamples.ts';
import { powerOfTwoAtLeast } from '../traces/spectrum.ts';

/** A sweep as it was played: logarithmic, at full scale, with the fade of the tone set. */
export interface SweepSpec {
  fromHertz: number;
  toHertz: number;
  seconds: number;
}

export interface ResponsePoint {
  hertz: number;
  /** level of what was captured against what was played at full scale; 0 is a full-scale capture of a full-scale sweep */
  db: number;
}

export type SweepResponse =
  | {
      kind: 'response';
      points: ResponsePoint[];
      /** from the start of the capture to the arrival of the sweep's start; negative where the capture began late */
      delaySecond: number;
      /** which way the strongest part of the impulse response points */
      polarity: 'same' | 'inverted';
      /** where the sweep stands above what else is in the capture */
      clearDb: number;
    }
  | { kind: 'no-sweep'; reason: string };

/** The two sweeps of the tone set: the long one for a quiet place, the short one for a hurried look. */
export const LONG_SWEEP: SweepSpec = { fromHertz: 20, toHertz: 20_000, seconds: 10 };
export const SHORT_SWEEP: SweepSpec = { fromHertz: 20, toHertz: 20_000, seconds: 5 };

/** Fade of the sweeps in the tone set, at both ends. */
export const SWEEP_FADE_SECOND = 0.05;
/** Points a response is given at, and the width over which each is averaged: a twelfth of an octave. */
const POINTS_PER_OCTAVE = 12;
/** So much of the strongest line's power is added below the division, so that nothing beyond the sweep's ends blows up. */
const FLOOR = 1e-7;
const LEAST_CLEAR_DB = 30;
const MOST_SILENCE_SECOND = 60;
/** A transform of more would not fit into a worker's memory. */
const MOST_SAMPLES = 2 ** 22;

/**
 * Response of whatever lay between a played sweep and a capture of it, by deconvolution.
 *
 * The capture's spectrum divided by the sweep's is the response; its impulse is cut out around the arrival, which leaves the
 * distortion, that arrives before it, and most of the noise behind.
 *
 * @param captured - samples as shares of full scale, at the rate given
 * @param onProgress - share done, 0 … 1
 * @see A. Farina, "Simultaneous measurement of impulse response and distortion with a swept-sine technique", AES 108 (2000)
 */
export function sweepResponse(
  captured: Float64Array,
  sampleRateHz: number,
  sweep: SweepSpec,
  onProgress?: (share: number) => void,
): SweepResponse {
  const { fromHertz, toHertz, seconds } = sweep;
  if (captured.length > (seconds + MOST_SILENCE_SECOND) * sampleRateHz) {
    return { kind: 'no-sweep', reason: `The capture goes on for more than ${MOST_SILENCE_SECOND} s beyond the sweep: cut it shorter.` };
  }
  if (captured.length + seconds * sampleRateHz > MOST_SAMPLES) {
    return { kind: 'no-sweep', reason: 'The recording has too many samples: save it at 44.1 or 48 kHz, cut to the sweep.' };
  }
  if (toHertz > 0.475 * sampleRateHz) {
    return { kind: 'no-sweep', reason: `A sample rate of ${sampleRateHz} Hz is too low for this sweep: record at 44.1 kHz or more.` };
  }
  if (captured.length < 0.9 * seconds * sampleRateHz) {
    return { kind: 'no-sweep', reason: 'The capture is shorter than the sweep: start it before the sweep, and let it run to the end.' };
  }
  const played = toneSamples({
    shape: { kind: 'sweep', fromHertz, toHertz },
    levelDbfs: 0,
    seconds,
    sampleRateHz,
    fadeSecond: SWEEP_FADE_SECOND,
  });
  const size = powerOfTwoAtLeast(played.length + captured.length);
  const fft = new FFT(size);
  const spectrumOf = (samples: Float64Array): number[] => {
    const padded = new Array<number>(size).fill(0);
    for (let n = 0; n < samples.length; n += 1) padded[n] = samples[n]!;
    const spectrum = fft.createComplexArray();
    fft.realTransform(spectrum, padded);
    return spectrum;
  };
  const reference = spectrumOf(played);
  onProgress?.(0.3);
  const heard = spectrumOf(captured);
  onProgress?.(0.6);
  const impulse = impulseOf(fft, heard, reference);
  onProgress?.(0.9);

  let peak = 0;
  let energy = 0;
  for (let n = 0; n < size; n += 1) {
    energy += impulse[n]! ** 2;
    if (Math.abs(impulse[n]!) > Math.abs(impulse[peak]!)) peak = n;
  }
  const clearDb = 20 * Math.log10(Math.abs(impulse[peak]!) / Math.sqrt(energy / size));
  if (!(clearDb > LEAST_CLEAR_DB)) {
    return {
      kind: 'no-sweep',
      reason: 'No such sweep is found in the capture: check which sweep was played, and that the input was connected.',
    };
  }
  const points = responsePoints(cutOut(impulse, peak, sampleRateHz, sweep), sampleRateHz, sweep);
  onProgress?.(1);
  return {
    kind: 'response',
    points,
    delaySecond: (peak > size / 2 ? peak - size : peak) / sampleRateHz,
    polarity: impulse[peak]! < 0 ? 'inverted' : 'same',
    clearDb,
  };
}

/** Divides one spectrum by the other and transforms back; both hold the first half only, as `realTransform` leaves them. */
function impulseOf(fft: FFT, heard: readonly number[], reference: readonly number[]): Float64Array {
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
  return Float64Array.from({ length: fft.size }, (_, n) => output[2 * n]!);
}

/** The stretch around the arrival, faded in and out: short enough to keep the second harmonic's earlier arrival out. */
function cutOut(impulse: Float64Array, peak: number, rateHz: number, { fromHertz, toHertz, seconds }: SweepSpec): Float64Array {
  const octaves = Math.log2(toHertz / fromHertz);
  const before = Math.round(rateHz * Math.min(0.5, (0.8 * seconds) / octaves));
  const after = rateHz;
  return Float64Array.from({ length: before + after }, (_, n) => {
    const share = n < before ? Math.min(1, (2 * n) / before) : Math.min(1, (2 * (before + after - n)) / after);
    const window = 0.5 - 0.5 * Math.cos(Math.PI * share);
    return window * impulse[(peak - before + n + impulse.length) % impulse.length]!;
  });
}

function responsePoints(impulse: Float64Array, rateHz: number, { fromHertz, toHertz }: SweepSpec): ResponsePoint[] {
  const size = powerOfTwoAtLeast(impulse.length);
  const fft = new FFT(size);
  const padded = new Array<number>(size).fill(0);
  for (let n = 0; n < impulse.length; n += 1) padded[n] = impulse[n]!;
  const spectrum = fft.createComplexArray();
  fft.realTransform(spectrum, padded);
  const line = rateHz / size;
  const halfWidth = 2 ** (0.5 / POINTS_PER_OCTAVE);
  return responseFrequencies(fromHertz, Math.min(toHertz, 0.45 * rateHz)).map((hertz) => {
    const first = Math.max(1, Math.round(hertz / halfWidth / line));
    const last = Math.max(first, Math.round((hertz * halfWidth) / line));
    let power = 0;
    for (let k = first; k <= last; k += 1) power += spectrum[2 * k]! ** 2 + spectrum[2 * k + 1]! ** 2;
    return { hertz, db: 10 * Math.log10(Math.max(1e-20, power / (last - first + 1))) };
  });
}

/** Twelfths of an octave around 1 kHz that lie within a range. */
export function responseFrequencies(fromHertz: number, toHertz: number): number[] {
  const first = Math.ceil(POINTS_PER_OCTAVE * Math.log2(fromHertz / 1000));
  const last = Math.floor(POINTS_PER_OCTAVE * Math.log2(toHertz / 1000));
  return Array.from({ length: last - first + 1 }, (_, i) => 1000 * 2 ** ((first + i) / POINTS_PER_OCTAVE));
}
