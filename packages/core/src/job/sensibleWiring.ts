import { MAX_DRIVERS } from '../loads/loadOptions.ts';
import { planLoads } from '../loads/planLoads.ts';
import type { Amplifier, Channel } from './chain.ts';
import { channelDrivers } from './channelWiring.ts';

const KEPT = new WeakMap<Channel, { amplifier: Amplifier; wiring: SensibleWiring | undefined }>();

/** What becomes of a channel with another wiring. */
export type SensibleWiring = Required<Pick<Channel, 'wiring' | 'loadOhm'>>;

/** The wiring of a channel's drivers with the most power of those that the amplifier takes; undefined where there is none. */
export function sensibleWiring(channel: Channel, amplifier: Amplifier): SensibleWiring | undefined {
  const kept = KEPT.get(channel);
  if (kept?.amplifier === amplifier) return kept.wiring;
  const wiring = strongest(channel, amplifier);
  KEPT.set(channel, { amplifier, wiring });
  return wiring;
}

function strongest(channel: Channel, amplifier: Amplifier): SensibleWiring | undefined {
  if (channel.drivers.length === 0 || channel.drivers.length > MAX_DRIVERS) return undefined;
  const { wirings } = planLoads({ drivers: channelDrivers(channel), amplifier: { ...amplifier, mode: channel.mode } });
  const best = wirings
    .filter(({ hookup }) => hookup.verdict !== 'below-minimum')
    .sort((a, b) => (b.usableWatt ?? 0) - (a.usableWatt ?? 0))[0];
  return best === undefined ? undefined : { wiring: { network: best.network }, loadOhm: best.loadOhm };
}
