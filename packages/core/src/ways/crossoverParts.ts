import type { Dial } from '../crossovers/dial.ts';
import type { Chain, Channel, Driver } from '../job/chain.ts';

type ChannelParts = Pick<Channel, 'filters' | 'passive' | 'isReversed'>;
type DriverParts = Pick<Driver, 'role' | 'usableFromHz' | 'usableToHz' | 'recommended' | 'tuningHz' | 'inductanceHenry'>;

/** What of a chain is planned on the crossovers screen: the rest may change meanwhile without a quarrel. */
export interface CrossoverParts {
  channels: Record<string, ChannelParts>;
  /** by channel and driver */
  drivers: Record<string, DriverParts>;
  /** of source, processor and amplifiers */
  dials: Record<string, Dial[]>;
}

const SOURCE = 'source';
const PROCESSOR = 'processor';
const ofAmplifier = (id: string): string => `amplifier/${id}`;
const ofDriver = (channelId: string, driverId: string): string => `${channelId}/${driverId}`;

export function crossoverParts({ source, processor, amplifiers, channels }: Chain): CrossoverParts {
  return {
    channels: Object.fromEntries(channels.map(({ id, filters, passive, isReversed }) => [id, known({ filters, passive, isReversed })])),
    drivers: Object.fromEntries(
      channels.flatMap((channel) =>
        channel.drivers.map(({ id, role, usableFromHz, usableToHz, recommended, tuningHz, inductanceHenry }) => [
          ofDriver(channel.id, id),
          known({ role, usableFromHz, usableToHz, recommended, tuningHz, inductanceHenry }),
        ]),
      ),
    ),
    dials: Object.fromEntries([
      [SOURCE, source.dials ?? []],
      ...(processor === undefined ? [] : [[PROCESSOR, processor.dials ?? []] as const]),
      ...amplifiers.map(({ id, dials }) => [ofAmplifier(id), dials ?? []] as const),
    ]),
  };
}

/** The chain with these parts in place of its own; what is not in the chain any more is left out. */
export function withCrossoverParts(chain: Chain, parts: CrossoverParts): Chain {
  const dialled = <T extends { dials?: Dial[] }>(gear: T, key: string): T => {
    const dials = parts.dials[key];
    if (dials === undefined) return gear;
    const { dials: _before, ...rest } = gear;
    return (dials.length === 0 ? rest : { ...rest, dials }) as T;
  };
  return {
    ...chain,
    source: dialled(chain.source, SOURCE),
    ...(chain.processor === undefined ? {} : { processor: dialled(chain.processor, PROCESSOR) }),
    amplifiers: chain.amplifiers.map((amplifier) => dialled(amplifier, ofAmplifier(amplifier.id))),
    channels: chain.channels.map((channel) => {
      const own = parts.channels[channel.id];
      if (own === undefined) return channel;
      const { filters: _filters, passive: _passive, isReversed: _reversed, ...rest } = channel;
      return { ...rest, ...own, drivers: channel.drivers.map((driver) => ranged(driver, parts.drivers[ofDriver(channel.id, driver.id)])) };
    }),
  };
}

/** The driver with the planned fields in place of its own; every other field stays. */
function ranged(driver: Driver, parts: DriverParts | undefined): Driver {
  if (parts === undefined) return driver;
  const { role: _role, usableFromHz: _from, usableToHz: _to, recommended: _r, tuningHz: _t, inductanceHenry: _l, ...rest } = driver;
  return { ...rest, ...parts };
}

type Known<T> = { [K in keyof T]?: Exclude<T[K], undefined> };

/** Without the fields that nobody filled in: a kept text and a stored chain have none of them. */
const known = <T extends object>(fields: T): Known<T> =>
  Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== undefined)) as Known<T>;

/** What was kept of a plan, where it has the shape of one. */
export function readParts(kept: unknown): CrossoverParts | undefined {
  const isTable = (value: unknown): boolean => typeof value === 'object' && value !== null && !Array.isArray(value);
  const { channels, drivers, dials } = (kept ?? {}) as Record<string, unknown>;
  return isTable(channels) && isTable(drivers) && isTable(dials) ? (kept as CrossoverParts) : undefined;
}
