import type { Dial } from '../crossovers/dial.ts';
import type { Chain, FilterPlace } from '../job/chain.ts';

/** A piece of gear that may have dials. */
export interface DialGear {
  place: FilterPlace;
  /** of an amplifier; the place's own name for the others */
  id: string;
  name: string;
}

export function dialGearsOf({ source, processor, amplifiers }: Chain): DialGear[] {
  return [
    { place: 'source', id: 'source', name: source.name },
    ...(processor === undefined ? [] : [{ place: 'processor' as const, id: 'processor', name: processor.name }]),
    ...amplifiers.map(({ id, name }) => ({ place: 'amplifier' as const, id, name })),
  ];
}

export function dialGearIn(chain: Chain, { place, id }: DialGear): { dials?: Dial[] } | undefined {
  if (place === 'source') return chain.source;
  return place === 'processor' ? chain.processor : chain.amplifiers.find((amplifier) => amplifier.id === id);
}

/** The gear with other dials; filters that went by a dial that is gone go by their figure. */
export function withDials(chain: Chain, gear: DialGear, dials: readonly Dial[]): Chain {
  const own = { dials: [...dials] };
  const changed: Chain = {
    ...chain,
    ...(gear.place === 'source' ? { source: { ...chain.source, ...own } } : {}),
    ...(gear.place === 'processor' && chain.processor !== undefined ? { processor: { ...chain.processor, ...own } } : {}),
    amplifiers: chain.amplifiers.map((amplifier) =>
      gear.place === 'amplifier' && amplifier.id === gear.id ? { ...amplifier, ...own } : amplifier,
    ),
  };
  const hasGone = (place: FilterPlace, amplifierId: string, dialId: string): boolean =>
    place === gear.place && (place !== 'amplifier' || amplifierId === gear.id) && !dials.some(({ id }) => id === dialId);
  return {
    ...changed,
    channels: changed.channels.map((channel) => ({
      ...channel,
      ...(channel.filters === undefined
        ? {}
        : {
            filters: channel.filters.map(({ dial, ...filter }) =>
              dial === undefined || hasGone(filter.place, channel.amplifierId, dial.id) ? filter : { ...filter, dial },
            ),
          }),
    })),
  };
}
