import FFT from 'fft.js';
import { SWEEP_FADE_SECOND, type SweepSpec } from '../tones/sweepSpec.ts';
import { toneSamples } from '../tones/toneSamples.ts';
import { noiseAndDistortion, type NoiseAndDistortion } from './noiseAndDistortion.ts';
import { isOtherSweep, OTHER_SWEEP } from './otherSweep.ts';
import { driftOf } from './drift.ts';
import { cutOut, divided, impulseFrom, spectrumOf, windowOf, type ImpulseWindow } from './deconvolution.ts';
import { degreesOf } from '../numerics/complex.ts';
import { powerOfTwoAtLeast } from '../numerics/spectrum.ts';
import { transformOf } from '../numerics/transforms.ts';
import type { Samples } from '../numerics/samples.ts';

export interface ResponsePoint {
  hertz: number;
  /** level of what was captured against what was played at full scale; 0 is a full-scale capture of a full-scale sweep */
  db: number;
  /** against a sweep that arrives at `arrivalSecond`, in (−180, 180]; left out in responses of before it was kept */
  phaseDeg?: number;
}

/** A stretch of the impulse response around the arrival, in shares of full scale. */
export interface Impulse {
  /** of the first value, counted as `arrivalSecond` is */
  fromSecond: number;
  sampleRateHz: number;
  values: number[];
  /** what of the whole impulse response the points were made from, against the arrival: faded in before it, out after it */
  window: { beforeSecond: number; afterSecond: number };
}

export type SweepResponse =
  | {
      kind: 'response';
      points: ResponsePoint[];
      /** from the start of the capture to the arrival of the sweep's start, between samples; negative where the capture began late */
      arrivalSecond: number;
      impulse: Impulse;
      /** which way the strongest part of the impulse response points */
      polarity: 'same' | 'inverted';
      /** where the sweep stands above what else is in the capture */
      clearDb: number;
      /** how much faster the recorder's clock runs than the player's, in parts per million; these three are left out in responses of before */
      driftPpm?: number;
      noise?: NoiseAndDistortion['noise'];
      distortion?: NoiseAndDistortion['distortion'];
    }
  | { kind: 'no-sweep'; reason: string };

/** Points a response is given at, and the width over which each is averaged: a twelfth of an octave. */
const POINTS_PER_OCTAVE = 12;
const MIN_CLEAR_DB = 30;
const MAX_SILENCE_SECOND = 60;
/** A transform of more would not fit into a worker's memory. */
const MAX_SAMPLES = 2 ** 22;

/**
 * Response of whatever lay between a played sweep and a capture of it, by deconvolution.
 *
 * The capture's spectrum divided by the sweep's is the response; its impulse is cut out around the arrival, which leaves the
 * distortion, that arrives before it, and most of the noise behind.
 *
 * @param captured - samples as shares of full scale, at the rate given
 * @param onProgress - share done, 0 … 1
 * @param kept - what the channels of one recording share
 * @see A. Farina, "Simultaneous measurement of impulse response and distortion with a swept-sine technique", AES 108 (2000)
 */
export function sweepResponse(
  captured: Samples,
  sampleRateHz: number,
  sweep: SweepSpec,
  onProgress?: (share: number) => void,
  kept: SweepKept = {},
): SweepResponse {
  const { toHertz, seconds } = sweep;
  if (captured.length > (seconds + MAX_SILENCE_SECOND) * sampleRateHz) {
    return { kind: 'no-sweep', reason: `The capture goes on for more than ${MAX_SILENCE_SECOND} s beyond the sweep: cut it shorter.` };
  }
  if (captured.length + seconds * sampleRateHz > MAX_SAMPLES) {
    return { kind: 'no-sweep', reason: 'The recording has too many samples: save it at 44.1 or 48 kHz, cut to the sweep.' };
  }
  if (toHertz > 0.475 * sampleRateHz) {
    return { kind: 'no-sweep', reason: `A sample rate of ${sampleRateHz} Hz is too low for this sweep: record at 44.1 kHz or more.` };
  }
  if (captured.length < 0.9 * seconds * sampleRateHz) {
    return { kind: 'no-sweep', reason: 'The capture is shorter than the sweep: start it before the sweep, and let it run to the end.' };
  }
  const size = powerOfTwoAtLeast(Math.round(seconds * sampleRateHz) + captured.length);
  // Every channel of a recording is held against the same sweep.
  if (kept.fft?.size !== size || kept.reference === undefined) Object.assign(kept, playedSweep(sweep, sampleRateHz, size));
  const { fft, reference } = kept as PlayedSweep;
  onProgress?.(0.3);
  const heard = spectrumOf(fft, captured);
  onProgress?.(0.6);
  const line = sampleRateHz / size;
  const impulse = impulseFrom(fft, divided(fft, heard, reference, { fromLine: sweep.fromHertz / line, toLine: toHertz / line }));
  onProgress?.(0.9);

  let peak = 0;
  let energy = 0;
  for (let n = 0; n < size; n += 1) {
    energy += impulse[n]! ** 2;
    if (Math.abs(impulse[n]!) > Math.abs(impulse[peak]!)) peak = n;
  }
  const clearDb = 20 * Math.log10(Math.abs(impulse[peak]!) / Math.sqrt(energy / size));
  if (!(clearDb > MIN_CLEAR_DB)) {
    return {
      kind: 'no-sweep',
      reason: 'No such sweep is found in the capture: check which sweep was played, and that the input was connected.',
    };
  }
  if (isOtherSweep(impulse, peak, sampleRateHz, sweep)) return { kind: 'no-sweep', reason: OTHER_SWEEP };
  const window = windowOf(sampleRateHz, sweep);
  const offset = vertex(impulse, peak);
  const points = responsePoints(cutOut(impulse, peak, window), sampleRateHz, sweep, window.before + offset);
  const first = peak > size / 2 ? peak - size : peak;
  const arrivalSecond = (first + offset) / sampleRateHz;
  // One clock for all channels of a recording: the first that holds the sweep tells it.
  kept.driftPpm ??= driftOf(impulse, peak, sampleRateHz, sweep);
  const recordedSecond = captured.length / sampleRateHz;
  const beside = noiseAndDistortion(impulse, peak, sampleRateHz, sweep, window, { arrivalSecond, recordedSecond });
  onProgress?.(1);
  return {
    kind: 'response',
    points,
    arrivalSecond,
    driftPpm: kept.driftPpm,
    ...beside,
    polarity: impulse[peak]! < 0 ? 'inverted' : 'same',
    clearDb,
    impulse: keptImpulse(impulse, peak, first, sampleRateHz, window),
  };
}

/** The sweep as it was played, transformed: for one length of recording. */
export interface SweepKept {
  fft?: FFT;
  reference?: number[];
  driftPpm?: number;
}

type PlayedSweep = Required<Pick<SweepKept, 'fft' | 'reference'>>;

function playedSweep({ fromHertz, toHertz, seconds }: SweepSpec, sampleRateHz: number, size: number): PlayedSweep {
  const fft = new FFT(size);
  const played = toneSamples({
    shape: { kind: 'sweep', fromHertz, toHertz },
    levelDbfs: 0,
    seconds,
    sampleRateHz,
    fadeSecond: SWEEP_FADE_SECOND,
  });
  return { fft, reference: spectrumOf(fft, played) };
}

/** Where the peak lies between its samples, in samples: the vertex of the parabola through it and its neighbours. */
function vertex(impulse: Float64Array, peak: number): number {
  const size = impulse.length;
  const [before, at, after] = [impulse[(peak - 1 + size) % size]!, impulse[peak]!, impulse[(peak + 1) % size]!];
  const curvature = before - 2 * at + after;
  return curvature === 0 ? 0 : Math.max(-0.5, Math.min(0.5, (before - after) / (2 * curvature)));
}

/** So much of the impulse is kept with the figures; the rest can be had from the bytes again. */
const KEPT_BEFORE_SECOND = 0.005;
const KEPT_AFTER_SECOND = 0.02;

function keptImpulse(impulse: Float64Array, peak: number, first: number, sampleRateHz: number, window: ImpulseWindow): Impulse {
  const before = Math.round(KEPT_BEFORE_SECOND * sampleRateHz);
  const count = before + Math.round(KEPT_AFTER_SECOND * sampleRateHz);
  return {
    fromSecond: (first - before) / sampleRateHz,
    sampleRateHz,
    values: Array.from({ length: count }, (_, n) => Number(impulse[(peak - before + n + impulse.length) % impulse.length]!.toPrecision(5))),
    window: { beforeSecond: window.before / sampleRateHz, afterSecond: window.after / sampleRateHz },
  };
}

/** @param arrival - place of the arrival in the stretch, in samples: phases are told against it */
function responsePoints(impulse: Float64Array, rateHz: number, { fromHertz, toHertz }: SweepSpec, arrival: number): ResponsePoint[] {
  const size = powerOfTwoAtLeast(impulse.length);
  const fft = transformOf(size);
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
    // Turned back by the arrival, neighbouring lines point the same way and can be added.
    let [re, im] = [0, 0];
    for (let k = first; k <= last; k += 1) {
      const [a, b] = [spectrum[2 * k]!, spectrum[2 * k + 1]!];
      power += a ** 2 + b ** 2;
      const turn = (2 * Math.PI * k * arrival) / size;
      const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
      re += a * cos - b * sin;
      im += a * sin + b * cos;
    }
    return {
      hertz,
      db: 10 * Math.log10(Math.max(1e-20, power / (last - first + 1))),
      phaseDeg: degreesOf({ re, im }),
    };
  });
}

/** Twelfths of an octave around 1 kHz that lie within a range. */
export function responseFrequencies(fromHertz: number, toHertz: number): number[] {
  const first = Math.ceil(POINTS_PER_OCTAVE * Math.log2(fromHertz / 1000));
  const last = Math.floor(POINTS_PER_OCTAVE * Math.log2(toHertz / 1000));
  return Array.from({ length: last - first + 1 }, (_, i) => 1000 * 2 ** ((first + i) / POINTS_PER_OCTAVE));
}
