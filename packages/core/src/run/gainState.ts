import type { Finding } from '../findings.ts';
import { judgeGain, knobTurns, turnsInWords, type GainAdvice } from '../gain/meter.ts';
import { voltageFactor } from '../levels/decibels.ts';
import { formatQuantity, signedDb } from '../units/formatQuantity.ts';
import type { Chain } from './chain.ts';
import { isToneReading, type ToneReading, type TuneSettings } from './records.ts';
import { staleReasons } from './staleness.ts';
import { newest, type RunRecords, type StepState } from './state.ts';
import { conditionsNow, type ChannelStep } from './steps.ts';

/** Where a gain stands: the newest voltage against the target. */
export function gainState(step: ChannelStep, chain: Chain, settings: TuneSettings, { readings, marks }: RunRecords): StepState {
  if (step.power.kind === 'unknown') return { status: 'open', findings: [{ grade: 'attention', text: step.power.reason }] };
  const own = readings
    .filter(isToneReading)
    .filter((r) => r.stepId === step.id && r.kind === 'gain-voltage' && r.voidedReason === undefined);
  const reading = newest(own, () => true);
  const target = step.target?.settingVoltage;
  if (reading === undefined || target === undefined)
    return { status: 'open', findings: [...nearFindings(step), ...meterFindings(step, settings)] };

  const reasons = staleReasons(reading.conditions, conditionsNow(step, chain, settings.rules, marks));
  if (reasons.length > 0) {
    return {
      status: 'stale',
      gain: { reading },
      findings: [{ grade: 'stale', text: `The last reading no longer counts: ${reasons.join('; ')}.`, next: 'Read the voltage again.' }],
    };
  }
  if (reading.value <= 0) {
    return {
      status: 'out-of-tolerance',
      gain: { reading },
      findings: [
        {
          grade: 'attention',
          text: 'The meter reads nothing.',
          next: 'Check that the tone plays, the meter is on AC volts, and the probes sit on this channel’s terminals.',
        },
      ],
    };
  }
  const advice = judgeGain(reading.value, reading.resolution, target, settings.rules.toleranceDb, settings.meter);
  const findings = [gainFinding(step, advice), ...stuckFinding(own, advice), ...nearFindings(step), ...meterFindings(step, settings)];
  return { status: advice.verdict === 'on-target' ? 'done' : 'out-of-tolerance', gain: { reading, advice }, findings };
}

function gainFinding(step: ChannelStep, advice: GainAdvice): Finding {
  const { verdict, differenceDb, withinMeterOnly } = advice;
  if (verdict === 'on-target') {
    return {
      grade: 'good',
      text: withinMeterOnly
        ? `On target: ${signedDb(differenceDb)} is less than this meter can tell apart.`
        : `On target: ${signedDb(differenceDb)} from the figure.`,
    };
  }
  const { inputMinVolt, inputMaxVolt } = step.amplifier;
  const turn =
    inputMinVolt !== undefined && inputMaxVolt !== undefined && inputMaxVolt > inputMinVolt
      ? `, ${turnsInWords(knobTurns(Math.abs(differenceDb), inputMinVolt, inputMaxVolt))}`
      : '';
  const size = signedDb(Math.abs(differenceDb)).replace('+', '');
  return verdict === 'up'
    ? { grade: 'attention', text: `${size} too low.`, next: `Turn the gain up ${size}${turn}, then read again.` }
    : { grade: 'attention', text: `${size} too high.`, next: `Turn the gain down ${size}${turn}, then read again.` };
}

/** Three readings below the target that no longer rise: the amplifier has run out of voltage before the target. */
function stuckFinding(own: readonly ToneReading[], advice: GainAdvice): Finding[] {
  if (advice.verdict !== 'up') return [];
  const lastThree = [...own].sort((a, b) => a.takenAt.localeCompare(b.takenAt)).slice(-3);
  const volts = lastThree.map(({ value }) => value);
  const last = volts.at(-1);
  if (last === undefined || volts.length < 3 || Math.max(...volts) > Math.min(...volts) * voltageFactor(0.15)) return [];
  return [
    {
      grade: 'attention',
      text: `Three readings stand still at ${formatQuantity(last, 'V')}: if the gain went up in between, the amplifier is clipping or limiting before the target.`,
      next: 'Stop turning. Look at the output with the scope, and check the supply voltage and the source.',
    },
  ];
}

const FAR_OUTSIDE_DB = -10;

/** A tone beside a corner sets the gain by the dial's error. */
function nearFindings({ toneHz, loss }: ChannelStep): Finding[] {
  if (!loss.isNear) return [];
  const tone = formatQuantity(toneHz, 'Hz');
  return [
    {
      grade: 'attention',
      text:
        loss.db < FAR_OUTSIDE_DB
          ? `${tone} lies outside of what this channel plays: the filters take ${formatQuantity(-loss.db, 'dB')} off it.`
          : `${tone} is too near a corner to set this gain with: the filters take ${formatQuantity(-loss.db, 'dB')} off it, and a dial a little off changes that much.`,
      next:
        loss.betterHz === undefined
          ? 'Prove the filters first.'
          : `Take ${formatQuantity(loss.betterHz, 'Hz')} for this channel, or prove the filters first.`,
    },
  ];
}

function meterFindings(step: ChannelStep, { meter }: TuneSettings): Finding[] {
  if (step.toneHz <= meter.highestHz) return [];
  return [
    {
      grade: 'attention',
      text: `The meter is good to ${formatQuantity(meter.highestHz, 'Hz')} and the tone is ${formatQuantity(step.toneHz, 'Hz')}: it may read low.`,
      next: 'Take a lower tone in the house rules, or use the scope.',
    },
  ];
}
