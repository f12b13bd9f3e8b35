import type { Finding } from '../../../findings.ts';
import { judgeGain } from '../../../gain/meter.ts';
import type { LoadReading } from '../../../job/records.ts';
import { voltageFactor, voltageRatioDb } from '../../../levels/decibels.ts';
import { formatQuantity } from '../../../units/formatQuantity.ts';
import type { ChannelNow } from '../../frame/channels.ts';
import { gainReadings } from '../../frame/gainReadings.ts';
import { stepId, tracesAt, type Situation } from '../../frame/situation.ts';
import type { Check } from '../../frame/stepKind.ts';

/** Readings that no longer rise lie this close together, in dB, with a good meter. Common practice, no source. */
const STILL_DB = 0.15;
const STILL_READINGS = 3;

/** The newest readings where they stand still, newest last; undefined where there are too few or they move. */
export function standingStill(own: readonly LoadReading[], { meter }: Situation['settings']): readonly LoadReading[] | undefined {
  const last = own.slice(-STILL_READINGS);
  if (last.length < STILL_READINGS) return undefined;
  const volts = last.map(({ value }) => value);
  // A poor meter wanders by half of what it may be off.
  const apart = Math.max(voltageFactor(STILL_DB), 1 + meter.percent / 100);
  return Math.min(...volts) > 0 && Math.max(...volts) <= Math.min(...volts) * apart ? last : undefined;
}

/**
 * Where a channel is clean under its load and still short of its target while its readings stand still: its gain is at its end stop, or
 * nobody turned it. Which of the two only the tuner can say.
 *
 * @returns the RMS voltage at which it stands; undefined where it does not
 */
export function shortAndCleanVolt(step: ChannelNow, now: Situation): number | undefined {
  const target = step.target?.settingVoltage;
  if (now.settings.rules.gainBy === 'scope' && step.onset === undefined && step.band === undefined && step.isCleanToDrivers !== true)
    return cleanByScope(step, now);
  const still = standingStill(gainReadings(now, step.channel.id), now.settings);
  const newest = still?.at(-1);
  if (target === undefined || still === undefined || newest === undefined) return undefined;
  const { rules, meter } = now.settings;
  if (judgeGain(newest.value, newest.resolution, target, rules.toleranceDb, meter).verdict !== 'up') return undefined;
  const captures = [...tracesAt(now, stepId('proof', step.channel.id), 'load'), ...tracesAt(now, stepId('gain', step.channel.id), 'load')];
  const last = captures
    .filter(({ conditions }) => conditions.load === 'on')
    .sort((a, b) => (a.takenAt < b.takenAt ? -1 : 1))
    .at(-1);
  const isClean =
    last !== undefined && last.takenAt >= still[0]!.takenAt && last.analysis.channels[last.channelIndex]?.clipping.verdict === 'clean';
  return isClean ? newest.value : undefined;
}

/** By scope: the newest captures at the gain are clean, and turning the knob up between them changed nothing. */
function cleanByScope({ channel, amplifier }: ChannelNow, now: Situation): number | undefined {
  const { workingVolume } = now.chain.source;
  const last = tracesAt(now, stepId('gain', channel.id), 'load')
    .filter(
      ({ conditions: { load, sourceVolume, amplifierId } }) =>
        load === 'on' && sourceVolume === workingVolume && amplifierId === amplifier.id,
    )
    .slice(-STILL_READINGS)
    .map(({ analysis, channelIndex }) => analysis.channels[channelIndex]);
  if (last.length < STILL_READINGS) return undefined;
  const isClean = last.every((shown) => shown?.clipping.verdict === 'clean' && !shown.warnings.includes('uncalibrated'));
  const volts = last.map((shown) => shown?.voltageRms ?? 0);
  const isStill = Math.min(...volts) > 0 && voltageRatioDb(Math.max(...volts), Math.min(...volts)) <= STILL_DB;
  return isClean && isStill ? volts.at(-1) : undefined;
}

/** The tick stands for the voltage that it was given at: turned down later, it is asked for anew. */
export const endStopCheck = (volt: number): Check => ({
  id: `gain-at-end-${volt.toPrecision(2)}`,
  words: `gain knob at its end stop, reading ${formatQuantity(volt, 'V')}`,
});

/** What it means, and the ways out. */
export function endStopFinding({ amplifier }: ChannelNow, volt: number, differenceDb: number, now: Situation): Finding {
  const { source } = now.chain;
  return {
    code: 'gain-at-end',
    grade: 'note',
    figures: {
      voltageRms: volt,
      differenceDb,
      ...(amplifier.inputMinVolt === undefined ? {} : { inputMinVolt: amplifier.inputMinVolt }),
      workingVolume: source.workingVolume,
      volumeSteps: source.volumeSteps,
    },
  };
}
