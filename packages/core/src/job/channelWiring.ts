import { coilsOf, driverLetter, type DriverSpec, type LoadCoil } from '../loads/drivers.ts';
import { parseNetwork, type Network } from '../loads/network.ts';
import { networkOhm } from '../loads/solveNetwork.ts';
import type { Channel } from './chain.ts';

/** A channel's drivers as the planner takes them, lettered in their order. */
export function channelDrivers(channel: Pick<Channel, 'drivers'>): DriverSpec[] {
  return channel.drivers.map(({ coils, coilOhm, ratedPowerWatt }, i) => ({ name: driverLetter(i), coils, coilOhm, ratedPowerWatt }));
}

/** Every coil of a channel. */
export function channelCoils(channel: Pick<Channel, 'drivers'>): LoadCoil[] {
  return coilsOf(channelDrivers(channel));
}

/**
 * The network of a channel's wiring: the one that was chosen, or the only one there is for a single coil; undefined where it is not known.
 *
 * @throws {CoreError} `INPUT_INVALID` where the chosen network does not fit the drivers
 */
export function channelNetwork(channel: Pick<Channel, 'drivers' | 'wiring'>): Network | undefined {
  const coils = channelCoils(channel);
  if (channel.wiring !== undefined) return parseNetwork(channel.wiring.network, new Set(coils.map(({ name }) => name)), '/wiring/network');
  return coils.length === 1 ? { kind: 'coil', coil: coils[0]!.name, reversed: false } : undefined;
}

/** The load that a channel's chosen wiring presents, its series resistor included. @throws {CoreError} as `channelNetwork` */
export function wiredLoadOhm(channel: Pick<Channel, 'drivers' | 'wiring'>): number | undefined {
  const network = channel.wiring === undefined ? undefined : channelNetwork(channel);
  if (network === undefined) return undefined;
  const byName = new Map(channelCoils(channel).map(({ name, nominalOhm }) => [name, nominalOhm]));
  return networkOhm(network, (name) => byName.get(name)!) + (channel.wiring?.seriesResistorOhm ?? 0);
}
