import {
  filterAt,
  filtersOf,
  gearOf,
  seededRandom,
  type ActiveFilter,
  type Chain,
  type Channel,
  type Dial,
  type Filter,
} from '@yield/core';

/** How a dial of the simulated vehicle stands. */
export interface DialPosition {
  /** index of a stop */
  click: number;
  /** index of a multiplier */
  switchedTo: number;
}

/** An analog dial is off by up to so much, fixed at birth; a processor's figure is exact. */
const DIAL_OFF = 0.06;

/** A filter's dial, where its gear has one. */
export function dialOf(chain: Chain, channel: Channel, { dial, place }: ActiveFilter): Dial | undefined {
  return dial === undefined ? undefined : gearOf(chain, channel, place)?.dials?.find(({ id }) => id === dial.id);
}

/** Where a dial stands when it was set as planned. */
export function plannedPosition(dial: Dial, { dial: setting }: ActiveFilter): DialPosition {
  return { click: setting?.click ?? 0, switchedTo: Math.max(0, dial.multipliers.indexOf(setting?.multiplier ?? 1)) };
}

/**
 * What a channel's filters really do, which no plate tells.
 *
 * @param positionOf - where a filter's dial was left; as planned where nothing is said
 */
export function standingFilters(
  chain: Chain,
  channel: Channel,
  seed: string,
  positionOf: (filterId: string) => DialPosition | undefined = () => undefined,
): (Filter & { id: string })[] {
  return filtersOf(channel).map((filter) => {
    const { id, kind, family, order } = filter;
    const dial = dialOf(chain, channel, filter);
    const position = dial === undefined ? undefined : (positionOf(id) ?? plannedPosition(dial, filter));
    const markedHz =
      dial === undefined || position === undefined
        ? filter.cornerHz
        : (dial.table[position.click]?.cornerHz ?? filter.cornerHz) * (dial.multipliers[position.switchedTo] ?? 1);
    const off = filter.place === 'amplifier' ? 1 + DIAL_OFF * (2 * seededRandom(`${seed}/${id}/dial`).uniform() - 1) : 1;
    return { id, kind, family, order, cornerHz: markedHz * off };
  });
}

/** What filters in a row take off a tone, in decibels; 0 or below. */
export const filtersDb = (filters: readonly Filter[], toneHz: number): number =>
  filters.reduce((sum, filter) => sum + filterAt(filter, toneHz).db, 0);
