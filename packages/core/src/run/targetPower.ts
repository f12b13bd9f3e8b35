import type { Amplifier, Channel } from './chain.ts';

export type TargetPower =
  | {
      kind: 'known';
      powerWatt: number;
      limitedBy: 'amplifier' | 'drivers';
      amplifierWatt: number;
      /** rated: the plate names this load; estimated: same voltage as at the next lower load that it names */
      amplifierBasis: 'rated' | 'estimated';
      driversWatt: number;
    }
  | { kind: 'unknown'; reason: string };

/**
 * Power to set a channel to: the amplifier's rating at the load or the drivers' ratings together, whichever is less.
 *
 * Into a load that the plate does not name, the amplifier is taken to hold the voltage of the next lower load that it does
 * name (V² / R falls as R rises). Below the lowest named load nothing is assumed.
 */
export function targetPower(amplifier: Amplifier, channel: Channel): TargetPower {
  const ratings = amplifier.ratings.filter(({ mode }) => mode === channel.mode).sort((a, b) => a.loadOhm - b.loadOhm);
  const exact = ratings.find(({ loadOhm }) => Math.abs(loadOhm / channel.loadOhm - 1) < 0.005);
  const lower = ratings.findLast(({ loadOhm }) => loadOhm < channel.loadOhm);
  const rating = exact ?? lower;
  if (rating === undefined) {
    return {
      kind: 'unknown',
      reason:
        ratings.length === 0
          ? `${amplifier.name} has no rated power for ${channel.mode} use. Enter one in the chain.`
          : `${amplifier.name} names no power for a load as low as ${channel.loadOhm} ohm. Enter it in the chain, or choose another wiring.`,
    };
  }
  const amplifierWatt = exact === undefined ? (rating.powerWatt * rating.loadOhm) / channel.loadOhm : rating.powerWatt;
  const driversWatt = channel.drivers.reduce((sum, driver) => sum + driver.ratedPowerWatt, 0);
  if (driversWatt === 0) return { kind: 'unknown', reason: `${channel.name} has no drivers yet. Enter them in the chain.` };
  const limitedBy = driversWatt < amplifierWatt ? 'drivers' : 'amplifier';
  return {
    kind: 'known',
    powerWatt: Math.min(amplifierWatt, driversWatt),
    limitedBy,
    amplifierWatt,
    amplifierBasis: exact === undefined ? 'estimated' : 'rated',
    driversWatt,
  };
}
