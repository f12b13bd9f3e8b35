import { checkNumbers } from '../coreError.ts';
import type { Capture } from '../formats/capture.ts';
import { voltageRatioDb } from '../levels/decibels.ts';
import { channelPolarity, USUAL_PULSE_LIMIT_DB, type PulseChannel } from '../phase/pulsePolarity.ts';
import { sweepResponse, type SweepKept, type SweepResponse } from '../sweeps/sweepResponse.ts';
import type { SweepSpec } from '../tones/sweepSpec.ts';
import { findFlattening } from './flattening.ts';
import { fitHarmonics, type HarmonicFit } from './fitHarmonics.ts';
import { wrapRad, type SineFit } from './fitSine.ts';
import { findTone } from './findTone.ts';
import { refineTone } from './refineTone.ts';
import type { Samples } from '../numerics/samples.ts';

/** Raised whenever the same capture could give other figures than before. */
export const ANALYSIS_VERSION = 3;

/** `sweep`: a sweep was played, and is found; its response is what counts. `pulse`: the same of the polarity pulse. `curve`: no samples, but a response that was measured elsewhere. */
export type TraceVerdict = 'clean' | 'onset' | 'clipped' | 'distorted' | 'over-range' | 'unusable' | 'sweep' | 'pulse' | 'curve';
export type TraceWarning =
  | 'uncalibrated'
  | 'other-tone'
  | 'few-cycles'
  | 'harmonics-out-of-reach'
  | 'coarse-steps'
  | 'noisy'
  | 'too-short'
  | 'no-tone'
  | 'too-few-samples-a-cycle'
  | 'over-range';

export interface TraceOptions {
  /** the tone that was played, where it is known */
  toneHz?: number;
  /** total harmonic distortion from which a trace counts as dirty, in percent */
  limitThdPercent?: number;
  /** where a sweep was played instead of a tone: its response is what is wanted, and no tone is looked for */
  sweep?: SweepSpec;
  /** where the polarity pulse was played */
  pulse?: boolean;
  /** where the file holds a response that was measured elsewhere, as a table, and no samples */
  curve?: boolean;
}

/** A sine with its offset: offset + amplitude cos(2π f t + phase), t = 0 at the first sample; peak volts. */
export interface FittedTone {
  frequencyHz: number;
  amplitudeVolt: number;
  phaseRad: number;
  offsetVolt: number;
}

/** The fitted tone at a time, in volts. @param second - from the first sample */
export const fittedVolt = ({ frequencyHz, amplitudeVolt, phaseRad, offsetVolt }: FittedTone, second: number): number =>
  offsetVolt + amplitudeVolt * Math.cos(2 * Math.PI * frequencyHz * second + phaseRad);

export interface ChannelAnalysis {
  name: string;
  samples: number;
  /** RMS without the offset; `voltageRmsWithDc` has it */
  voltageRms: number;
  voltageRmsWithDc: number;
  peakPositiveVolt: number;
  /** the lowest value */
  peakNegativeVolt: number;
  crestFactor: number;
  dcOffsetVolt: number;
  /** the fields from here to `fit` are left out where no tone was found */
  fundamentalHz?: number;
  /** harmonics 2 to 10 against the fundamental */
  thdPercent?: number;
  /** all but the fundamental and the offset, against the fundamental */
  thdPlusNoisePercent?: number;
  harmonics: { order: number; percent: number }[];
  /** the fundamental */
  fit?: FittedTone;
  clipping: {
    verdict: TraceVerdict;
    positiveFlatFraction: number;
    negativeFlatFraction: number;
    estimatedOverdriveDb?: number;
  };
  warnings: TraceWarning[];
  /** where a sweep was played */
  response?: SweepResponse;
  /** where the polarity pulse was played */
  pulse?: Omit<PulseChannel, 'name'>;
  /** where a response was read as a table */
  curve?: { hertz: number; db: number }[];
}

export interface ChannelRelation {
  from: string;
  to: string;
  /** positive where the later channel leads, in (−180, 180] */
  phaseDeg: number;
  /** positive where it comes later */
  delaySecond: number;
  polarity: 'same' | 'inverted' | 'unclear';
  gainDb: number;
}

export interface TraceAnalysis {
  sampleRateHz: number;
  channels: ChannelAnalysis[];
  /** every later channel against the first, where both hold the tone */
  between: ChannelRelation[];
}

/**
 * Figures and verdict for each channel of a capture, and how the channels stand to each other.
 *
 * @param onChannel - told before each channel is analysed, and while a sweep is: its index and the share done, for a progress display
 * @throws {CoreError} `INPUT_INVALID` for a tone or limit not above 0
 * @see IEEE Std 1057-2017 for the sine fit; THD after IEC 60268-3 with harmonics 2 to 10, against the fundamental
 */
export function analyseTrace(
  capture: Capture,
  options: TraceOptions = {},
  onChannel?: (index: number, share: number) => void,
): TraceAnalysis {
  const channels = analyseChannels(capture, options, onChannel);
  const [first, ...later] = channels;
  const between = later.flatMap((channel, i) => relationOf(first!, channel, () => capture.channels[i + 1]!.samples, capture.sampleRateHz));
  return { sampleRateHz: capture.sampleRateHz, channels, between };
}

/** As {@link analyseTrace}, each channel by itself: threads may have some of them each. */
export function analyseChannels(
  capture: Capture,
  options: TraceOptions = {},
  onChannel?: (index: number, share: number) => void,
): ChannelAnalysis[] {
  checkNumbers(options, {
    toneHz: { name: 'tone', unit: 'Hz', above: 0 },
    limitThdPercent: { name: 'distortion limit', unit: '%', above: 0, atMost: 100 },
  });
  const kept: SweepKept = {};
  return capture.channels.map(({ name, samples }, index) => {
    onChannel?.(index, 0);
    return analyseChannel(name, samples, capture, options, kept, (share) => onChannel?.(index, share));
  });
}

function analyseChannel(
  name: string,
  samples: Samples,
  capture: Capture,
  options: TraceOptions,
  kept: SweepKept,
  onProgress: (share: number) => void,
): ChannelAnalysis {
  const { sampleRateHz, railVolt, calibrated } = capture;
  const { toneHz, limitThdPercent = 1 } = options;
  const basic = basicFigures(samples);
  const warnings: TraceWarning[] = calibrated ? [] : ['uncalibrated'];
  const overRange = railVolt !== undefined && touchesRails(samples, railVolt, capture.format === 'wav' ? 1 / 0x4000 : 0.005);

  if (options.sweep !== undefined) {
    const response = sweepResponse(samples, sampleRateHz, options.sweep, onProgress, kept);
    const figures = withoutTone(name, samples.length, basic, overRange, warnings);
    const isFound = response.kind === 'response' && !overRange;
    return { ...figures, ...(isFound ? { clipping: { ...figures.clipping, verdict: 'sweep' } } : {}), response };
  }
  if (options.pulse === true) {
    const pulse = channelPolarity(samples, sampleRateHz, USUAL_PULSE_LIMIT_DB);
    const figures = withoutTone(name, samples.length, basic, overRange, warnings);
    return { ...figures, ...(pulse.polarity === 'unclear' ? {} : { clipping: { ...figures.clipping, verdict: 'pulse' } }), pulse };
  }
  const seconds = samples.length / sampleRateHz;
  const found = samples.length >= 8 && basic.acMeanSquare > 0 ? findTone(samples, sampleRateHz) : null;
  const unusable = unusableBecause(samples, sampleRateHz, seconds, basic.acMeanSquare, found, toneHz);
  if (unusable !== null || found === null) {
    if (unusable !== null) warnings.push(unusable);
    return withoutTone(name, samples.length, basic, overRange, warnings);
  }

  const frequencyHz = refineTone(samples, sampleRateHz, found.frequencyHz);
  const harmonicFit = fitHarmonics(samples, sampleRateHz, frequencyHz);
  const { fundamental, voltageRms, thdPercent, thdPlusNoisePercent, harmonics } = distortion(harmonicFit);
  const fit: SineFit = {
    frequencyHz,
    amplitude: fundamental.amplitude,
    phaseRad: wrapRad(fundamental.phaseRad),
    offset: harmonicFit.offset,
  };
  const quantum = quantisationStep(samples);
  const noiseRms = Math.sqrt(harmonicFit.residualMeanSquare);
  const flattening = findFlattening(samples, sampleRateHz, fit, quantum, noiseRms);
  const verdict = overRange ? 'over-range' : verdictOf(thdPercent, limitThdPercent, flattening.positiveFlat || flattening.negativeFlat);

  if (overRange) warnings.push('over-range');
  if (toneHz !== undefined && Math.abs(frequencyHz / toneHz - 1) > 0.03) warnings.push('other-tone');
  if (seconds * frequencyHz < 3) warnings.push('few-cycles');
  if (harmonics.length < 2) warnings.push('harmonics-out-of-reach');
  if (quantum * 40 > fit.amplitude) warnings.push('coarse-steps');
  if (noiseRms > 0.05 * fit.amplitude && verdict === 'clean') warnings.push('noisy');
  const dirty = verdict === 'clipped' || verdict === 'onset' || verdict === 'over-range';
  return {
    name,
    ...rawFigures(samples.length, basic),
    voltageRms,
    voltageRmsWithDc: Math.hypot(voltageRms, fit.offset),
    dcOffsetVolt: fit.offset,
    crestFactor: Math.max(basic.highest - fit.offset, fit.offset - basic.lowest) / voltageRms,
    fundamentalHz: fit.frequencyHz,
    thdPercent,
    thdPlusNoisePercent,
    harmonics,
    fit: { frequencyHz: fit.frequencyHz, amplitudeVolt: fit.amplitude, phaseRad: fit.phaseRad, offsetVolt: fit.offset },
    clipping: {
      verdict,
      positiveFlatFraction: dirty ? flattening.positiveFlatFraction : 0,
      negativeFlatFraction: dirty ? flattening.negativeFlatFraction : 0,
      ...(dirty && flattening.overdriveDb !== undefined ? { estimatedOverdriveDb: flattening.overdriveDb } : {}),
    },
    warnings,
  };
}

function withoutTone(
  name: string,
  samples: number,
  basic: BasicFigures,
  overRange: boolean,
  warnings: readonly TraceWarning[],
): ChannelAnalysis {
  return {
    name,
    ...rawFigures(samples, basic),
    harmonics: [],
    clipping: { verdict: overRange ? 'over-range' : 'unusable', positiveFlatFraction: 0, negativeFlatFraction: 0 },
    warnings: overRange ? [...warnings, 'over-range'] : [...warnings],
  };
}

interface BasicFigures {
  mean: number;
  acMeanSquare: number;
  highest: number;
  lowest: number;
}

/** In one pass, with figures counted from the first sample, so that a large offset takes no digits from the rest. */
function basicFigures(samples: Samples): BasicFigures {
  const count = samples.length;
  const sums: Sums = { base: samples[0] ?? 0, sum: 0, square: 0, highest: -Infinity, lowest: Infinity };
  // Short calls let the engine swap in its optimised version early.
  for (let from = 0; from < count; from += STRETCH) addUp(samples, from, Math.min(count, from + STRETCH), sums);
  const mean = sums.sum / count;
  const { base, square, highest, lowest } = sums;
  return { mean: base + mean, acMeanSquare: Math.max(0, square / count - mean * mean), highest, lowest };
}

const STRETCH = 1 << 12;

interface Sums {
  base: number;
  sum: number;
  square: number;
  highest: number;
  lowest: number;
}

/** Two sums a kind run side by side: one alone waits for itself. */
function addUp(samples: Samples, from: number, to: number, sums: Sums): void {
  let { highest, lowest } = sums;
  const { base } = sums;
  let [sum, otherSum, square, otherSquare] = [0, 0, 0, 0];
  let n = from;
  for (; n + 1 < to; n += 2) {
    const x = samples[n] as number;
    const y = samples[n + 1] as number;
    sum += x - base;
    square += (x - base) * (x - base);
    otherSum += y - base;
    otherSquare += (y - base) * (y - base);
    if (x > highest) highest = x;
    if (y > highest) highest = y;
    if (x < lowest) lowest = x;
    if (y < lowest) lowest = y;
  }
  if (n < to) {
    const x = samples[n] as number;
    sum += x - base;
    square += (x - base) * (x - base);
    if (x > highest) highest = x;
    if (x < lowest) lowest = x;
  }
  sums.sum += sum + otherSum;
  sums.square += square + otherSquare;
  sums.highest = highest;
  sums.lowest = lowest;
}

type RawFigures = Pick<
  ChannelAnalysis,
  'samples' | 'voltageRms' | 'voltageRmsWithDc' | 'peakPositiveVolt' | 'peakNegativeVolt' | 'crestFactor' | 'dcOffsetVolt'
>;

function rawFigures(count: number, { mean, acMeanSquare, highest, lowest }: BasicFigures): RawFigures {
  const voltageRms = Math.sqrt(acMeanSquare);
  return {
    samples: count,
    voltageRms,
    voltageRmsWithDc: Math.hypot(voltageRms, mean),
    peakPositiveVolt: highest,
    peakNegativeVolt: lowest,
    // A line without any movement has no crest factor; 1 is that of a constant.
    crestFactor: voltageRms === 0 ? 1 : Math.max(highest - mean, mean - lowest) / voltageRms,
    dcOffsetVolt: mean,
  };
}

function unusableBecause(
  samples: Samples,
  sampleRateHz: number,
  seconds: number,
  acMeanSquare: number,
  tone: SineFit | null,
  toneHz: number | undefined,
): TraceWarning | null {
  // 3 % of slack: a capture of "one cycle" often lacks its last sample.
  if (samples.length < 8 || (toneHz !== undefined && toneHz * seconds < 0.97)) return 'too-short';
  if (toneHz !== undefined && sampleRateHz / toneHz < 4) return 'too-few-samples-a-cycle';
  if (tone === null) return 'no-tone';
  if (tone.frequencyHz * seconds < 0.97) return 'too-short';
  if (sampleRateHz / tone.frequencyHz < 4) return 'too-few-samples-a-cycle';
  // Less than half of the power in one sine is not a test tone.
  if (tone.amplitude ** 2 / 2 < 0.5 * acMeanSquare) return 'no-tone';
  return null;
}

function distortion({ harmonics, residualMeanSquare }: HarmonicFit): {
  fundamental: { amplitude: number; phaseRad: number };
  voltageRms: number;
  thdPercent: number;
  thdPlusNoisePercent: number;
  harmonics: { order: number; percent: number }[];
} {
  const [fundamental, ...upper] = harmonics;
  if (fundamental === undefined) throw new Error('a harmonic fit always holds the fundamental');
  const fundamentalSquare = fundamental.amplitude ** 2 / 2;
  const upperSquare = upper.reduce((sum, { amplitude }) => sum + amplitude ** 2 / 2, 0);
  return {
    fundamental,
    voltageRms: Math.sqrt(fundamentalSquare + upperSquare + residualMeanSquare),
    thdPercent: 100 * Math.sqrt(upperSquare / fundamentalSquare),
    thdPlusNoisePercent: 100 * Math.sqrt((upperSquare + residualMeanSquare) / fundamentalSquare),
    harmonics: harmonics.map(({ order, amplitude }) => ({ order, percent: (100 * amplitude) / fundamental.amplitude })),
  };
}

function verdictOf(thdPercent: number, limitThdPercent: number, flat: boolean): TraceVerdict {
  if (thdPercent > limitThdPercent) return flat ? 'clipped' : 'distorted';
  return flat && thdPercent > limitThdPercent / 3 ? 'onset' : 'clean';
}

/**
 * An analysis as another distortion limit has it: what was measured stays, what it is called follows. The same object where nothing changes.
 */
export function judgedAt(analysis: TraceAnalysis, limitThdPercent: number): TraceAnalysis {
  const channels = analysis.channels.map((channel): ChannelAnalysis => {
    const { thdPercent, clipping } = channel;
    if (thdPercent === undefined || !JUDGED_BY_LIMIT.includes(clipping.verdict)) return channel;
    const { verdict: was, positiveFlatFraction, negativeFlatFraction } = clipping;
    // A wave that was called clean may have flat tops too small to count then; one over the limit has them or not.
    const isFlat = was === 'onset' || was === 'clipped' || (was === 'clean' && positiveFlatFraction + negativeFlatFraction > 0);
    const verdict = was === 'clean' && thdPercent <= limitThdPercent ? was : verdictOf(thdPercent, limitThdPercent, isFlat);
    return verdict === was ? channel : { ...channel, clipping: { ...clipping, verdict } };
  });
  return channels.every((channel, i) => channel === analysis.channels[i]) ? analysis : { ...analysis, channels };
}

const JUDGED_BY_LIMIT: readonly TraceVerdict[] = ['clean', 'onset', 'distorted', 'clipped'];

/** True where the capture sits on its own rails for longer than the crest of a sine that just reaches them. */
function touchesRails(samples: Samples, railVolt: number, slack: number): boolean {
  const rail = railVolt * (1 - slack);
  let touching = 0;
  for (let n = 0; n < samples.length; n += 1) if (Math.abs(samples[n] as number) >= rail) touching += 1;
  const crestShare = (2 * Math.acos(1 - slack)) / Math.PI;
  return touching > 3 && touching / samples.length > 1.5 * crestShare;
}

/**
 * Step between two neighbouring values of the recorder, or 0 where the values lie on no such grid.
 *
 * The smallest gap among the values of the record's start counts only if nearly all of them lie on multiples of it: a coarsely
 * sampled smooth wave has large gaps too, but no grid.
 */
function quantisationStep(samples: Samples): number {
  const sorted = Float64Array.from(samples.subarray(0, 4096)).sort();
  const lowest = sorted[0] ?? 0;
  const least = 1e-9 * ((sorted.at(-1) ?? 0) - lowest);
  let step = Infinity;
  for (let n = 1; n < sorted.length; n += 1) {
    const gap = sorted[n]! - sorted[n - 1]!;
    if (gap > least && gap < step) step = gap;
  }
  if (!Number.isFinite(step)) return 0;
  const onGrid = sorted.reduce((count, value) => {
    const steps = (value - lowest) / step;
    return count + (Math.abs(steps - Math.round(steps)) < 0.05 ? 1 : 0);
  }, 0);
  return onGrid > 0.95 * sorted.length ? step : 0;
}

/** How a channel stands to the first one. @param samples - of the channel, where they are needed; @returns none where one of them holds no tone */
export function relationOf(
  first: ChannelAnalysis,
  channel: ChannelAnalysis,
  samples: () => Samples,
  sampleRateHz: number,
): ChannelRelation[] {
  if (first.fit === undefined) return [];
  const same = seenAt(first.fit.frequencyHz, channel, samples, sampleRateHz);
  if (same === null) return [];
  const phaseDeg = halfOpenDeg((wrapRad(same.phaseRad - first.fit.phaseRad) * 180) / Math.PI);
  const distance = Math.abs(phaseDeg);
  return [
    {
      from: first.name,
      to: channel.name,
      phaseDeg,
      delaySecond: phaseDeg === 0 ? 0 : -phaseDeg / (360 * first.fit.frequencyHz),
      polarity: distance <= 30 ? 'same' : distance >= 150 ? 'inverted' : 'unclear',
      gainDb: voltageRatioDb(same.amplitudeVolt, first.fit.amplitudeVolt),
    },
  ];
}

/** Two frequencies that part by less than this over a record, in radians, are one: the square of it is what is lost. */
const SAME_TONE_RAD = 1e-3;

/** A fitted tone as one of the first channel's frequency: two fits of their own would drift apart over the record. @returns null where it holds nothing there */
function seenAt(
  frequencyHz: number,
  { fit, samples: count }: ChannelAnalysis,
  samples: () => Samples,
  sampleRateHz: number,
): Pick<FittedTone, 'amplitudeVolt' | 'phaseRad'> | null {
  if (fit === undefined) return null;
  const apart = (2 * Math.PI * (fit.frequencyHz - frequencyHz) * (count - 1)) / sampleRateHz;
  // What two frequencies have in common they have in the middle of the record.
  if (Math.abs(apart) < SAME_TONE_RAD) return { amplitudeVolt: fit.amplitudeVolt, phaseRad: fit.phaseRad + apart / 2 };
  const [first] = fitHarmonics(samples(), sampleRateHz, frequencyHz).harmonics;
  return first === undefined || first.amplitude === 0 ? null : { amplitudeVolt: first.amplitude, phaseRad: first.phaseRad };
}

const halfOpenDeg = (deg: number): number => (deg <= -180 ? deg + 360 : deg);
