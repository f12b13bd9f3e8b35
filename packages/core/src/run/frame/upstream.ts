import type { Channel } from '../../job/chain.ts';
import { byTime, type LineTrace, type LoadTrace } from '../../job/records.ts';
import { outputsInUse, processorIdOf, sourceIdOf } from '../../job/source.ts';
import { voltageRatioDb } from '../../levels/decibels.ts';
import type { ChannelAnalysis, TraceVerdict } from '../../traces/analyseTrace.ts';
import { onceEach, stepId, tracesAt, type Situation } from './situation.ts';

/** Levels this far apart, in dB of their RMS, tell an amplifier's own clipping from distortion that came in at its input. */
export const APART_DB = 0.9;
/**
 * Of two figures for the same distortion. A clipped sine whose RMS lies {@link APART_DB} lower has at most a 1.8th of the distortion, however
 * far it is driven, by its Fourier series (`upstream.test.ts` works it out).
 */
export const ALIKE_RATIO = 1.35;

/** Distortion of one channel that is the same at levels apart, so that it arises before the gain. */
export interface Upstream {
  thdPercent: number;
  lowVolt: number;
  highVolt: number;
  toneHz: number;
  /** when it was last seen */
  takenAt: string;
}

/** Where it is looked for next: at the source, at the processor's output, or, both clean, in the amplifier itself. */
export type UpstreamPlace = 'source' | 'processor' | 'amplifier';

export interface UpstreamLook extends Upstream {
  place: UpstreamPlace;
  /** the step where the capture is taken that tells */
  at: string;
}

/** Verdicts of a wave that is bent by something, as against one that nothing can be said of. */
export const DIRTY: readonly TraceVerdict[] = ['onset', 'clipped', 'distorted'];

const shownOf = ({ analysis, channelIndex }: LoadTrace | LineTrace): ChannelAnalysis | undefined => {
  const shown = analysis.channels[channelIndex];
  return shown?.fit === undefined || shown.warnings.includes('uncalibrated') || shown.warnings.includes('other-tone') ? undefined : shown;
};

/**
 * Distortion of a processor's output that is the same whatever the output's level: it was there before that knob.
 *
 * @returns undefined where it went with the level, or a later capture is clean
 */
export const beforeOutput = onceEach(
  (outputId: string) => outputId,
  (now, outputId): { thdPercent: number; takenAt: string } | undefined => {
    const { source, processor } = now.chain;
    const own = tracesAt(now, stepId('output', outputId), 'line')
      .filter(({ conditions }) => processor !== undefined && conditions.processorId === processorIdOf(processor))
      .filter(({ conditions }) => conditions.sourceId === sourceIdOf(source) && conditions.sourceVolume === source.workingVolume)
      .sort(byTime)
      .flatMap((trace) => {
        const shown = shownOf(trace);
        return shown === undefined ? [] : [{ trace, shown }];
      });
    const sinceClean = own.slice(own.findLastIndex(({ shown }) => shown.clipping.verdict === 'clean') + 1);
    const newest = sinceClean.at(-1);
    const thdPercent = newest?.shown.thdPercent ?? 0;
    if (newest === undefined || thdPercent <= 0 || !DIRTY.includes(newest.shown.clipping.verdict)) return undefined;
    const isAlike = sinceClean.some(
      ({ shown }) =>
        Math.abs(voltageRatioDb(shown.voltageRms, newest.shown.voltageRms)) >= APART_DB &&
        Math.max(shown.thdPercent ?? 0, thdPercent) <= ALIKE_RATIO * Math.min(shown.thdPercent ?? 0, thdPercent),
    );
    return isAlike ? { thdPercent, takenAt: newest.trace.takenAt } : undefined;
  },
);

/**
 * What the captures of a channel say of distortion that comes in at the amplifier's input: dirty alike at two levels at least
 * {@link APART_DB} apart, with no clean capture since.
 */
export const upstreamOf = onceEach(
  (channel: Channel) => channel.id,
  (now, channel): Upstream | undefined => {
    const { source } = now.chain;
    const all = (['gain', 'load-pair', 'proof', 'bandwidth'] as const)
      .flatMap((kind) => tracesAt(now, stepId(kind, channel.id), 'load'))
      .filter(({ conditions }) => conditions.sourceId === sourceIdOf(source) && conditions.sourceVolume === source.workingVolume)
      .sort(byTime)
      .flatMap((trace) => {
        const shown = shownOf(trace);
        return shown === undefined ? [] : [{ trace, shown }];
      });
    const newest = all.at(-1);
    // Of one tone: another one may meet a boost, or a load, of its own.
    const own = all.filter(({ trace }) => trace.conditions.toneHz === newest?.trace.conditions.toneHz);
    if (newest === undefined || !DIRTY.includes(newest.shown.clipping.verdict)) return undefined;
    const { toneHz } = newest.trace.conditions;
    const thd = newest.shown.thdPercent ?? 0;
    const sinceClean = own.slice(own.findLastIndex(({ shown }) => shown.clipping.verdict === 'clean') + 1);
    const alike = sinceClean.find(
      ({ shown }) =>
        Math.abs(voltageRatioDb(shown.voltageRms, newest.shown.voltageRms)) >= APART_DB &&
        Math.max(shown.thdPercent ?? 0, thd) <= ALIKE_RATIO * Math.min(shown.thdPercent ?? 0, thd),
    );
    if (alike === undefined || thd <= 0) return undefined;
    const volts = [alike.shown.voltageRms, newest.shown.voltageRms];
    return {
      thdPercent: thd,
      lowVolt: Math.min(...volts),
      highVolt: Math.max(...volts),
      toneHz,
      takenAt: newest.trace.takenAt,
    };
  },
);

/** Whether a capture shows no more than came in at the input: it says nothing of where the amplifier itself begins to clip. */
export const isFromUpstream = (upstream: Upstream | undefined, shown: ChannelAnalysis): boolean =>
  upstream !== undefined && DIRTY.includes(shown.clipping.verdict) && (shown.thdPercent ?? 0) <= ALIKE_RATIO * upstream.thdPercent;

/** Which capture parts the places where a channel's distortion may arise; undefined where nothing points before its gain. */
export const upstreamLook = onceEach(
  (channel: Channel) => channel.id,
  (now, channel): UpstreamLook | undefined => {
    const upstream = upstreamOf(now, channel);
    if (upstream === undefined) return undefined;
    const [output] = outputsInUse(now.chain);
    const source = output === undefined ? undefined : stepId('ceiling', output);
    if (source !== undefined && !isSeenClean(now, source, upstream.toneHz)) return { ...upstream, place: 'source', at: source };
    const processor = channel.processorOutputId === undefined ? undefined : stepId('output', channel.processorOutputId);
    if (processor !== undefined && !isSeenClean(now, processor)) return { ...upstream, place: 'processor', at: processor };
    return { ...upstream, place: 'amplifier', at: stepId('gain', channel.id) };
  },
);

/** Whether the newest capture there, at the working volume, is clean. @param toneHz - of that tone: a bass that clips is not cleared at 1 kHz */
const isSeenClean = (now: Situation, at: string, toneHz?: number): boolean => shownAt(now, at, toneHz)?.clipping.verdict === 'clean';

/** What the newest capture there shows, at the working volume, of a tone where one is named. */
export function shownAt(now: Situation, at: string, toneHz?: number): ChannelAnalysis | undefined {
  const { source } = now.chain;
  const newest = tracesAt(now, at, 'line')
    .filter(({ conditions }) => conditions.sourceId === sourceIdOf(source) && conditions.sourceVolume === source.workingVolume)
    .filter(({ conditions }) => toneHz === undefined || conditions.toneHz === toneHz)
    .at(-1);
  return newest === undefined ? undefined : shownOf(newest);
}
