import { networkLoad } from '../loads/branches.ts';
import type { Channel, Driver } from './chain.ts';
import { channelCoils, channelNetwork } from './channelWiring.ts';

/**
 * A channel whose drivers have coils of another nominal impedance than was entered, with the load that its wiring makes of them.
 *
 * @param ohmOf - nominal impedance of each coil of a driver, in ohms
 * @returns drivers and load, to be put into the channel
 */
export function withCoilOhm(channel: Channel, ohmOf: (driver: Driver) => number): Pick<Channel, 'drivers' | 'loadOhm'> {
  const drivers = channel.drivers.map((driver) => {
    const coilOhm = ohmOf(driver);
    if (coilOhm === driver.coilOhm) return driver;
    // What was taken as the winding of a coil that it is not says nothing any more.
    const { coilDcOhm: _winding, ...rest } = driver;
    return { ...rest, coilOhm };
  });
  const other = { ...channel, drivers };
  const network = channelNetwork(other);
  if (network === undefined) return { drivers, loadOhm: channel.loadOhm };
  return { drivers, loadOhm: networkLoad(network, channelCoils(other)).nominalOhm + (channel.wiring?.seriesResistorOhm ?? 0) };
}
