import type { Channel } from '../../job/chain.ts';
import { byTime, type LoadReading, type LoadTrace } from '../../job/records.ts';
import { once, readingsAt, stepId, tracesAt, type Situation } from './situation.ts';

/** A scope's last digit that counts, as a share of what it shows. Common practice, no source. */
const SCOPE_DIGIT = 0.005;

/** The voltages of a channel's gain, oldest first: by the meter, and by the scope where the tone lies beyond what the meter reads. */
export const gainReadings = (now: Situation, channelId: string): LoadReading[] =>
  voltagesAt(now, stepId('gain', channelId), 'gain-voltage');

/** The voltages of a channel under its load at its proof, oldest first, by meter and scope alike. */
export const loadedReadings = (now: Situation, channelId: string): LoadReading[] =>
  voltagesAt(now, stepId('proof', channelId), 'loaded-voltage');

/** Voltages that say how high a channel is set: at its gain, or under its load where it has none, inside the source. */
export function settingReadings(now: Situation, { id, amplifierId }: Pick<Channel, 'id' | 'amplifierId'>): LoadReading[] {
  const isInSource = now.chain.amplifiers.find((amplifier) => amplifier.id === amplifierId)?.isInSource === true;
  return isInSource ? loadedReadings(now, id) : gainReadings(now, id);
}

const keptReadings = once((_now: Situation): Map<string, LoadReading[]> => new Map());

function voltagesAt(now: Situation, id: string, kind: string): LoadReading[] {
  const kept = keptReadings(now);
  const known = kept.get(id);
  if (known !== undefined) return known;
  const byMeter = readingsAt(now, id, kind, 'load');
  const byScope = tracesAt(now, id, 'load').flatMap((trace) => (isBeyondMeter(trace.conditions.toneHz, now) ? voltageOf(trace, kind) : []));
  const all = byScope.length === 0 ? byMeter : [...byMeter, ...byScope].sort(byTime);
  kept.set(id, all);
  return all;
}

/** The RMS voltage that a capture shows, as a reading. */
function voltageOf({ id, stepId: at, analysis, channelIndex, conditions, takenAt }: LoadTrace, kind: string): LoadReading[] {
  const shown = analysis.channels[channelIndex];
  if (shown?.fit === undefined || shown.warnings.includes('uncalibrated') || shown.warnings.includes('other-tone')) return [];
  const value = shown.voltageRms;
  return [{ id, stepId: at, kind, value, resolution: value * SCOPE_DIGIT, conditions, takenAt }];
}

/** Whether a tone is beyond what the meter reads, so that a scope has to. */
export const isBeyondMeter = (toneHz: number, { settings: { meter } }: Situation): boolean => toneHz > meter.highestHz;
