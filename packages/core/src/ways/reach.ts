import { voltageFactor } from '../levels/decibels.ts';
import { magnitude } from '../numerics/complex.ts';
import type { Chain, HouseRules } from '../job/chain.ts';
import { equaliserBoostDb } from '../job/channelEqualiser.ts';
import { amplifierOf, targetPower } from '../job/targetPower.ts';
import { NOTHING_PROVED, groupAt, type ProvedFilters, type DriverGroup } from './driverGroups.ts';

/** What reaches the drivers of a driver group at one frequency while a full-scale tone plays. */
export interface Reach {
  db: number;
  /** at the driver; unknown where the channel's power is */
  volt?: number;
  /** into its nominal impedance, in watts */
  watt?: number;
}

export function reachAt(chain: Chain, rules: HouseRules, group: DriverGroup, hertz: number, proved: ProvedFilters = NOTHING_PROVED): Reach {
  const share = magnitude(groupAt(group, hertz, proved));
  const db = 20 * Math.log10(share);
  const amplifier = amplifierOf(chain, group.channel);
  const power = amplifier === undefined ? undefined : targetPower(amplifier, group.channel);
  if (power?.kind !== 'known') return { db };
  const { loadOhm, headroomDb = rules.headroomDb, blendDb = 0 } = group.channel;
  // What a band lifts is taken off the gain, as the target has it: at its peak the full voltage arrives, and no more.
  const downDb = headroomDb + blendDb + equaliserBoostDb(group.channel);
  const volt = Math.sqrt(power.powerWatt * loadOhm) * voltageFactor(-downDb) * share;
  const ohm = group.passive.length > 0 ? group.impedance.resistanceOhm : loadOhm;
  return { db, volt, watt: volt ** 2 / ohm };
}
