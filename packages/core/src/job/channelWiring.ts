import { coilsOf, driverLetter, type DriverSpec, type LoadCoil } from '../loads/drivers.ts';
import { parseNetwork, type Network } from '../loads/network.ts';
import { CoreError } from '../coreError.ts';
import { passiveOrder } from '../crossovers/passive.ts';
import { networkLoad } from '../loads/branches.ts';
import { LOAD_SLACK } from '../loads/hookup.ts';
import type { Chain, Channel, PassiveFilter } from './chain.ts';

/** A channel's drivers as the planner takes them, lettered in their order. */
export function channelDrivers(channel: Pick<Channel, 'drivers' | 'passive'>): DriverSpec[] {
  return channel.drivers.map(({ id, coils, coilOhm, coilDcOhm, ratedPowerWatt, inductanceHenry }, i): DriverSpec => {
    const parts = (channel.passive ?? []).filter((each) => each.driverId === id && passiveOrder(each) > 0);
    return {
      name: driverLetter(i),
      coils,
      coilOhm,
      ratedPowerWatt,
      ...(coilDcOhm === undefined ? {} : { coilDcOhm }),
      ...(parts.length === 0 ? {} : { branch: { parts, ...(parts.some(isLabelled) ? { isLabelled: true } : {}) } }),
      ...(inductanceHenry === undefined ? {} : { inductanceHenry }),
    };
  });
}

const isLabelled = ({ printed }: PassiveFilter): boolean => printed !== undefined;

const keptCoils = new WeakMap<object, LoadCoil[]>();

/** Every coil of a channel. */
export function channelCoils(channel: Pick<Channel, 'drivers' | 'passive'>): LoadCoil[] {
  const known = keptCoils.get(channel);
  if (known !== undefined) return known;
  const coils = coilsOf(channelDrivers(channel));
  keptCoils.set(channel, coils);
  return coils;
}

const keptNetworks = new WeakMap<object, Network>();

/**
 * The network of a channel's wiring: the one that was chosen, or the only one there is for a single coil; undefined where it is not known.
 *
 * @throws {CoreError} `INPUT_INVALID` where the chosen network does not fit the drivers
 */
export function channelNetwork(channel: Pick<Channel, 'drivers' | 'wiring'>): Network | undefined {
  const coils = channelCoils(channel);
  if (channel.wiring !== undefined) {
    const known = keptNetworks.get(channel);
    if (known !== undefined) return known;
    const network = parseNetwork(channel.wiring.network, new Set(coils.map(({ name }) => name)), '/wiring/network');
    keptNetworks.set(channel, network);
    return network;
  }
  return coils.length === 1 ? { kind: 'coil', coil: coils[0]!.name, reversed: false } : undefined;
}

/** The load that a channel's chosen wiring presents, its series resistor included. @throws {CoreError} as `channelNetwork` */
export function wiredLoadOhm(channel: Pick<Channel, 'drivers' | 'wiring' | 'passive'>): number | undefined {
  const network = channel.wiring === undefined ? undefined : channelNetwork(channel);
  if (network === undefined) return undefined;
  return networkLoad(network, channelCoils(channel)).nominalOhm + (channel.wiring?.seriesResistorOhm ?? 0);
}

const kept = new WeakMap<Chain, Chain>();

/**
 * The chain with every load as its wiring presents it behind passive parts: a part that was put in or taken out changes the load of a
 * wiring that was planned before. The same object where nothing changes.
 */
export function withTrueLoads(chain: Chain): Chain {
  const known = kept.get(chain);
  if (known !== undefined) return known;
  const channels = chain.channels.map((channel) => {
    if (channel.passive === undefined || channel.passive.length === 0 || channel.wiring === undefined) return channel;
    const loadOhm = trueLoad(channel);
    if (loadOhm === undefined || Math.abs(loadOhm / channel.loadOhm - 1) <= LOAD_SLACK) return channel;
    return { ...channel, loadOhm };
  });
  const isChanged = channels.some((channel, i) => channel !== chain.channels[i]);
  const settled = isChanged ? { ...chain, channels } : chain;
  kept.set(chain, settled);
  return settled;
}

function trueLoad(channel: Channel): number | undefined {
  try {
    return wiredLoadOhm(channel);
  } catch (error) {
    // A wiring that does not fit its drivers is a fault of its own, told where it is saved.
    if (error instanceof CoreError) return undefined;
    throw error;
  }
}
