import type { Action, Finding } from '../../../findings.ts';
import type { Channel } from '../../../job/chain.ts';
import type { LoadConditions } from '../../../job/conditions.ts';
import type { LoadTrace } from '../../../job/records.ts';
import { voltageFactor } from '../../../levels/decibels.ts';
import { formatQuantity } from '../../../units/formatQuantity.ts';
import { filterLoss } from '../../../ways/filterLoss.ts';
import {
  bandLooks,
  bandTones,
  HIGHEST_LOOK_HZ,
  isCleanLook,
  isDirtyLook,
  isSameTone,
  wayChangedAt,
  isTold,
  knobReadings,
  knobVolt,
  lookAt,
} from '../../frame/bandLooks.ts';
import { apartAt, unevenAt, type Uneven } from '../../frame/bandEven.ts';
import { provedNow, type ChannelNow } from '../../frame/channels.ts';
import { loadConditions } from '../../frame/conditions.ts';
import { lossDb } from '../../../ways/driverGroups.ts';
import { staleFinding, type Judgement } from '../../frame/judgement.ts';
import { shapeBefore } from '../../frame/sourceSweeps.ts';
import { onceEach, stepId, tracesAt, type Situation } from '../../frame/situation.ts';
import { staleReasons, type ConditionKey } from '../../frame/staleness.ts';
import type { Check, Step } from '../../frame/stepKind.ts';
import { ONSET_STEP_DB, traceFinding } from '../../frame/traceFinding.ts';
import { upstreamFindings } from '../../frame/upstreamFindings.ts';
import { volumeBelow } from '../ceiling/workingVolume.ts';
import { PROOF_STANDS_ON } from '../proof/judge.ts';

type BandStep = Step<'bandwidth', ChannelNow>;

/** One tone of a channel's range. */
export interface ToneLook {
  toneHz: number;
  trace?: LoadTrace;
  /** clean: at this gain or a higher one; raised: clean, and the gain went up since; older: something it stands on was changed */
  state: 'open' | 'clean' | 'flat' | 'unclear' | 'raised' | 'older';
  /** against what the tone that set the gain and the filters make likely, in dB */
  apartDb?: number;
  /** lifted or cut against the tone that set the gain by more than the filters explain */
  uneven?: Uneven;
}

export interface BandwidthFigures {
  looks: ToneLook[];
  /** the tone that is captured next */
  nextHz?: number;
}

/** As the proof, at whatever tone. */
export const BANDWIDTH_STANDS_ON: readonly ConditionKey[] = PROOF_STANDS_ON.filter((key) => key !== 'tone');

/** Read again, a gain that nobody touched differs by so much. Common practice, no source. */
const SAME_GAIN_DB = 0.15;
/** The conditions under which one tone of a channel's range is captured: full scale, or below it by what is meant to clip. */
export function bandwidthConditions(step: ChannelNow, now: Situation, toneHz: number): LoadConditions {
  const { overlapDb = now.settings.rules.overlapDb } = step.channel;
  const { target: _target, ...channel } = step;
  const loss = filterLoss(step.channel, toneHz, provedNow(now));
  return loadConditions({ ...channel, toneHz, toneLevelDbfs: Math.min(0, 0 - overlapDb), loss }, now, 'on');
}

/** The tones that are looked at: those over the range, and the gain's own where it was set and proved with less than full scale. */
export function lookTones(step: ChannelNow, now: Situation): number[] {
  const { channel, toneHz, toneLevelDbfs } = step;
  const { overlapDb = now.settings.rules.overlapDb } = channel;
  const isProvedInFull = toneLevelDbfs >= -Math.max(0, overlapDb);
  const hottestHz = hottestTone(now, step);
  // The source itself lifts one tone above the others: that one says more than its neighbour.
  const usual = bandTones(channel, toneHz).filter(
    (hertz) => hottestHz === undefined || Math.abs(Math.log2(hertz / hottestHz)) >= NEAR_OCTAVE,
  );
  return [...usual, ...(hottestHz === undefined ? [] : [hottestHz]), ...(isProvedInFull ? [] : [toneHz])].sort((a, b) => a - b);
}

/** A look this near another tells the same. */
const NEAR_OCTAVE = 1 / 3;
/** Less of a lift is within what a look at the neighbours finds. */
const NOTABLE_LIFT_DB = 0.3;

/** The tone of a channel's range that comes loudest out of a source that bends the signal; undefined where that is its own tone. */
const hottestTone = onceEach(
  ({ channel }: ChannelNow) => channel.id,
  (now: Situation, { channel, toneHz }): number | undefined => {
    const shapeDb = shapeBefore(now, channel);
    const { workingVolume } = now.chain.source;
    const tones = bandTones(channel, toneHz);
    // A shape may lift what lies well down a filter's slope above the rest.
    const [low, high] = [Math.min(toneHz, ...tones) / 2, Math.min(HIGHEST_LOOK_HZ, 2 * Math.max(toneHz, ...tones))];
    const levelDb = (hertz: number): number => lossDb(channel, hertz, provedNow(now)) + shapeDb(hertz, workingVolume);
    const steps = Math.ceil(12 * Math.log2(high / low));
    const grid = Array.from({ length: steps + 1 }, (_, i) => Number((low * 2 ** (i / 12)).toPrecision(2)));
    const hottest = grid.reduce((best, hertz) => (levelDb(hertz) > levelDb(best) ? hertz : best), toneHz);
    const isShaped = grid.some((hertz) => Math.abs(shapeDb(hertz, workingVolume)) > NOTABLE_LIFT_DB);
    return isShaped && levelDb(hottest) > levelDb(toneHz) + NOTABLE_LIFT_DB ? hottest : undefined;
  },
);

/** Where a channel stands over its whole range, under its load and at full scale. */
export const judgeBandwidth = (step: BandStep, now: Situation): Judgement<BandwidthFigures> => judged(now, step);

/** Its conditions and ticks follow from the same judgement: it is worked out once. */
const judged = onceEach(({ id }: BandStep) => id, judgedNow);

function judgedNow(now: Situation, step: BandStep): Judgement<BandwidthFigures> {
  const captures = tracesAt(now, step.id, 'load');
  const looks = bandLooks(now, step.channel, step.amplifier);
  const gain = knobReadings(now, step.channel, step.amplifier).at(-1);
  const changedAt = wayChangedAt(looks) ?? '';
  const lookAtTone = (toneHz: number): ToneLook => {
    const trace = captures.findLast(({ conditions }) => isSameTone(conditions.toneHz, toneHz));
    if (trace === undefined) return { toneHz, state: 'open' };
    const reasons = staleReasons(BANDWIDTH_STANDS_ON, trace.conditions, bandwidthConditions(step, now, toneHz));
    const look = lookAt(looks, toneHz);
    const seen = trace.analysis.channels[trace.channelIndex];
    if (seen === undefined || !isTold(seen)) return { toneHz, trace, state: reasons.length > 0 ? 'older' : 'unclear' };
    // Taken at a knob that nobody read, or that cannot be held against the present one.
    if (reasons.length > 0 || look?.trace.id !== trace.id) return { toneHz, trace, state: 'older' };
    const apartDb = apartAt(now, step.channel, look, provedNow(now));
    const uneven = unevenAt(now, step.channel, look, provedNow(now));
    const shown = { toneHz, trace, ...(apartDb === undefined ? {} : { apartDb }), ...(uneven === undefined ? {} : { uneven }) };
    // Looked for, set flat, and the gain read again: what it is now is to be seen.
    const isBeforeChange = trace.takenAt < changedAt || (gain !== undefined && gain.takenAt > trace.takenAt);
    if (uneven !== undefined && isBeforeChange) return { ...shown, state: 'older' };
    const gainNow = gain === undefined ? 0 : knobVolt(gain);
    if (isCleanLook(look, now)) return { ...shown, state: gainNow > look.gainVolt * voltageFactor(SAME_GAIN_DB) ? 'raised' : 'clean' };
    if (!isDirtyLook(look, now)) return { ...shown, state: 'unclear' };
    // Turned and read since: what it does there now is to be seen.
    return gain !== undefined && gain.takenAt > trace.takenAt ? { ...shown, state: 'older' } : { ...shown, state: 'flat' };
  };
  const usual = lookTones(step, now).map(lookAtTone);
  const tones = [...edgeTones(step.channel, usual, now).map(lookAtTone), ...usual].sort((a, b) => a.toneHz - b.toneHz);
  if (gain === undefined) {
    const first: Action = { kind: 'go', to: stepId(step.amplifier.isInSource === true ? 'proof' : 'gain', step.channel.id) };
    return {
      status: 'open',
      figures: { looks: tones },
      findings: [{ code: 'band-before-gain', grade: 'note', figures: {}, action: first }],
      action: first,
    };
  }
  const waiting = tones.filter(({ state }) => state !== 'clean');
  // What was lifted or cut is captured again first: there it shows whether it was mended.
  const isDoubtful = ({ uneven }: ToneLook): boolean => uneven?.isMeant === false;
  const doubtful = tones.find((look) => look.state !== 'older' && isDoubtful(look)) ?? tones.find(isDoubtful);
  const nextHz = (doubtful ?? waiting.find(({ state }) => state !== 'flat') ?? waiting[0])?.toneHz;
  const figures: BandwidthFigures = { looks: tones, ...(nextHz === undefined ? {} : { nextHz }) };
  const capture: Action = { kind: 'capture', judged: 'tone' };
  const findings: Finding[] = [
    ...upstreamFindings(step.channel, now),
    // What lifts a tone is found before any gain comes down for it.
    ...tones.filter((look) => look.state === 'flat' && !isLiftedUnknown(look)).map((look) => flatFinding(step, look, now)),
    ...tones.filter(({ state }) => state === 'unclear').map(({ toneHz }) => unclearFinding(toneHz)),
    ...unevenFindings(step, tones),
  ];
  const worst = findings.find(({ grade }) => grade === 'stop') ?? findings.find(({ grade }) => grade === 'attention');
  if (worst !== undefined) return { status: 'out-of-tolerance', figures, findings, action: worst.action ?? capture };
  const isClean = waiting.length === 0;
  const seen: Finding[] = isClean ? [{ code: 'band-clean', grade: 'good', figures: { tonesHz: tones.map(({ toneHz }) => toneHz) } }] : [];
  if (isClean) return { status: 'done', figures, findings: [...seen, ...findings] };
  const older = tones.filter(({ state }) => state === 'older' || state === 'raised');
  if (older.length > 0 && tones.every(({ state }) => state !== 'open')) return stale(step, older, figures, findings, now);
  return { status: 'open', figures, findings, action: capture };
}

/** Lifted by less than counts, and by more than two instruments differ: further out it may be more. Common practice, no source. */
const LEANS_DB = 0.4;
/** So far down a filter's slope a channel still plays. Common practice, no source. */
const EDGE_DB = -3;

/** Where the outermost tone is lifted a little, the edge of the range beyond it is looked at too. */
function edgeTones(channel: Channel, looks: readonly ToneLook[], now: Situation): number[] {
  const proved = provedNow(now);
  const leans = (look: ToneLook | undefined): look is ToneLook => (look?.apartDb ?? 0) > LEANS_DB;
  const [low, high] = [looks[0], looks.at(-1)];
  const lossAt = (hertz: number): number => lossDb(channel, hertz, proved);
  const beyond = (from: number, step: number): number[] => {
    const peak = Math.max(...looks.map(({ toneHz }) => lossAt(toneHz)));
    const grid = Array.from({ length: 12 }, (_, i) => Number((from * 2 ** ((step * (i + 1)) / 12)).toPrecision(2)));
    const edge = grid.find((hertz) => lossAt(hertz) <= peak + EDGE_DB);
    return edge === undefined || edge > HIGHEST_LOOK_HZ ? [] : [edge];
  };
  return [...(leans(low) ? beyond(low.toneHz, -1) : []), ...(leans(high) && high !== low ? beyond(high.toneHz, 1) : [])];
}

const isLiftedUnknown = ({ uneven }: ToneLook): boolean => uneven !== undefined && uneven.byDb > 0 && !uneven.isMeant;

function stale(
  step: BandStep,
  older: readonly ToneLook[],
  figures: BandwidthFigures,
  findings: Finding[],
  now: Situation,
): Judgement<BandwidthFigures> {
  const reasons = older.flatMap(({ trace, toneHz }) =>
    trace === undefined ? [] : staleReasons(BANDWIDTH_STANDS_ON, trace.conditions, bandwidthConditions(step, now, toneHz)),
  );
  const why = [...new Set(reasons.length > 0 ? reasons : ['the gain was read again after it'])];
  return {
    status: 'stale',
    figures,
    action: { kind: 'capture', judged: 'tone' },
    findings: [staleFinding('The bandwidth check', why, 'Capture these tones again.'), ...findings],
  };
}

/** Flat at a tone of its range: the gain comes down, whatever it reads at the tone that set it. */
function flatFinding({ channel, amplifier }: BandStep, { toneHz, trace }: ToneLook, now: Situation): Finding {
  const found = traceFinding(trace!);
  const byDb = found.action?.kind === 'turn-gain' ? -found.action.byDb : ONSET_STEP_DB;
  const figures = { toneHz, byDb, channelId: channel.id };
  if (amplifier.isInSource !== true)
    return { code: 'band-flat', grade: 'attention', figures, action: { kind: 'go', to: stepId('gain', channel.id) } };
  // Inside the source there is no gain to turn down: the volume is.
  const volume = volumeBelow(now, byDb);
  return {
    code: 'band-flat',
    grade: 'attention',
    figures: { ...figures, isOwn: true, ...(volume === undefined ? {} : { toVolume: volume.workingVolume }) },
    action:
      volume === undefined
        ? { kind: 'go', to: stepId('ceiling', 'speakers') }
        : { kind: 'set-volume', to: volume.workingVolume, unit: 'step', source: { ...volume } },
  };
}

/** Nothing can be said of this capture: it speaks neither for nor against the output. */
const unclearFinding = (toneHz: number): Finding => ({
  code: 'band-unclear',
  grade: 'attention',
  figures: { toneHz },
  action: { kind: 'capture', judged: 'tone' },
});

/** Tones further from each other than the filters explain: something lifts or cuts that nobody spoke of. The furthest first. */
const unevenFindings = (step: BandStep, tones: readonly ToneLook[]): Finding[] =>
  tones
    .flatMap(({ toneHz, uneven, state }) => (state === 'older' || uneven === undefined ? [] : [{ toneHz, ...uneven }]))
    .sort((a, b) => Math.abs(b.byDb) - Math.abs(a.byDb))
    .map(({ toneHz, byDb, isMeant, checkId }): Finding => {
      const figures = { toneHz, otherHz: step.toneHz, byDb, isMeant, checkId };
      return isMeant
        ? { code: 'band-uneven', grade: 'note', figures }
        : { code: 'band-uneven', grade: 'attention', figures, action: { kind: 'describe', what: 'tone-shaping' } };
    });

/** What may be ticked of lifts and cuts: that each is there on purpose. */
export const meantChecks = (findings: readonly Finding[]): Check[] =>
  findings.flatMap((finding) =>
    finding.code === 'band-uneven'
      ? [
          {
            id: finding.figures.checkId,
            words: `the ${finding.figures.byDb < 0 ? 'cut' : 'boost'} at ${formatQuantity(finding.figures.toneHz, 'Hz')} is intentional`,
          },
        ]
      : [],
  );
