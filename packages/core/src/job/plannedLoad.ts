import type { Channel, HouseRules } from './chain.ts';
import { loadImpedanceAt, lowestImpedance } from '../impedance/channelImpedance.ts';

/** Where a channel plays, at the widest. */
export const PLAYED_RANGE = { bass: { from: 20, to: 250 }, 'full-range': { from: 20, to: 20_000 } } as const;

/**
 * The load, in ohm, that a channel's power is reckoned with: the nominal one, or by the house's rule what was measured of it.
 *
 * Below nominal it never goes: a rule that counts on a rise is no reason to ask the amplifier for more current.
 *
 * @param toneHz - the tone that sets the channel
 */
export function plannedLoadOhm(channel: Channel, toneHz: number, { plannedLoad }: Pick<HouseRules, 'plannedLoad'>): number {
  const { impedance, loadOhm, band } = channel;
  if (impedance === undefined || plannedLoad === undefined || plannedLoad === 'nominal') return loadOhm;
  const { from, to } = PLAYED_RANGE[band];
  // A stretch that nobody measured may be the lowest of all.
  const isWhole = impedance.kind === 'model' || (impedance.rows[0]!.frequencyHz <= from && impedance.rows.at(-1)!.frequencyHz >= to);
  if (plannedLoad === 'lowest' && !isWhole) return loadOhm;
  const found = plannedLoad === 'tone' ? loadImpedanceAt(impedance, toneHz) : lowestImpedance(impedance, from, to);
  return Math.max(loadOhm, found?.ohm ?? loadOhm);
}
