import type { Amplifier, Channel } from './chain.ts';

/** Sides of a vehicle as channels are named for them. A name is only a proposal: the form shows it. */
const SIDES: readonly [RegExp, string][] = [
  [/\bleft\b/g, 'right'],
  [/\bLeft\b/g, 'Right'],
  [/\bL\b/g, 'R'],
  [/\bright\b/g, 'left'],
  [/\bRight\b/g, 'Left'],
  [/\bR\b/g, 'L'],
];

/**
 * A name for the other side of the vehicle, or the same with a number.
 *
 * @example otherSide('Front left') // 'Front right'
 * @example otherSide('Bass') // 'Bass 2'
 */
export function otherSide(name: string): string {
  const found = SIDES.find(([side]) => name.search(side) !== -1);
  if (found !== undefined) return name.replace(found[0], found[1]);
  const number = /^(.*?)\s+(\d+)$/.exec(name);
  return number === null ? `${name} 2` : `${number[1]!} ${Number(number[2]) + 1}`;
}

/**
 * A channel like another one, on the other side: drivers, wiring, filters and passive parts with ids of their own.
 *
 * The processor's output is not copied: no two sides hang on one.
 *
 * @param newId - gives an id that is not in use
 */
export function channelLike(channel: Channel, newId: () => string): Channel {
  const { processorOutputId: _output, differsFromPair: _differs, ...rest } = channel;
  const driverIds = new Map(channel.drivers.map(({ id }) => [id, newId()]));
  const { filters, passive } = channel;
  return {
    ...rest,
    id: newId(),
    name: otherSide(channel.name),
    terminals: otherSide(channel.terminals),
    pairedWith: channel.id,
    drivers: channel.drivers.map((driver) => ({ ...driver, id: driverIds.get(driver.id)!, name: otherSide(driver.name) })),
    ...(filters === undefined ? {} : { filters: filters.map((filter) => ({ ...filter, id: newId() })) }),
    ...(passive === undefined
      ? {}
      : { passive: passive.map((parts) => ({ ...parts, id: newId(), driverId: driverIds.get(parts.driverId) ?? parts.driverId })) }),
  };
}

/** An amplifier like another one, without its channels. */
export const amplifierLike = (amplifier: Amplifier, newId: () => string): Amplifier => ({
  ...amplifier,
  id: newId(),
  name: otherSide(amplifier.name),
});
