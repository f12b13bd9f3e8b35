import type { Chain, Channel } from './chain.ts';

/**
 * The partner of every channel that has one, by id: the channel that is to play as loud, on the other side of the vehicle.
 *
 * What was written down counts. Else stereo channels of one amplifier are taken two and two in the order of the chain: first those
 * with drivers for the same range, then what is left over. Bridged and one-channel hook-ups have no pair unless somebody says so.
 */
export function pairsOf({ channels }: Chain): ReadonlyMap<string, Channel> {
  const pairs = new Map<string, Channel>();
  const join = (a: Channel, b: Channel): void => {
    if (a === b || pairs.has(a.id) || pairs.has(b.id)) return;
    pairs.set(a.id, b);
    pairs.set(b.id, a);
  };
  for (const channel of channels) {
    const named = channels.find(({ id }) => id === channel.pairedWith);
    if (named !== undefined) join(channel, named);
  }
  const isFree = ({ id, mode, pairedWith }: Channel): boolean => mode === 'stereo' && pairedWith !== ALONE && !pairs.has(id);
  for (const keyOf of [byRange, byAmplifier]) {
    const groups = new Map<string, Channel[]>();
    for (const channel of channels.filter(isFree)) groups.set(keyOf(channel), [...(groups.get(keyOf(channel)) ?? []), channel]);
    for (const group of groups.values()) for (let i = 0; i + 1 < group.length; i += 2) join(group[i]!, group[i + 1]!);
  }
  return pairs;
}

/** Said of a channel that nothing is to match. */
export const ALONE = 'none';

const byAmplifier = ({ amplifierId, band }: Channel): string => `${amplifierId} ${band}`;

const byRange = (channel: Channel): string =>
  `${byAmplifier(channel)} ${[...new Set(channel.drivers.map(({ role }) => role ?? ''))].sort().join(' ')}`;
