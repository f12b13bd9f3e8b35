import { loadImpedanceAt } from '../../impedance/channelImpedance.ts';
import type { Amplifier, Channel } from '../../job/chain.ts';
import { byTime, type LoadReading, type LoadTrace } from '../../job/records.ts';
import { sourceIdOf } from '../../job/source.ts';
import { voltageFactor, voltageRatioDb } from '../../levels/decibels.ts';
import type { ChannelAnalysis } from '../../traces/analyseTrace.ts';
import { lossDb } from '../../ways/driverGroups.ts';
import { cleanLimit, isJustOnset } from './cleanLimit.ts';
import { hangsOn } from './onset.ts';
import { settingReadings } from './gainReadings.ts';
import { stepId, tracesAt, type Situation } from './situation.ts';
import { distortedStepDb } from './traceFinding.ts';
import { DIRTY, isFromUpstream, upstreamOf } from './upstream.ts';

/**
 * How much the filters may take off a tone that is looked at, in dB against where they let most through. Towards the low end a boost and the
 * load's own resonance are worth going near the corner for; towards the high end a tone that is held back would only hide what it lacks.
 */
const LOW_EDGE_DB = -1;
const HIGH_EDGE_DB = -0.3;
/** Where nothing is said of a driver. Common practice, no source. */
const BASS_RANGE_HZ = { from: 30, to: 120 } as const;
const FULL_RANGE_HZ = { from: 80, to: 16_000 } as const;
/** Above, a full-scale sine burns a tweeter sooner than it tells anything: an amplifier that is clean below is clean there. Common practice, no source. */
export const HIGHEST_LOOK_HZ = 8000;
/** Above a door speaker's resonance its impedance has its lowest part about here. Common practice, no source. */
const HEAVY_LOOK_HZ = 300;
/** Nearer than this two tones tell the same: a third of an octave. */
const SAME_OCTAVE = 1 / 3;

/**
 * The tones at which a channel is looked at beside the one that sets it: near its low end, where its load is likely to draw most, and
 * near its high end. Together with its own tone there are three, as far as its range leaves room for them.
 *
 * @param toneHz - the tone that sets it
 * @returns in hertz, rising
 */
export function bandTones(channel: Channel, toneHz: number): readonly number[] {
  const kept = KEPT_TONES.get(channel);
  if (kept?.toneHz === toneHz) return kept.tones;
  const tones = tonesOf(channel, toneHz);
  KEPT_TONES.set(channel, { toneHz, tones });
  return tones;
}

/** Asked for by rail, screen and list alike; they follow from the channel alone. */
const KEPT_TONES = new WeakMap<Channel, { toneHz: number; tones: readonly number[] }>();

function tonesOf(channel: Channel, toneHz: number): number[] {
  const own = channel.band === 'bass' ? BASS_RANGE_HZ : FULL_RANGE_HZ;
  const lowest = Math.min(...channel.drivers.map(({ usableFromHz }) => usableFromHz ?? own.from));
  const highest = Math.max(...channel.drivers.map(({ usableToHz }) => usableToHz ?? own.to));
  const grid = GRID_HZ.filter((hertz) => hertz >= lowest / 1.01 && hertz <= Math.min(highest, HIGHEST_LOOK_HZ) * 1.01);
  const losses = grid.map((hertz) => lossDb({ ...channel, equaliser: [] }, hertz));
  const peakDb = Math.max(...losses);
  const [from, to] = [
    grid[losses.findIndex((db) => db >= peakDb + LOW_EDGE_DB)],
    grid[losses.findLastIndex((db) => db >= peakDb + HIGH_EDGE_DB)],
  ];
  if (from === undefined || to === undefined) return [];
  const [low, high] = [Math.min(from, to), Math.max(from, to)];
  const isTweeterThere =
    channel.band !== 'bass' && channel.drivers.some(({ role }) => role === 'tweeter' || role === 'full-range' || role === undefined);
  const wanted = [
    low,
    ...(impedanceDip(channel, low, high) ?? (channel.band === 'bass' ? [] : [HEAVY_LOOK_HZ])),
    // A door and its tweeter on one channel: the top of its range would only endanger the tweeter.
    ...(isTweeterThere && low < 1000 ? [] : [high]),
  ];
  const tones: number[] = [];
  for (const hertz of [...wanted, Math.sqrt(low * high)].map(roundTone)) {
    const isNew = [toneHz, ...tones].every((other) => Math.abs(Math.log2(hertz / other)) >= SAME_OCTAVE);
    if (isNew && hertz >= low / 1.03 && hertz <= high * 1.03 && tones.length < MAX_LOOKS) tones.push(hertz);
  }
  return tones.sort((a, b) => a - b);
}

const MAX_LOOKS = 3;
const GRID_HZ = Array.from({ length: 121 }, (_, i) => 20 * 2 ** (i / 12));
const roundTone = (hertz: number): number => Number(hertz.toPrecision(2));

/** Where a known impedance is lowest within the range: there the load draws most. */
function impedanceDip({ impedance }: Channel, from: number, to: number): number[] | undefined {
  if (impedance === undefined) return undefined;
  const within = GRID_HZ.filter((hertz) => hertz >= from && hertz <= to).flatMap((hertz) => {
    const ohm = loadImpedanceAt(impedance, hertz)?.ohm;
    return ohm === undefined ? [] : [{ hertz, ohm }];
  });
  return within.length === 0 ? undefined : [within.reduce((low, point) => (point.ohm < low.ohm ? point : low)).hertz];
}

/** A capture of a channel at one of these tones, and how its gain stood. */
export interface BandLook {
  trace: LoadTrace;
  shown: ChannelAnalysis;
  toneHz: number;
  /** which knob it was taken at: what the gain was last read to give before it, of a full-scale tone where the filters let most through */
  gainVolt: number;
}

/** Tones this near are one: a generator's figure may differ in its last digit. */
export const isSameTone = (one: number, other: number): boolean => Math.abs(one / other - 1) < 0.02;

/**
 * Readings of the gain that can be held against each other, oldest first: at this amplifier and volume, with or without load as the newest
 * one. What a load takes off is no turn of the knob.
 */
export function knobReadings(now: Situation, channel: Channel, amplifier: Amplifier): LoadReading[] {
  const own = settingReadings(now, channel).filter(
    ({ conditions, value }) =>
      value > 0 && conditions.amplifierId === amplifier.id && conditions.sourceVolume === now.chain.source.workingVolume,
  );
  const load = own.at(-1)?.conditions.load;
  return own.filter(({ conditions }) => conditions.load === load);
}

/** RMS volts of a full-scale tone where nothing is filtered, at the knob of a reading: the same whatever tone it was read with. */
export const knobVolt = ({ value, conditions: { toneLevelDbfs, filters } }: LoadReading): number =>
  value * voltageFactor(-toneLevelDbfs - (filters?.provedDb ?? filters?.setDb ?? 0));

/** Every capture over a channel's range that speaks of the present set-up, oldest first. */
export function bandLooks(now: Situation, channel: Channel, amplifier: Amplifier): BandLook[] {
  const { source } = now.chain;
  const isOurs = hangsOn(channel, amplifier);
  const gains = knobReadings(now, channel, amplifier);
  return tracesAt(now, stepId('bandwidth', channel.id), 'load')
    .filter(
      ({ conditions }) =>
        isOurs(conditions) && conditions.sourceId === sourceIdOf(source) && conditions.sourceVolume === source.workingVolume,
    )
    .sort(byTime)
    .flatMap((trace) => {
      const shown = trace.analysis.channels[trace.channelIndex];
      const gain = gains.findLast(({ takenAt }) => takenAt <= trace.takenAt);
      if (gain === undefined || shown === undefined || !isTold(shown)) return [];
      return [{ trace, shown, toneHz: trace.conditions.toneHz, gainVolt: knobVolt(gain) }];
    });
}

/** Whether a capture shows a tone in volts. */
export const isTold = ({ fit, warnings }: ChannelAnalysis): boolean =>
  fit !== undefined && !warnings.includes('uncalibrated') && !warnings.includes('other-tone');

/** The newest look at a tone, undefined while there is none. */
export const lookAt = (looks: readonly BandLook[], toneHz: number): BandLook | undefined =>
  looks.findLast((look) => isSameTone(look.toneHz, toneHz));

/** How far a gain may be up because of one tone of its range: RMS volts of a full-scale tone where the filters let all through. */
export interface BandLimit {
  gainVolt: number;
  toneHz: number;
  trace: LoadTrace;
}

/** Clean, or just beginning to flatten with distortion that the house still calls clean: its gain's own tone is judged more strictly. */
export const isCleanLook = ({ shown }: BandLook, { settings: { rules } }: Situation): boolean =>
  shown.clipping.verdict === 'clean' || isJustOnset(shown, rules.limitThdPercent);

export const isDirtyLook = (look: BandLook, now: Situation): boolean =>
  DIRTY.includes(look.shown.clipping.verdict) && !isCleanLook(look, now);

const overOf = ({ clipping, thdPercent }: ChannelAnalysis): number =>
  clipping.verdict === 'distorted' ? distortedStepDb(thdPercent) : (clipping.estimatedOverdriveDb ?? 0);

/** What a tone gives at one knob moves by no more than this unless something was switched or mended. Common practice, no source. */
const SAME_WAY_DB = 1.5;

/**
 * RMS volts that a tone was driven to, rails aside. A wave that is held at its rails has more than a sine's RMS for its peak: what it was
 * driven to is told from the rails.
 */
export function drivenVolt({ voltageRms, peakPositiveVolt, peakNegativeVolt, clipping }: ChannelAnalysis): number {
  const overDb = clipping.estimatedOverdriveDb;
  if (overDb === undefined) return voltageRms;
  return (Math.min(Math.abs(peakPositiveVolt), Math.abs(peakNegativeVolt)) / Math.SQRT2) * voltageFactor(overDb);
}

/** What the gain makes of a tone, rails aside, in dB. */
const throughDb = ({ shown, gainVolt }: BandLook): number => voltageRatioDb(drivenVolt(shown), gainVolt);

/** Looks of the way as it is now: a lift that was taken out since denies nothing any more. */
function sinceChange(looks: readonly BandLook[]): readonly BandLook[] {
  const newest = looks.at(-1);
  if (newest === undefined) return looks;
  return looks.slice(looks.findLastIndex((look) => Math.abs(throughDb(look) - throughDb(newest)) > SAME_WAY_DB) + 1);
}

/**
 * When what shapes the tones of a channel was last switched or mended, as far as a tone shows it that was captured before and after.
 *
 * @returns the time of the first capture after it; undefined where nothing changed
 */
export function wayChangedAt(looks: readonly BandLook[]): string | undefined {
  const changes = looks.flatMap((look, i) => {
    const before = looks.slice(0, i).findLast(({ toneHz }) => isSameTone(toneHz, look.toneHz));
    return before !== undefined && Math.abs(throughDb(before) - throughDb(look)) > SAME_WAY_DB ? [look.trace.takenAt] : [];
  });
  return changes.sort().at(-1);
}

/**
 * The lowest limit over a channel's range; undefined where nothing was flat there, or what was is clean as high.
 *
 * @param isLifted - of a tone that something lifts which nobody spoke of: that is to be found first, and no gain comes down for it
 */
export function bandLimit(
  now: Situation,
  channel: Channel,
  amplifier: Amplifier,
  isLifted: (look: BandLook) => boolean,
): BandLimit | undefined {
  const looks = bandLooks(now, channel, amplifier);
  const upstream = looks.length === 0 ? undefined : upstreamOf(now, channel);
  const limits = [...new Set(looks.map(({ toneHz }) => toneHz))].flatMap((toneHz): BandLimit[] => {
    const own = sinceChange(looks.filter((look) => look.toneHz === toneHz && !isFromUpstream(upstream, look.shown)));
    const isFlat = (look: BandLook): boolean => isDirtyLook(look, now);
    const gainVolt = cleanLimit(
      own
        .filter((look) => isFlat(look) || isCleanLook(look, now))
        .map((look) => ({ drive: look.gainVolt, isClean: !isFlat(look), overDb: overOf(look.shown) })),
    );
    const flat = own.findLast(isFlat);
    if (flat !== undefined && isLifted(flat)) return [];
    return gainVolt === undefined || flat === undefined ? [] : [{ gainVolt, toneHz, trace: flat.trace }];
  });
  return limits.length === 0 ? undefined : limits.reduce((low, each) => (each.gainVolt < low.gainVolt ? each : low));
}
