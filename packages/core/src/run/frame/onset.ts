import type { Amplifier, Channel, HouseRules } from '../../job/chain.ts';
import { channelNetwork } from '../../job/channelWiring.ts';
import type { LoadTrace } from '../../job/records.ts';
import { networkText } from '../../loads/network.ts';
import { stepId, tracesAt, type Situation } from './situation.ts';

/** Kept below the first flattening, where the house says nothing: what the eye and a scope of eight bits leave open. Common practice, no source. */
const USUAL_MARGIN_DB = 0.5;
export const onsetMarginDb = ({ onsetMarginDb: own }: Pick<HouseRules, 'onsetMarginDb'>): number => own ?? USUAL_MARGIN_DB;

/** Whether the load is on while a gain is set: by scope it always is, since only a loaded amplifier shows where it flattens. */
export const loadAtGain = ({
  gainBy,
  loadWhileSetting,
}: Pick<HouseRules, 'gainBy' | 'loadWhileSetting'>): HouseRules['loadWhileSetting'] => (gainBy === 'scope' ? 'on' : loadWhileSetting);

/** The highest clean voltage of a channel under its load, as its captures show it. */
export interface Onset {
  /** RMS of the largest clean sine */
  volt: number;
  /** seen: the tops just begin to flatten; estimated: from the rails of a wave that is held at them */
  basis: 'seen' | 'estimated';
  trace: LoadTrace;
}

/**
 * Where an amplifier begins to clip under the load that hangs on it now, by its captures at the gain and at the proof.
 *
 * The newest flattened one counts, unless a later clean one lies higher. One that was taken with another load, wiring or amplifier,
 * or without any load, says nothing of this one.
 *
 * @returns undefined while nothing flattened was seen
 */
export function onsetNow(now: Situation, channel: Channel, amplifier: Amplifier): Onset | undefined {
  const network = channelNetwork(channel);
  const wired = network === undefined ? undefined : networkText(network);
  const own = [...tracesAt(now, stepId('gain', channel.id), 'load'), ...tracesAt(now, stepId('proof', channel.id), 'load')]
    .filter(
      ({ conditions: { load, loadOhm, mode, amplifierId, network: then } }) =>
        load === 'on' && loadOhm === channel.loadOhm && mode === channel.mode && amplifierId === amplifier.id && then === wired,
    )
    .sort((a, b) => (a.takenAt < b.takenAt ? -1 : a.takenAt > b.takenAt ? 1 : 0));
  let onset: Onset | undefined;
  for (const trace of own) {
    const shown = trace.analysis.channels[trace.channelIndex];
    if (shown === undefined || shown.warnings.includes('uncalibrated')) continue;
    const { verdict } = shown.clipping;
    if (verdict === 'onset') onset = { volt: shown.voltageRms, basis: 'seen', trace };
    if (verdict === 'clipped') {
      const rail = Math.min(Math.abs(shown.peakPositiveVolt), Math.abs(shown.peakNegativeVolt));
      onset = { volt: rail / Math.SQRT2, basis: 'estimated', trace };
    }
    if (verdict === 'clean' && onset !== undefined && shown.voltageRms > onset.volt) onset = undefined;
  }
  return onset;
}
