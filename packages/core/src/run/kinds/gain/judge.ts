import type { Action, Finding } from '../../../findings.ts';
import { judgeGain, knobTurns, turnsInWords, type GainAdvice } from '../../../gain/meter.ts';
import type { Amplifier } from '../../../job/chain.ts';
import type { LoadConditions } from '../../../job/conditions.ts';
import { byTime, type LoadReading, type LoadTrace } from '../../../job/records.ts';
import { sourceOutputs } from '../../../job/source.ts';
import type { HeldBy } from '../../../job/targetPower.ts';
import { voltageFactor, voltageRatioDb } from '../../../levels/decibels.ts';
import type { ChannelNow } from '../../frame/channels.ts';
import { isJustOnset } from '../../frame/cleanLimit.ts';
import { loadConditions } from '../../frame/conditions.ts';
import { gainReadings, isBeyondMeter, loadedReadings } from '../../frame/gainReadings.ts';
import { isSeenTwice, loadAtGain } from '../../frame/onset.ts';
import { pairFindings, pairNow, type PairRule } from '../../frame/pairs.ts';
import { staleFinding, type Judgement } from '../../frame/judgement.ts';
import { APART_DB, isFromUpstream, upstreamOf } from '../../frame/upstream.ts';
import { upstreamFindings } from '../../frame/upstreamFindings.ts';
import { readingsAt, stepId, tracesAt, type Situation } from '../../frame/situation.ts';
import { staleReasons, type ConditionKey } from '../../frame/staleness.ts';
import { coarseFinding } from '../../frame/typedDigits.ts';
import { traceFinding } from '../../frame/traceFinding.ts';
import { toneRowFindings } from './toneRow.ts';
import { endStopFinding, shortAndCleanVolt, standingStill } from './endStop.ts';
import { hottestCase } from '../ceiling/caseLift.ts';
import { volumeBelow } from '../ceiling/workingVolume.ts';

export interface GainFigures {
  /** the newest voltage */
  reading?: LoadReading;
  advice?: GainAdvice;
}

export const LOAD_STANDS_ON: readonly ConditionKey[] = [
  'source',
  'volume',
  'fed',
  'amplifier',
  'mode',
  'load',
  'tone',
  'level',
  'filters',
  'input',
  'settings',
];

/** Without load a voltage does not know what would hang there: it is judged against the target of the load as it is now. */
const UNLOADED_STANDS_ON = LOAD_STANDS_ON.filter((key) => key !== 'load');

const gainStaleReasons = (reading: LoadReading, present: LoadConditions, step: ChannelNow, now: Situation): string[] => {
  const { conditions } = reading;
  return [
    ...staleReasons(conditions.load === 'off' && present.load === 'off' ? UNLOADED_STANDS_ON : LOAD_STANDS_ON, conditions, present),
    ...(isBeforeOutput(reading, step, now) ? ['the processor’s output was set only afterwards'] : []),
    ...(isMovedSince(reading, present, step, now) ? ['its proof reads another voltage at the same terminals'] : []),
  ];
};

/** With the load on at both, gain and proof read one voltage at one pair of terminals. Meters and warm supplies differ by less. Common practice, no source. */
const MOVED_DB = 0.5;

/** Set under its load, a gain reads the same at its proof: where it does not, the knob or something before it was changed since. */
function isMovedSince(
  { value, conditions, takenAt }: LoadReading,
  present: LoadConditions,
  { channel }: ChannelNow,
  now: Situation,
): boolean {
  const proved = loadedReadings(now, channel.id).at(-1);
  if (conditions.load !== 'on' || proved === undefined || proved.takenAt <= takenAt || proved.value <= 0 || value <= 0) return false;
  return staleReasons(LOAD_STANDS_ON, proved.conditions, present).length === 0 && Math.abs(voltageRatioDb(proved.value, value)) > MOVED_DB;
}

/** Out of order: a gain that was read before anybody had read the output that feeds it knows nothing of what it gave. */
function isBeforeOutput({ conditions, takenAt }: LoadReading, { channel }: ChannelNow, now: Situation): boolean {
  if (conditions.fedVolt !== undefined || channel.processorOutputId === undefined) return false;
  const first = readingsAt(now, stepId('output', channel.processorOutputId), 'output-voltage', 'line')[0];
  return first !== undefined && first.takenAt > takenAt;
}

/** Where a gain stands: the newest voltage against the target. */
export function judgeGainStep(step: ChannelNow, now: Situation): Judgement<GainFigures> {
  const { settings } = now;
  const read: Action = isBeyondMeter(step.toneHz, now)
    ? { kind: 'capture', judged: 'tone' }
    : { kind: 'read', reading: 'gain-voltage', unit: 'V' };
  if (step.power.kind === 'unknown') {
    const action: Action = { kind: 'describe', what: 'power' };
    return {
      status: 'open',
      figures: {},
      action,
      findings: [{ code: 'power-unknown', grade: 'attention', figures: { channelId: step.channel.id, reason: step.power.reason }, action }],
    };
  }
  // A tone that the filters keep away tells nothing of the gain, whatever is read.
  const outside = nearFindings(step).find(({ code }) => code === 'tone-outside');
  if (outside?.action !== undefined)
    return {
      status: gainReadings(now, step.channel.id).length > 0 ? 'out-of-tolerance' : 'open',
      figures: {},
      findings: [outside],
      action: outside.action,
    };
  // Another tone of its range that flattens says where the gain is to be, though its own tone is clean.
  if (settings.rules.gainBy === 'scope' && step.onset === undefined && step.band === undefined && step.isCleanToDrivers !== true)
    return beforeOnset(step, now);
  const own = gainReadings(now, step.channel.id);
  const reading = own.at(-1);
  const target = step.target?.settingVoltage;
  if (reading === undefined || target === undefined) {
    return {
      status: 'open',
      figures: {},
      action: read,
      findings: [...holdFindings(step, now), ...nearFindings(step), ...meterFindings(step, reading, now)],
    };
  }
  const reasons = gainStaleReasons(reading, loadConditions(step, now, loadAtGain(settings.rules)), step, now);
  if (reasons.length > 0) {
    return {
      status: 'stale',
      figures: { reading },
      action: read,
      findings: [staleFinding('The last reading', reasons, 'Read the voltage again.')],
    };
  }
  if (reading.value <= 0) {
    return {
      status: 'out-of-tolerance',
      figures: { reading },
      action: read,
      findings: [
        {
          code: 'reads-nothing',
          grade: 'attention',
          figures: { at: 'gain', voltageRms: reading.value },
          action: read,
        },
      ],
    };
  }
  const judged = judgeGain(reading.value, reading.resolution, target, settings.rules.toleranceDb, settings.meter);
  // Beyond the meter's range a scope reads, and it has no finer range to go to.
  const advice: GainAdvice =
    judged.verdict === 'too-coarse' && isBeyondMeter(step.toneHz, now)
      ? { ...judged, verdict: judged.differenceDb < 0 ? 'up' : 'down' }
      : judged;
  const stuck = farFinding(step, own, advice) ?? stuckFinding(step, own, advice, now) ?? lowestFinding(step, own, advice, now);
  const first =
    stuck ?? (advice.verdict === 'too-coarse' ? coarseFinding(reading, now, 'gain-voltage') : gainFinding(step.amplifier, advice, target));
  const pair = pairNow(now, step);
  const findings = [
    ...peakFinding(reading.value, target),
    first,
    ...upstreamFindings(step.channel, now),
    ...captureFindings(step, reading, now),
    ...bandFindings(step, reading),
    ...(pair === undefined ? [] : pairFindings(step, pair, reading, gainReadingThatCounts(pair, now), now, gainPairRule(now))),
    ...caseFindings(step, now),
    ...holdFindings(step, now),
    ...nearFindings(step),
    ...toneRowFindings(step, reading, now),
    ...meterFindings(step, reading, now),
  ];
  const figures = { reading, advice };
  const off = findings.find(({ code, grade }) => grade === 'attention' && OFF_CODES.includes(code));
  if (off === undefined) return { status: 'done', figures, findings };
  return { status: 'out-of-tolerance', figures, findings, action: off.action ?? read };
}

/** By scope the gain goes up until the tops flatten: only then there is a figure to set. */
function beforeOnset(step: ChannelNow, now: Situation): Judgement<GainFigures> {
  const action: Action = { kind: 'capture', judged: 'tone' };
  const trace = tracesAt(now, stepId('gain', step.channel.id), 'load').at(-1);
  const shown = trace?.analysis.channels[trace.channelIndex];
  if (shown === undefined) {
    return {
      status: 'open',
      figures: {},
      action,
      findings: [{ code: 'scope-first', grade: 'note', figures: {}, action }],
    };
  }
  // A capture in parts of full scale has no voltage to go by.
  if (shown.clipping.verdict !== 'clean' || shown.warnings.includes('uncalibrated')) {
    const isFlat = !shown.warnings.includes('uncalibrated') && (shown.clipping.verdict === 'onset' || shown.clipping.verdict === 'clipped');
    // Flat already, and not at a level that two instruments agree on: less, then once more.
    const next: Action = isFlat ? { kind: 'turn-gain', byDb: -SCOPE_STEP_DB } : action;
    return {
      status: 'out-of-tolerance',
      figures: {},
      action: next,
      findings: [{ code: 'scope-unclear', grade: 'attention', figures: { verdict: shown.clipping.verdict, isFlat }, action: next }],
    };
  }
  const endVolt = shortAndCleanVolt(step, now);
  if (endVolt !== undefined) {
    const wantedVolt = step.target?.settingVoltage ?? endVolt;
    const findings = [endStopFinding(step, endVolt, voltageRatioDb(endVolt, wantedVolt), now)];
    const reading = gainReadings(now, step.channel.id).at(-1);
    return reading === undefined
      ? { status: 'open', figures: {}, findings, action: { kind: 'read', reading: 'gain-voltage', unit: 'V' } }
      : { status: 'done', figures: { reading }, findings };
  }
  // Far below what plates and drivers allow a decibel at a time leads nowhere soon; from there on each step is small.
  const belowDb = step.target === undefined ? 0 : voltageRatioDb(step.target.settingVoltage, shown.voltageRms);
  // No further than the drivers bear: where the amplifier flattens beyond that is no business of theirs.
  const bearsVolt = step.power.kind === 'unknown' ? Infinity : Math.sqrt(step.power.driversWatt * step.plannedOhm);
  const roomDb = voltageRatioDb(bearsVolt, shown.voltageRms);
  const byDb = Math.min(Math.max(SCOPE_STEP_DB, belowDb - SCOPE_STEP_DB), Math.max(0, roomDb));
  const up: Action = { kind: 'turn-gain', byDb };
  return {
    status: 'out-of-tolerance',
    figures: {},
    action: up,
    findings: [
      {
        code: 'scope-clean',
        grade: 'attention',
        figures: { voltageRms: shown.voltageRms, byDb },
        action: up,
      },
    ],
  };
}

/** How far the gain goes up between two captures. */
const SCOPE_STEP_DB = 1;

const gainPairRule = ({ settings: { rules } }: Situation): PairRule => ({
  toleranceDb: rules.toleranceDb,
  at: 'gain',
  mend: (wantedVolt, byDb) => ({ kind: 'turn-gain', byDb, to: wantedVolt, unit: 'V' }),
});

/** By so much a peak, or a peak-to-peak figure, lies above the RMS of a sine. */
const PEAK_FACTORS: readonly (readonly [factor: number, named: string])[] = [
  [Math.SQRT2, '1.41'],
  [2 * Math.SQRT2, '2.83'],
];
const PEAK_WITHIN_DB = 0.15;

/** A figure that is just a peak's may be one. */
function peakFinding(volt: number, targetVolt: number): Finding[] {
  const found = PEAK_FACTORS.find(([factor]) => Math.abs(voltageRatioDb(volt, factor * targetVolt)) < PEAK_WITHIN_DB);
  return found === undefined ? [] : [{ code: 'reads-peak', grade: 'note', figures: { factor: found[1] } }];
}

/**
 * The newest capture of this output, wherever it was taken, speaks of the gain as well as a meter does: on target and flattened is not set.
 * One that a later reading lies below was of another setting.
 */
function captureFindings(step: ChannelNow, reading: LoadReading, now: Situation): Finding[] {
  const present = loadConditions(step, now, 'on');
  const own = (['gain', 'load-pair', 'proof'] as const)
    .flatMap((kind) => tracesAt(now, stepId(kind, step.channel.id), 'load'))
    .filter(({ conditions }) => staleReasons(CAPTURE_STANDS_ON, conditions, present).length === 0)
    .sort(byTime);
  const newest = own.at(-1);
  const shown = newest?.analysis.channels[newest.channelIndex];
  // At pair and proof it is their own finding, and nothing here is done while it stands there.
  if (shown !== undefined && isFromUpstream(upstreamOf(now, step.channel), shown)) return [];
  if (newest?.stepId !== stepId('gain', step.channel.id) || shown?.fit === undefined || shown.warnings.includes('other-tone')) return [];
  if (isSeenTwice(newest, own)) return [];
  // Without load it only just begins to flatten: under load the proof tells.
  if (newest.conditions.load === 'off' && isJustOnset(shown, now.settings.rules.limitThdPercent)) return [];
  // The target rests on the capture itself, or the knob was turned down since.
  const isCounted = step.onset?.trace.id === newest.id || step.unloaded?.traceId === newest.id;
  const isPassed = reading.takenAt >= newest.takenAt && (isCounted || shown.voltageRms > reading.value * voltageFactor(PASSED_DB));
  const found = isPassed ? undefined : toTell(traceFinding(newest), newest, own);
  return found?.grade === 'attention' && FLATTENED_CODES.includes(found.code) ? [found] : [];
}

/** Distortion within this of each other is one and the same. A clipping amplifier's rises faster with its level. Common practice, no source. */
const SAME_THD_RATIO = 1.15;
/** Captures nearer in level than this are of one setting. */
const SAME_LEVEL_DB = 0.3;

/** Distorted alike at a second level, the knob goes down as far as it takes to tell whether it comes from before the gain. */
function toTell(found: Finding, newest: LoadTrace, own: readonly LoadTrace[]): Finding {
  if (found.code !== 'capture-distorted' || found.action?.kind !== 'turn-gain') return found;
  const shown = newest.analysis.channels[newest.channelIndex];
  const isAlike = own.some(({ analysis, channelIndex, conditions }) => {
    const other = analysis.channels[channelIndex];
    if (other === undefined || shown === undefined || conditions.toneHz !== newest.conditions.toneHz) return false;
    const [a, b] = [other.thdPercent ?? 0, shown.thdPercent ?? 0];
    const isOther = Math.abs(voltageRatioDb(other.voltageRms, shown.voltageRms)) >= SAME_LEVEL_DB;
    return isOther && other.clipping.verdict === 'distorted' && Math.max(a, b) <= SAME_THD_RATIO * Math.min(a, b);
  });
  const byDb = -(APART_DB + SAME_LEVEL_DB);
  return isAlike && found.action.byDb > byDb
    ? { ...found, action: { kind: 'turn-gain', byDb }, figures: { ...found.figures, byDb: -byDb } }
    : found;
}

/** Flat at another tone of its range with the gain where it is: whatever it reads at its own tone, it comes down. */
function bandFindings({ band, channel }: ChannelNow, reading: LoadReading): Finding[] {
  if (band === undefined || band.trace.stepId !== stepId('bandwidth', channel.id) || reading.takenAt > band.trace.takenAt) return [];
  const found = traceFinding(band.trace);
  if (found.action?.kind !== 'turn-gain') return [];
  const { byDb } = found.action;
  return [
    {
      code: 'band-flat',
      grade: 'attention',
      figures: { toneHz: band.toneHz, byDb: -byDb, channelId: channel.id },
      action: { kind: 'turn-gain', byDb },
    },
  ];
}

/** A capture at the gain is of this output whether the load was on or off. */
const CAPTURE_STANDS_ON = LOAD_STANDS_ON.filter((key) => key !== 'load');
const FLATTENED_CODES: readonly string[] = ['capture-onset', 'capture-clipped', 'capture-distorted'];
/** A meter and a scope agree to this. */
const PASSED_DB = 0.2;

/** What leaves a gain undone; the rest is worth knowing. */
const OFF_CODES: readonly string[] = [
  'voltage-stuck',
  'reads-far-off',
  'gain-at-lowest',
  'distorts-upstream',
  'level-low',
  'level-high',
  'too-coarse',
  'pair-targets-apart',
  'pair-apart',
  'tone-outside',
  'meter-out-of-band',
  'capture-onset',
  'capture-clipped',
  'capture-distorted',
  'band-flat',
];

/** The newest voltage of a channel's gain, where it speaks of the present set-up. */
export function gainReadingThatCounts(step: ChannelNow, now: Situation): LoadReading | undefined {
  const reading = gainReadings(now, step.channel.id).at(-1);
  if (reading === undefined) return undefined;
  const present = loadConditions(step, now, loadAtGain(now.settings.rules));
  return gainStaleReasons(reading, present, step, now).length > 0 ? undefined : reading;
}

function gainFinding({ inputMinVolt, inputMaxVolt }: Amplifier, advice: GainAdvice, targetVolt: number): Finding {
  const { verdict, differenceDb, withinMeterOnly } = advice;
  const figures = { differenceDb, targetVolt };
  if (verdict === 'on-target') {
    return {
      code: 'on-target',
      grade: 'good',
      figures: { ...figures, withinMeterOnly },
    };
  }
  return {
    code: verdict === 'up' ? 'level-low' : 'level-high',
    grade: 'attention',
    figures: {
      at: 'gain',
      ...figures,
      ...(inputMinVolt !== undefined && inputMaxVolt !== undefined && inputMaxVolt > inputMinVolt
        ? { turns: turnsInWords(knobTurns(Math.abs(differenceDb), inputMinVolt, inputMaxVolt)) }
        : {}),
    },
    action: { kind: 'turn-gain', byDb: -differenceDb, to: targetVolt, unit: 'V' },
  };
}

/** A gain knob spans some thirty decibels, and begins at its lowest. Common practice, no source. */
const FAR_LOW_DB = 40;
const FAR_HIGH_DB = 30;
const ASKED_AGAIN = 3;

/** So far off a knob is not the cause: another range of the meter, another tone, a dead stage. Read alike again, it wants a repair. */
function farFinding({ channel, target }: ChannelNow, own: readonly LoadReading[], { differenceDb }: GainAdvice): Finding | undefined {
  const isFar = (offDb: number): boolean => offDb <= -FAR_LOW_DB || offDb >= FAR_HIGH_DB;
  if (target === undefined || !isFar(differenceDb)) return undefined;
  // Readings that made sense before count for nothing here.
  const near = own.findLastIndex(({ value }) => value > 0 && !isFar(voltageRatioDb(value, target.settingVoltage)));
  const isAskedOften = own.length - near > ASKED_AGAIN;
  return {
    code: 'reads-far-off',
    grade: 'attention',
    figures: { differenceDb, channelName: channel.name },
    action: isAskedOften ? { kind: 'describe', what: 'repair' } : { kind: 'read', reading: 'gain-voltage', unit: 'V' },
  };
}

/** The newest capture since then is clean. */
function isCleanSince({ channel }: ChannelNow, since: string, now: Situation): boolean {
  const newest = (['gain', 'proof'] as const)
    .flatMap((kind) => tracesAt(now, stepId(kind, channel.id), 'load'))
    .filter(({ takenAt }) => takenAt >= since)
    .sort(byTime)
    .at(-1);
  return newest?.analysis.channels[newest.channelIndex]?.clipping.verdict === 'clean';
}

/** Turned down and bent by as much as before: the knob does not move what comes out. */
const ALIKE_SHARE = 1.06;

function isFlatAlikeSince({ channel }: ChannelNow, since: string, now: Situation): boolean {
  const thds = (['gain', 'proof'] as const)
    .flatMap((kind) => tracesAt(now, stepId(kind, channel.id), 'load'))
    .filter(({ takenAt }) => takenAt >= since)
    .flatMap(({ analysis, channelIndex }) => {
      const shown = analysis.channels[channelIndex];
      return shown === undefined || shown.clipping.verdict === 'clean' ? [] : (shown.thdPercent ?? []);
    });
  return thds.length >= ALIKE_CAPTURES && Math.max(...thds) <= Math.min(...thds) * ALIKE_SHARE;
}
const ALIKE_CAPTURES = 2;

/** Above the target and no longer falling: the knob is at its lowest, and less has to come in. */
function lowestFinding(
  step: ChannelNow,
  own: readonly LoadReading[],
  { verdict, differenceDb }: GainAdvice,
  now: Situation,
): Finding | undefined {
  const still = verdict === 'down' ? standingStill(own, now.settings) : undefined;
  // A wave that is held at its rails hardly falls either: only a clean one tells that the knob is at its end.
  if (still === undefined || !(isCleanSince(step, still[0]!.takenAt, now) || isFlatAlikeSince(step, still[0]!.takenAt, now)))
    return undefined;
  const volume = volumeBelow(now, differenceDb);
  return {
    code: 'gain-at-lowest',
    grade: 'attention',
    figures: { differenceDb, channelName: step.channel.name, ...(volume === undefined ? {} : { toVolume: volume.workingVolume }) },
    action:
      volume === undefined
        ? { kind: 'describe', what: 'level-before-amplifier' }
        : { kind: 'set-volume', to: volume.workingVolume, unit: 'step', source: { ...volume } },
  };
}

/** Readings below the target that no longer rise: the amplifier has run out of voltage before the target. Only a scope under load says where. */
function stuckFinding(step: ChannelNow, own: readonly LoadReading[], advice: GainAdvice, now: Situation): Finding | undefined {
  if (advice.verdict !== 'up') return undefined;
  const endVolt = shortAndCleanVolt(step, now);
  if (endVolt !== undefined) return endStopFinding(step, endVolt, advice.differenceDb, now);
  // What was read before the last capture of the proof was read against another target.
  const proved = tracesAt(now, stepId('proof', step.channel.id), 'load').at(-1)?.takenAt ?? '';
  const still = standingStill(
    own.filter(({ takenAt }) => takenAt > proved),
    now.settings,
  );
  const last = still?.at(-1)?.value;
  if (last === undefined) return undefined;
  return {
    code: 'voltage-stuck',
    grade: 'attention',
    figures: { voltageRms: last },
    action:
      loadAtGain(now.settings.rules) === 'on' ? { kind: 'capture', judged: 'tone' } : { kind: 'go', to: stepId('proof', step.channel.id) },
  };
}

export const HELD_WORDS: Readonly<Record<HeldBy, string>> = {
  rating: 'the amplifier’s rating',
  supply: 'its supply',
  drivers: 'the drivers’ rating',
  'fuse-rule': 'its fuses (an estimate)',
  onset: 'the clipping onset under load',
  wish: 'your power limit',
};

/** Told with the formula, and no news beside the step. */
const USUAL_HOLDS: readonly HeldBy[] = ['rating', 'drivers'];

/** What holds a channel's power where it is, what lifting that would gain, and what contradicts it. */
function holdFindings({ channel, amplifier, power, plannedOhm, onset, sagDb }: ChannelNow, { settings: { rules } }: Situation): Finding[] {
  if (power.kind === 'unknown') return [];
  const [first, second] = power.holds;
  const findings: Finding[] = [];
  if (first !== undefined && second !== undefined && !USUAL_HOLDS.includes(first.by)) {
    findings.push({
      code: 'held-by',
      grade: 'note',
      figures: { by: first.by, powerWatt: first.powerWatt, nextBy: second.by, nextWatt: second.powerWatt },
    });
  }
  if (power.amplifierBasis === 'guess') {
    findings.push({
      code: 'power-guessed',
      grade: 'attention',
      figures: { powerWatt: power.amplifierWatt },
    });
  }
  const { ratedWatt } = power;
  if (onset !== undefined && ratedWatt !== undefined && first?.by === 'onset' && first.powerWatt < ratedWatt) {
    findings.push({
      code: 'rating-not-made',
      grade: 'attention',
      figures: { onsetVolt: onset.volt, ratedWatt, loadOhm: channel.loadOhm },
    });
  }
  if (onset !== undefined && ratedWatt !== undefined && rules.gainBy === 'scope') {
    const ratedVolt = Math.sqrt(ratedWatt * plannedOhm);
    findings.push({
      code: 'by-meter',
      grade: 'note',
      figures: { ratedVolt, onsetVolt: onset.volt, apartDb: voltageRatioDb(ratedVolt, onset.volt) },
    });
  }
  // The rule's own guess is not held against itself.
  if (
    power.limitedBy !== 'fuse-rule' &&
    power.fuse?.verdict === 'short' &&
    power.fuse.currentAmpere !== undefined &&
    amplifier.fuseAmpere !== undefined
  ) {
    const { currentAmpere } = power.fuse;
    findings.push({
      code: 'fuses-short',
      grade: 'attention',
      figures: { currentAmpere, fuseAmpere: amplifier.fuseAmpere, powerWatt: power.powerWatt },
    });
  }
  if (sagDb > 0) {
    findings.push({
      code: 'sag-counted',
      grade: 'note',
      figures: { sagDb },
    });
  }
  if (channel.blendDb !== undefined && channel.blendDb > 0) {
    findings.push({
      code: 'blended',
      grade: 'note',
      figures: { blendDb: channel.blendDb },
    });
  }
  if (channel.remoteAt !== undefined) {
    findings.push({
      code: 'remote-down',
      grade: 'note',
      figures: { remoteAt: channel.remoteAt },
    });
  }
  return findings;
}

/** What a likely setting of the source does to a channel that was set flat: the volume at which it is still clean. */
function caseFindings({ channel }: ChannelNow, now: Situation): Finding[] {
  const { source } = now.chain;
  const outputs = sourceOutputs(source);
  const output = channel.band === 'bass' && outputs.includes('preamp-sub') ? 'preamp-sub' : outputs[0];
  const hot = output === undefined ? undefined : hottestCase(now, output);
  if (hot?.liftDb === undefined) return [];
  const { settingsCase, liftDb, safeStep } = hot;
  return [
    {
      code: 'case-overdrives',
      grade: 'note',
      figures: {
        caseId: settingsCase.id,
        liftDb,
        ...(safeStep === undefined ? {} : { safeStep }),
        caseName: settingsCase.name,
        workingVolume: source.workingVolume,
      },
    },
  ];
}

const FAR_OUTSIDE_DB = -10;

/** A tone beside a corner sets the gain by the dial's error; behind a filter this steep a voltage says nothing of the gain at all. */
function nearFindings({ channel, toneHz, loss }: ChannelNow): Finding[] {
  if (!loss.isNear) return [];
  const { betterHz } = loss;
  const figures = { toneHz, lossDb: loss.db, ...(betterHz === undefined ? {} : { betterHz }) };
  if (loss.db >= FAR_OUTSIDE_DB || betterHz === undefined) return [{ code: 'tone-near-corner', grade: 'attention', figures }];
  const action: Action = { kind: 'set-filter', channelId: channel.id, channel: { toneHz: betterHz } };
  return [{ code: 'tone-outside', grade: 'attention', figures, action }];
}

/** Beyond its range a meter reads low by an unknown amount: the scope's own RMS counts there. */
function meterFindings({ toneHz }: ChannelNow, reading: LoadReading | undefined, now: Situation): Finding[] {
  const isByScope = reading !== undefined && tracesAt(now, reading.stepId, 'load').some(({ id }) => id === reading.id);
  if (!isBeyondMeter(toneHz, now) || isByScope) return [];
  const figures = { toneHz, highestHz: now.settings.meter.highestHz };
  return [
    {
      code: 'meter-out-of-band',
      grade: reading === undefined ? 'note' : 'attention',
      figures,
      action: { kind: 'capture', judged: 'tone' },
    },
  ];
}
