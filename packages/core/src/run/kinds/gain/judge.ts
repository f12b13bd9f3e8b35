import type { Action, Finding } from '../../../findings.ts';
import { judgeGain, knobTurns, turnsInWords, type GainAdvice } from '../../../gain/meter.ts';
import type { Amplifier } from '../../../job/chain.ts';
import type { LoadConditions } from '../../../job/conditions.ts';
import type { LoadReading } from '../../../job/records.ts';
import { sourceOutputs } from '../../../job/source.ts';
import { voltageFactor } from '../../../levels/decibels.ts';
import { formatQuantity, signedDb } from '../../../units/formatQuantity.ts';
import type { ChannelNow } from '../../frame/channels.ts';
import { loadConditions } from '../../frame/conditions.ts';
import { pairFindings, pairNow, type PairRule } from '../../frame/pairs.ts';
import { staleFinding, type Judgement } from '../../frame/judgement.ts';
import { readingsAt, stepId, type Situation } from '../../frame/situation.ts';
import { staleReasons, type ConditionKey } from '../../frame/staleness.ts';
import { coarseFinding } from '../../frame/typedDigits.ts';
import { hottestCase } from '../ceiling/caseLift.ts';

export interface GainFigures {
  /** the newest voltage */
  reading?: LoadReading;
  advice?: GainAdvice;
}

export const LOAD_STANDS_ON: readonly ConditionKey[] = [
  'source',
  'volume',
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

const gainStaleReasons = ({ conditions }: LoadReading, present: LoadConditions): string[] =>
  staleReasons(conditions.load === 'off' && present.load === 'off' ? UNLOADED_STANDS_ON : LOAD_STANDS_ON, conditions, present);

/** The voltages of a channel's gain, oldest first. */
export const gainReadings = (now: Situation, channelId: string): LoadReading[] =>
  readingsAt(now, stepId('gain', channelId), 'gain-voltage', 'load');

/** Where a gain stands: the newest voltage against the target. */
export function judgeGainStep(step: ChannelNow, now: Situation): Judgement<GainFigures> {
  const { settings } = now;
  const read: Action = { kind: 'read', reading: 'gain-voltage', unit: 'V' };
  if (step.power.kind === 'unknown') {
    const action: Action = { kind: 'describe', what: 'power' };
    return {
      status: 'open',
      figures: {},
      action,
      findings: [{ code: 'power-unknown', grade: 'attention', figures: { channelId: step.channel.id }, words: step.power.reason, action }],
    };
  }
  const own = gainReadings(now, step.channel.id);
  const reading = own.at(-1);
  const target = step.target?.settingVoltage;
  if (reading === undefined || target === undefined) {
    return { status: 'open', figures: {}, action: read, findings: [...nearFindings(step), ...meterFindings(step, now)] };
  }
  const reasons = gainStaleReasons(reading, loadConditions(step, now, settings.rules.loadWhileSetting));
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
          figures: { voltageRms: reading.value },
          words: 'The meter reads nothing.',
          next: 'Check that the tone plays, the meter is on AC volts, and the probes sit on this channel’s terminals.',
          action: read,
        },
      ],
    };
  }
  const advice = judgeGain(reading.value, reading.resolution, target, settings.rules.toleranceDb, settings.meter);
  const first = advice.verdict === 'too-coarse' ? coarseFinding(reading, now, 'gain-voltage') : gainFinding(step.amplifier, advice, target);
  const pair = pairNow(now, step);
  const findings = [
    first,
    ...(pair === undefined ? [] : pairFindings(step, pair, reading, gainReadingThatCounts(pair, now), now, gainPairRule(now))),
    ...caseFindings(step, now),
    ...stuckFinding(own, advice),
    ...nearFindings(step),
    ...meterFindings(step, now),
  ];
  const figures = { reading, advice };
  const off = findings.find(({ code, grade }) => grade === 'attention' && OFF_CODES.includes(code));
  if (off === undefined) return { status: 'done', figures, findings };
  return { status: 'out-of-tolerance', figures, findings, action: off.action ?? read };
}

const gainPairRule = ({ settings: { rules } }: Situation): PairRule => ({
  toleranceDb: rules.toleranceDb,
  mend: (wantedVolt, byDb) => ({
    next: `Bring this one to ${formatQuantity(wantedVolt, 'V')}.`,
    action: { kind: 'turn-gain', byDb, to: wantedVolt, unit: 'V' },
  }),
});

/** What leaves a gain undone; the rest is worth knowing. */
const OFF_CODES: readonly string[] = ['level-low', 'level-high', 'too-coarse', 'pair-targets-apart', 'pair-apart'];

/** The newest voltage of a channel's gain, where it speaks of the present set-up. */
export function gainReadingThatCounts(step: ChannelNow, now: Situation): LoadReading | undefined {
  const reading = gainReadings(now, step.channel.id).at(-1);
  if (reading === undefined) return undefined;
  const present = loadConditions(step, now, now.settings.rules.loadWhileSetting);
  return gainStaleReasons(reading, present).length > 0 ? undefined : reading;
}

function gainFinding({ inputMinVolt, inputMaxVolt }: Amplifier, advice: GainAdvice, targetVolt: number): Finding {
  const { verdict, differenceDb, withinMeterOnly } = advice;
  const figures = { differenceDb, targetVolt };
  if (verdict === 'on-target') {
    return {
      code: 'on-target',
      grade: 'good',
      figures,
      words: withinMeterOnly
        ? `On target: ${signedDb(differenceDb)} is less than this meter can tell apart.`
        : `On target: ${signedDb(differenceDb)} from the figure.`,
    };
  }
  const turn =
    inputMinVolt !== undefined && inputMaxVolt !== undefined && inputMaxVolt > inputMinVolt
      ? `, ${turnsInWords(knobTurns(Math.abs(differenceDb), inputMinVolt, inputMaxVolt))}`
      : '';
  const size = signedDb(Math.abs(differenceDb)).replace('+', '');
  return {
    code: verdict === 'up' ? 'level-low' : 'level-high',
    grade: 'attention',
    figures,
    words: `${size} too ${verdict === 'up' ? 'low' : 'high'}.`,
    next: `Turn the gain ${verdict} ${size}${turn}, then read again.`,
    action: { kind: 'turn-gain', byDb: -differenceDb, to: targetVolt, unit: 'V' },
  };
}

/** Three readings below the target that no longer rise: the amplifier has run out of voltage before the target. */
function stuckFinding(own: readonly LoadReading[], advice: GainAdvice): Finding[] {
  if (advice.verdict !== 'up') return [];
  const volts = own.slice(-3).map(({ value }) => value);
  const last = volts.at(-1);
  if (last === undefined || volts.length < 3 || Math.max(...volts) > Math.min(...volts) * voltageFactor(0.15)) return [];
  return [
    {
      code: 'voltage-stuck',
      grade: 'attention',
      figures: { voltageRms: last },
      words: `Three readings stand still at ${formatQuantity(last, 'V')}: if the gain went up in between, the amplifier is clipping or limiting before the target.`,
      next: 'Stop turning. Look at the output with the scope, and check the supply voltage and the source.',
    },
  ];
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
      figures: { caseId: settingsCase.id, liftDb, ...(safeStep === undefined ? {} : { safeStep }) },
      words: `“${settingsCase.name}” lifts what comes in here by ${formatQuantity(liftDb, 'dB')}: with it this channel clips at volume ${source.workingVolume}.`,
      next:
        safeStep === undefined
          ? 'Whoever sets the source that way keeps the volume so much lower.'
          : `With it the volume is clean up to ${safeStep}; the owner is to know that.`,
    },
  ];
}

const FAR_OUTSIDE_DB = -10;

/** A tone beside a corner sets the gain by the dial's error. */
function nearFindings({ toneHz, loss }: ChannelNow): Finding[] {
  if (!loss.isNear) return [];
  const tone = formatQuantity(toneHz, 'Hz');
  const taken = formatQuantity(-loss.db, 'dB');
  const isFar = loss.db < FAR_OUTSIDE_DB;
  return [
    {
      code: isFar ? 'tone-outside' : 'tone-near-corner',
      grade: 'attention',
      figures: { toneHz, lossDb: loss.db, ...(loss.betterHz === undefined ? {} : { betterHz: loss.betterHz }) },
      words: isFar
        ? `${tone} lies outside of what this channel plays: the filters take ${taken} off it.`
        : `${tone} is too near a corner to set this gain with: the filters take ${taken} off it, and a dial a little off changes that much.`,
      next:
        loss.betterHz === undefined
          ? 'Prove the filters first.'
          : `Take ${formatQuantity(loss.betterHz, 'Hz')} for this channel, or prove the filters first.`,
    },
  ];
}

function meterFindings({ toneHz }: ChannelNow, { settings: { meter } }: Situation): Finding[] {
  if (toneHz <= meter.highestHz) return [];
  return [
    {
      code: 'meter-out-of-band',
      grade: 'attention',
      figures: { toneHz, highestHz: meter.highestHz },
      words: `The meter is good to ${formatQuantity(meter.highestHz, 'Hz')} and the tone is ${formatQuantity(toneHz, 'Hz')}: it may read low.`,
      next: 'Take a lower tone in the house rules, or use the scope.',
    },
  ];
}
