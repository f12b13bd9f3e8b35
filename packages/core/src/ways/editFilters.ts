import { nearestSetting, type Dial } from '../crossovers/dial.ts';
import { HIGHEST_ORDER, ordersOf, type FilterKind } from '../crossovers/filters.ts';
import type { ActiveFilter, Chain, Channel, FilterPlace, PassiveFilter } from '../job/chain.ts';
import { filtersOf, gearOf } from '../job/channelFilters.ts';
import { channelGroups, type AlikeGroups, type DriverGroup } from './driverGroups.ts';

// Every change of a way is made to all channels that it stands for: left and right stay alike.

type ChannelChange = (channel: Channel, group: DriverGroup) => Channel;

function changed(chain: Chain, like: AlikeGroups, change: ChannelChange): Chain {
  return {
    ...chain,
    channels: chain.channels.map((channel) => {
      const group = like.members.find((member) => member.channel.id === channel.id);
      return group === undefined ? channel : change(channel, group);
    }),
  };
}

/** Changes the filter that stands in the same place of each channel. */
export function withFilter(
  chain: Chain,
  like: AlikeGroups,
  filter: ActiveFilter,
  change: (filter: ActiveFilter, channel: Channel) => ActiveFilter,
): Chain {
  const index = like.filters.findIndex(({ id }) => id === filter.id);
  return changed(chain, like, (channel) => ({
    ...channel,
    filters: filtersOf(channel).map((each, i) => (i === index ? change(each, channel) : each)),
  }));
}

export function withoutFilter(chain: Chain, like: AlikeGroups, filter: ActiveFilter): Chain {
  const index = like.filters.findIndex(({ id }) => id === filter.id);
  return changed(chain, like, (channel) => ({ ...channel, filters: filtersOf(channel).filter((_, i) => i !== index) }));
}

const FIRST_CORNER_HZ: Record<FilterKind, number> = { highpass: 80, lowpass: 3000 };

/**
 * A new filter where the channel's gear has room for it: the processor, else the amplifier.
 *
 * @param newId - makes an id that no other filter has
 */
export function withNewFilter(chain: Chain, like: AlikeGroups, kind: FilterKind, newId: () => string): Chain {
  return changed(chain, like, (channel) => {
    const place: FilterPlace = channel.processorOutputId === undefined ? 'amplifier' : 'processor';
    const cornerHz = like.role === 'tweeter' ? 3500 : like.role === 'subwoofer' ? (kind === 'highpass' ? 25 : 80) : FIRST_CORNER_HZ[kind];
    const filter: ActiveFilter = { id: newId(), place, kind, family: 'linkwitz-riley', order: 4, cornerHz };
    return { ...channel, filters: [...filtersOf(channel), filter] };
  });
}

/** The filter at another corner: at its dial's nearest stop, or at a figure of three digits. */
export function atCorner(chain: Chain, channel: Channel, filter: ActiveFilter, hertz: number): ActiveFilter {
  const dial = dialOfFilter(chain, channel, filter);
  const setting = dial === undefined ? undefined : nearestSetting(dial, hertz);
  if (dial === undefined || setting === undefined) return { ...filter, cornerHz: Number(hertz.toPrecision(3)) };
  const { click, multiplier } = setting;
  return { ...filter, cornerHz: Number(setting.cornerHz.toPrecision(3)), dial: { id: dial.id, click, multiplier } };
}

/** One keyboard step: the next stop of a dial, or a twenty-fourth of an octave. */
export function atStep(chain: Chain, channel: Channel, filter: ActiveFilter, steps: number): ActiveFilter {
  const dial = dialOfFilter(chain, channel, filter);
  if (dial?.stops !== 'clicks') return atCorner(chain, channel, filter, filter.cornerHz * 2 ** (steps / 24));
  const corners = [...new Set(dial.multipliers.flatMap((multiplier) => dial.table.map(({ cornerHz }) => cornerHz * multiplier)))].sort(
    (a, b) => a - b,
  );
  const nearest = corners.reduce(
    (best, hertz, i) => (Math.abs(hertz - filter.cornerHz) < Math.abs(corners[best]! - filter.cornerHz) ? i : best),
    0,
  );
  const next = corners[Math.max(0, Math.min(corners.length - 1, nearest + steps))]!;
  return atCorner(chain, channel, filter, next);
}

export function dialOfFilter(chain: Chain, channel: Channel, { dial, place }: ActiveFilter): Dial | undefined {
  return dial === undefined ? undefined : dialsFor(chain, channel, place).find(({ id }) => id === dial.id);
}

export const dialsFor = (chain: Chain, channel: Channel, place: FilterPlace): readonly Dial[] => gearOf(chain, channel, place)?.dials ?? [];

/** A filter that goes by a dial has the dial's slope; one that goes by a figure keeps what it had. */
export function byDial(chain: Chain, channel: Channel, filter: ActiveFilter, dialId: string | undefined): ActiveFilter {
  const { dial: _dial, ...rest } = filter;
  const dial = dialsFor(chain, channel, filter.place).find(({ id }) => id === dialId);
  if (dial === undefined) return rest;
  return atCorner(
    chain,
    channel,
    { ...rest, family: dial.family, order: dial.order, dial: { id: dial.id, click: 0, multiplier: 1 } },
    filter.cornerHz,
  );
}

/** Another alignment, with the nearest order that it has. */
export function withFamily(filter: ActiveFilter, family: ActiveFilter['family']): ActiveFilter {
  const orders = ordersOf(family);
  const order = orders.reduce((best, each) => (Math.abs(each - filter.order) < Math.abs(best - filter.order) ? each : best), HIGHEST_ORDER);
  return { ...filter, family, order };
}

export function withReversed(chain: Chain, like: AlikeGroups, isReversed: boolean): Chain {
  return changed(chain, like, ({ isReversed: _before, ...channel }) => (isReversed ? { ...channel, isReversed } : channel));
}

/** Passive parts of a way: the same for each of its drivers. */
export function withParts(
  chain: Chain,
  like: AlikeGroups,
  kind: FilterKind,
  parts: Partial<PassiveFilter> | null,
  newId: () => string,
): Chain {
  return changed(chain, like, (channel, group) => {
    const driverIds = new Set(group.drivers.map(({ id }) => id));
    const others = (channel.passive ?? []).filter((each) => !(driverIds.has(each.driverId) && each.kind === kind));
    const own = parts === null ? [] : group.drivers.map((driver): PassiveFilter => ({ ...parts, id: newId(), driverId: driver.id, kind }));
    return { ...channel, passive: [...others, ...own] };
  });
}

/** The way that a channel belongs to, after a change may have made others alike. */
export function groupIdAfter(chain: Chain, like: AlikeGroups): string {
  const channel = chain.channels.find(({ id }) => id === like.channel.id);
  if (channel === undefined) return like.id;
  const driverId = like.drivers[0]?.id;
  return channelGroups(channel).find(({ drivers }) => drivers[0]?.id === driverId)?.id ?? like.id;
}
