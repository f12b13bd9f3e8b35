import { DUMMY_APART, type Amplifier, type Channel, type HouseRules } from '../../job/chain.ts';
import { channelNetwork } from '../../job/channelWiring.ts';
import type { LoadReading, LoadTrace } from '../../job/records.ts';
import { sourceIdOf } from '../../job/source.ts';
import { voltageFactor, voltageRatioDb } from '../../levels/decibels.ts';
import { networkText } from '../../loads/network.ts';
import type { ChannelAnalysis } from '../../traces/analyseTrace.ts';
import { gainReadings, loadedReadings } from './gainReadings.ts';
import { readingsAt, stepId, tracesAt, type Situation } from './situation.ts';
import { cleanLimit, isJustOnset, type DrivenLook } from './cleanLimit.ts';
import { distortedStepDb } from './traceFinding.ts';
import { isFromUpstream, upstreamOf } from './upstream.ts';

/**
 * Kept below a first flattening that was seen, where the house says nothing: what the eye and a scope of eight bits leave open. Common
 * practice, no source. A sine that just fits between the rails of a clipped one has a quarter of a decibel to spare before 1 % of distortion,
 * by the Fourier series of a clipped sine; less than half of that is taken.
 */
const USUAL_MARGIN_DB = 0.1;
export const onsetMarginDb = ({ onsetMarginDb: own }: Pick<HouseRules, 'onsetMarginDb'>): number => own ?? USUAL_MARGIN_DB;

/** Whether the load is on while a gain is set: by scope it always is, since only a loaded amplifier shows where it flattens. */
export const loadAtGain = ({ gainBy, loadWhileSetting }: Pick<HouseRules, 'gainBy' | 'loadWhileSetting'>): HouseRules['loadWhileSetting'] =>
  gainBy === 'scope' ? 'on' : loadWhileSetting;

/** A meter and a scope with its probe agree to this. Common practice, no source: 1 to 2 % of a meter, 3 % of a scope's vertical scale. */
export const INSTRUMENTS_APART_DB = 0.5;

/** The highest clean voltage of a channel under its load, as its captures show it. */
export interface Onset {
  /** RMS of the largest clean sine */
  volt: number;
  /** seen: the tops just start to flatten; estimated: from the rails of a wave that is held at them */
  basis: 'seen' | 'estimated';
  trace: LoadTrace;
  /** of an estimate: how far over its rails the wave was driven */
  deepDb?: number;
}

/**
 * Where an amplifier begins to clip under the load that hangs on it now, by its captures at the gain, at the load pair and at the proof.
 *
 * The newest flattened one counts, unless a later clean one lies higher. One that was taken with another load, wiring or amplifier,
 * or without any load, says nothing of this one; nor does one at another volume of the source, which may be the source's own clipping,
 * and one whose level no meter on the same terminals agrees with: its probe factor is wrong, or the knob was turned.
 *
 * @returns undefined while nothing flattened was seen
 */
export function onsetNow(now: Situation, channel: Channel, amplifier: Amplifier): Onset | undefined {
  const isOurs = hangsOn(channel, amplifier);
  const { source } = now.chain;
  const isOfThisSource = ({ sourceId, sourceVolume }: LoadTrace['conditions']): boolean =>
    sourceId === sourceIdOf(source) && sourceVolume === source.workingVolume;
  const agrees = agreesWithMeter(now, channel, isOurs);
  const own = (['gain', 'load-pair', 'proof'] as const)
    .flatMap((kind) => tracesAt(now, stepId(kind, channel.id), 'load'))
    .filter((trace) => isOurs(trace.conditions) && isOfThisSource(trace.conditions) && agrees(trace))
    .sort((a, b) => (a.takenAt < b.takenAt ? -1 : a.takenAt > b.takenAt ? 1 : 0));
  const upstream = upstreamOf(now, channel);
  let onset: Onset | undefined;
  let flattenedAtVolt = 0;
  for (const trace of own) {
    const shown = trace.analysis.channels[trace.channelIndex];
    if (shown === undefined || shown.warnings.includes('uncalibrated') || shown.warnings.includes('other-tone')) continue;
    if (isFromUpstream(upstream, shown)) continue;
    const { verdict } = shown.clipping;
    if (verdict === 'onset' || verdict === 'clipped') flattenedAtVolt = shown.voltageRms;
    if (verdict === 'onset') onset = { volt: shown.voltageRms, basis: 'seen', trace };
    // Bent beyond the limit and nowhere flat: a soft stage, unless a lower level turns out to be bent alike.
    if (verdict === 'distorted') {
      onset = { volt: shown.voltageRms * voltageFactor(-distortedStepDb(shown.thdPercent)), basis: 'seen', trace };
      flattenedAtVolt = shown.voltageRms;
    }
    if (verdict === 'clipped') {
      onset = { volt: railVolt(shown), basis: 'estimated', trace, deepDb: shown.clipping.estimatedOverdriveDb ?? 0 };
    }
    if (verdict !== 'clean' || onset === undefined) continue;
    if (shown.voltageRms <= onset.volt) {
      onset = triedHigher(onset, shown.voltageRms, flattenedAtVolt);
      continue;
    }
    // Two looks at one flattening lie this far apart: no reason to think that it is higher.
    if (onset.basis === 'seen' && voltageRatioDb(shown.voltageRms, onset.volt) <= LOOKS_APART_DB) continue;
    // Clean a little above what a clipped one was estimated to be good for: it begins to flatten between the two, so never back up to the rating.
    onset = shown.voltageRms < flattenedAtVolt ? { ...onset, volt: shown.voltageRms } : undefined;
  }
  return onset;
}

const railVolt = ({ peakPositiveVolt, peakNegativeVolt }: ChannelAnalysis): number =>
  Math.min(Math.abs(peakPositiveVolt), Math.abs(peakNegativeVolt)) / Math.SQRT2;

/** Captures of one level on one scope differ by so much. Common practice, no source. */
export const LOOKS_APART_DB = 0.3;

/**
 * Meter and scope differ by a little, so a target that is told from a capture may lie just where the tops begin to bend. Seen there twice, and
 * within the house's limit, it is the ceiling: no knob is turned to and fro over it.
 *
 * @param own - every capture of the same output in the present set-up, this one among them
 */
export function isSeenTwice(trace: LoadTrace, own: readonly LoadTrace[]): boolean {
  const shownOf = ({ analysis, channelIndex }: LoadTrace) => analysis.channels[channelIndex];
  const shown = shownOf(trace);
  if (shown?.clipping.verdict !== 'onset') return false;
  return own.some((each) => {
    const other = each.id === trace.id ? undefined : shownOf(each);
    return other?.clipping.verdict === 'onset' && Math.abs(voltageRatioDb(other.voltageRms, shown.voltageRms)) <= LOOKS_APART_DB;
  });
}

/** Whether a capture shows the level that a meter read on the same terminals at one setting: else its probe factor is wrong, or the knob was turned. */
function agreesWithMeter(
  now: Situation,
  channel: Channel,
  isOurs: (conditions: LoadReading['conditions']) => boolean,
): (trace: LoadTrace) => boolean {
  const metered = [...loadedReadings(now, channel.id), ...readingsAt(now, stepId('load-pair', channel.id), 'pair-loaded', 'load')].filter(
    ({ conditions }) => isOurs(conditions),
  );
  const settings = gainReadings(now, channel.id);
  /** Readings and captures between two settings of the gain are of one knob, or of turns that were read each. */
  const settingAt = (takenAt: string): string | undefined => settings.findLast((reading) => reading.takenAt <= takenAt)?.id;
  return (trace) => {
    const volt = trace.analysis.channels[trace.channelIndex]?.voltageRms ?? 0;
    const beside = metered.filter(({ takenAt, value }) => value > 0 && settingAt(takenAt) === settingAt(trace.takenAt));
    return volt > 0 && (beside.length === 0 || beside.some(({ value }) => Math.abs(voltageRatioDb(volt, value)) <= INSTRUMENTS_APART_DB));
  };
}

/**
 * The highest level at which an output was seen clean under its load, at the volume in use, by captures that no meter denies.
 *
 * @returns RMS volts; 0 where it never was
 */
export function cleanSeenVolt(now: Situation, channel: Channel, amplifier: Amplifier): number {
  const isOurs = hangsOn(channel, amplifier);
  const { source } = now.chain;
  const agrees = agreesWithMeter(now, channel, isOurs);
  const volts = (['gain', 'load-pair', 'proof'] as const)
    .flatMap((kind) => tracesAt(now, stepId(kind, channel.id), 'load'))
    .filter(
      (trace) =>
        agrees(trace) &&
        isOurs(trace.conditions) &&
        trace.conditions.sourceId === sourceIdOf(source) &&
        trace.conditions.sourceVolume === source.workingVolume,
    )
    .flatMap(({ analysis, channelIndex }) => {
      const shown = analysis.channels[channelIndex];
      const isTold = shown?.fit !== undefined && !shown.warnings.includes('uncalibrated') && !shown.warnings.includes('other-tone');
      return isTold && shown.clipping.verdict === 'clean' ? [shown.voltageRms] : [];
    });
  return Math.max(0, ...volts);
}

/** A wave held this far over its rails drags the supply down with it: its rails say less than there is. */
const DEEP_DB = 2;
/** An estimate this near to what was seen clean is good enough. */
const NEAR_DB = 0.35;
const MOST_TRY_DB = 1.5;

/**
 * An estimate from a deeply clipped wave is too low where the supply sagged with it: clean at the estimate, half of what lies between is
 * tried, until what was seen clean and what was seen flat are near each other.
 */
function triedHigher(onset: Onset, cleanVolt: number, flattenedAtVolt: number): Onset {
  if (onset.basis === 'seen' || voltageRatioDb(onset.volt, cleanVolt) > NEAR_DB) return onset;
  const deepDb = voltageRatioDb(flattenedAtVolt, cleanVolt);
  if (deepDb <= DEEP_DB / 2 || (onset.deepDb ?? 0) < DEEP_DB) return onset;
  return { ...onset, volt: cleanVolt * voltageFactor(Math.min(deepDb / 2, MOST_TRY_DB)) };
}

/** Kept below a wave that just began to be flat without load. */
const BELOW_UNLOADED_DB = 0.25;

/** What an output gave at most without any load, RMS, and the capture that shows it. */
export interface UnloadedLimit {
  volt: number;
  traceId: string;
}

/**
 * Flat without load it is flat under load, and no voltage that is set without it lies above.
 *
 * @returns undefined where no capture without load was flat, or a later one was clean above it
 */
export function unloadedLimit(now: Situation, channel: Channel, amplifier: Amplifier): UnloadedLimit | undefined {
  const { source } = now.chain;
  const looks: DrivenLook[] = [];
  let traceId: string | undefined;
  for (const trace of tracesAt(now, stepId('gain', channel.id), 'load')) {
    const { load, amplifierId, mode, sourceId, sourceVolume } = trace.conditions;
    if (load !== 'off' || amplifierId !== amplifier.id || mode !== channel.mode) continue;
    if (sourceId !== sourceIdOf(source) || sourceVolume !== source.workingVolume) continue;
    const shown = trace.analysis.channels[trace.channelIndex];
    if (shown?.fit === undefined || shown.warnings.includes('uncalibrated') || shown.warnings.includes('other-tone')) continue;
    if (isFromUpstream(upstreamOf(now, channel), shown)) continue;
    const { verdict, estimatedOverdriveDb = 0 } = shown.clipping;
    const isClean = verdict === 'clean' || isJustOnset(shown, now.settings.rules.limitThdPercent);
    if (isClean) looks.push({ drive: shown.voltageRms, isClean: true, overDb: 0 });
    if (isClean || (verdict !== 'onset' && verdict !== 'clipped')) continue;
    const overDb = estimatedOverdriveDb + BELOW_UNLOADED_DB;
    // Held at its rails it shows less than it was driven to.
    looks.push({ drive: Math.min(railVolt(shown), shown.voltageRms) * voltageFactor(estimatedOverdriveDb), isClean: false, overDb });
    traceId = trace.id;
  }
  const volt = cleanLimit(looks);
  return volt === undefined || traceId === undefined ? undefined : { volt, traceId };
}

/** Whether something was measured with this load on this amplifier. */
export function hangsOn(channel: Channel, amplifier: Amplifier): (conditions: LoadReading['conditions']) => boolean {
  const network = channelNetwork(channel);
  const wired = network === undefined ? undefined : networkText(network);
  // A resistor that was taken for the drivers has no wiring.
  const isWiredAlike = (then: string | undefined): boolean => then === wired || (then === undefined && channel.dummyOhm !== undefined);
  return ({ load, loadOhm, mode, amplifierId, network: then }) =>
    load === 'on' &&
    Math.abs(loadOhm / channel.loadOhm - 1) <= (channel.dummyOhm === undefined ? 0 : DUMMY_APART) &&
    mode === channel.mode &&
    amplifierId === amplifier.id &&
    isWiredAlike(then);
}

/** Less than this is not worth turning the knob again. */
const NOTABLE_SAG_DB = 0.2;
/** More than this is no sag but another knob, another tone, or a fault. */
const MAX_SAG_DB = 6;

/**
 * What the load takes off a voltage that was set without it, by the newest pair of readings at one knob, in dB: the target without load
 * lies that much above the one under load.
 *
 * A pair whose capture was flattened says nothing of it: there the rails took the voltage, not the load.
 *
 * @returns 0 where nothing is known, or what is known is too little to count
 */
export function sagNow(now: Situation, channel: Channel, amplifier: Amplifier): number {
  const isOurs = hangsOn(channel, amplifier);
  const set = gainReadings(now, channel.id).filter(({ conditions }) => conditions.load === 'off');
  const traces = tracesAt(now, stepId('proof', channel.id), 'load');
  const loaded = loadedReadings(now, channel.id).filter(({ conditions }) => isOurs(conditions));
  // Of several readings after one setting only the first is surely of its knob: the next may follow a turn.
  for (const [i, before] of [...set.entries()].reverse()) {
    const next = set[i + 1]?.takenAt;
    const within = ({ takenAt }: { takenAt: string }): boolean => takenAt >= before.takenAt && (next === undefined || takenAt < next);
    const reading = loaded.find(within);
    if (reading === undefined || !isSameSetting(before, reading) || reading.value <= 0) continue;
    const capture = traces.find((trace) => within(trace) && trace.takenAt >= reading.takenAt);
    const verdict = capture?.analysis.channels[capture.channelIndex]?.clipping.verdict;
    if (verdict !== 'clean') continue;
    const sagDb = voltageRatioDb(before.value, reading.value);
    return sagDb > NOTABLE_SAG_DB && sagDb < MAX_SAG_DB ? sagDb : 0;
  }
  return 0;
}

/** Of one amplifier, source and tone: what differs is the load. */
const isSameSetting = ({ conditions: one }: LoadReading, { conditions: other }: LoadReading): boolean =>
  one.amplifierId === other.amplifierId &&
  one.mode === other.mode &&
  one.toneHz === other.toneHz &&
  one.toneLevelDbfs === other.toneLevelDbfs &&
  one.sourceId === other.sourceId &&
  one.sourceVolume === other.sourceVolume;
