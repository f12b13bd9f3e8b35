import type { Finding } from '../../../findings.ts';
import { judgeGain } from '../../../gain/meter.ts';
import type { LoadReading } from '../../../job/records.ts';
import { voltageFactor } from '../../../levels/decibels.ts';
import { formatQuantity } from '../../../units/formatQuantity.ts';
import type { ChannelNow } from '../../frame/channels.ts';
import { readingsAt, stepId, tracesAt, type Situation } from '../../frame/situation.ts';

/** Readings that no longer rise lie this close together, in dB, with a good meter. Common practice, no source. */
const STILL_DB = 0.15;
const STILL_READINGS = 3;

export const END_STOP_CHECK = { id: 'gain-at-end', words: 'gain knob at its end stop' } as const;

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
 * A channel that is clean under its load and still short of its target while its readings stand still: its gain is at its end stop, or
 * nobody turned it. Which of the two only the tuner can say.
 */
export function isShortAndClean(step: ChannelNow, now: Situation): boolean {
  const target = step.target?.settingVoltage;
  const still = standingStill(readingsAt(now, stepId('gain', step.channel.id), 'gain-voltage', 'load'), now.settings);
  const newest = still?.at(-1);
  if (target === undefined || still === undefined || newest === undefined) return false;
  if (judgeGain(newest.value, newest.resolution, target, now.settings.rules.toleranceDb, now.settings.meter).verdict !== 'up') return false;
  const captures = [...tracesAt(now, stepId('proof', step.channel.id), 'load'), ...tracesAt(now, stepId('gain', step.channel.id), 'load')];
  const last = captures
    .filter(({ conditions }) => conditions.load === 'on')
    .sort((a, b) => (a.takenAt < b.takenAt ? -1 : 1))
    .at(-1);
  return last !== undefined && last.takenAt >= still[0]!.takenAt && last.analysis.channels[last.channelIndex]?.clipping.verdict === 'clean';
}

/** What it means, and the ways out. */
export function endStopFinding({ amplifier }: ChannelNow, volt: number, differenceDb: number, now: Situation): Finding {
  const { source } = now.chain;
  const feed = source.workingVolume < source.volumeSteps ? 'a higher working volume, where the source stays clean there' : 'more voltage';
  const sensitivity = amplifier.inputMinVolt === undefined ? '' : ` It wants ${formatQuantity(amplifier.inputMinVolt, 'V')} at least.`;
  return {
    code: 'gain-at-end',
    grade: 'note',
    figures: { voltageRms: volt, differenceDb },
    words: `Clean under load, and ${formatQuantity(-differenceDb, 'dB')} short: it stands still at ${formatQuantity(volt, 'V')}. With the gain at its end stop the signal into this amplifier is too weak.${sensitivity}`,
    next: `Tick the end stop to keep it so; or feed it more: ${feed}, or a hotter output.`,
  };
}
