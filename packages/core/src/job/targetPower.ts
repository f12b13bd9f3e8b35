import { amplifierPower } from '../loads/amplifierPower.ts';
import { driversLimitWatt } from '../loads/planLoads.ts';
import { significant } from '../units/formatQuantity.ts';
import type { Amplifier, Chain, Channel } from './chain.ts';
import { channelDrivers, channelNetwork } from './channelWiring.ts';

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
 * Power to set a channel to: what the amplifier makes into its load or what the drivers take together, whichever is less.
 *
 * With the wiring known, the drivers take the power at which the first coil reaches its part of its rating, and a series
 * resistor its own share; without it, the sum of their ratings.
 */
export function targetPower(amplifier: Amplifier, channel: Channel): TargetPower {
  const power = amplifierPower(amplifier.ratings, channel.mode, channel.loadOhm);
  if (power.kind === 'unknown') {
    return {
      kind: 'unknown',
      reason: amplifier.ratings.some(({ mode }) => mode === channel.mode)
        ? `${amplifier.name} names no power for a load as low as ${significant(channel.loadOhm)} ohm. Enter it in the chain, or choose another wiring.`
        : `${amplifier.name} has no rated power for ${channel.mode} use. Enter one in the chain.`,
    };
  }
  if (channel.drivers.length === 0) return { kind: 'unknown', reason: `${channel.name} has no drivers yet. Enter them in the chain.` };
  const driversWatt = driversTakeWatt(channel);
  return {
    kind: 'known',
    powerWatt: Math.min(power.powerWatt, driversWatt),
    limitedBy: driversWatt < power.powerWatt ? 'drivers' : 'amplifier',
    amplifierWatt: power.powerWatt,
    amplifierBasis: power.kind,
    driversWatt,
  };
}

/** The amplifier that drives a channel. */
export const amplifierOf = (chain: Chain, channel: Pick<Channel, 'amplifierId'>): Amplifier | undefined =>
  chain.amplifiers.find(({ id }) => id === channel.amplifierId);

function driversTakeWatt(channel: Channel): number {
  const wiring = channelNetwork(channel);
  const specs = channelDrivers(channel);
  const limit = wiring === undefined ? undefined : driversLimitWatt(wiring, specs);
  if (limit === undefined) return channel.drivers.reduce((sum, driver) => sum + driver.ratedPowerWatt, 0);
  const coilsPart = 1 - (channel.wiring?.seriesResistorOhm ?? 0) / channel.loadOhm;
  return limit / coilsPart;
}
