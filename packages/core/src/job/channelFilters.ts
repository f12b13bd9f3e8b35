import { FAMILY_NAMES, type Filter } from '../crossovers/filters.ts';
import { passiveOrder } from '../crossovers/passive.ts';
import { formatQuantity } from '../units/formatQuantity.ts';
import type { ActiveFilter, Chain, Channel, Driver, DriverRole, FilterPlace, PassiveFilter } from './chain.ts';

export const PLACE_NAMES: Record<FilterPlace, string> = { source: 'Source', processor: 'Processor', amplifier: 'Amplifier' };
const PLACE_ORDER: readonly FilterPlace[] = ['source', 'processor', 'amplifier'];

export const ROLE_NAMES: Record<DriverRole, string> = {
  tweeter: 'Tweeter',
  midrange: 'Midrange',
  woofer: 'Woofer',
  'full-range': 'Full range',
  subwoofer: 'Subwoofer',
};

export const KIND_NAMES = { highpass: 'High-pass', lowpass: 'Low-pass' } as const;

/** A channel set with the bass tone is taken for a subwoofer's where nothing else is said. */
export function roleOf(driver: Driver | undefined, channel: Channel): DriverRole | undefined {
  return driver?.role ?? (channel.band === 'bass' ? 'subwoofer' : undefined);
}

/** The filters of a channel in the order of the signal. */
export function filtersOf({ filters = [] }: Channel): ActiveFilter[] {
  return [...filters].sort((a, b) => PLACE_ORDER.indexOf(a.place) - PLACE_ORDER.indexOf(b.place));
}

/** An analog dial is seldom right; a figure typed into a processor is taken at its word. */
export const isProofWanted = ({ isProved, place }: ActiveFilter): boolean => isProved ?? place === 'amplifier';

/** "High-pass 80 Hz, 24 dB per octave, Linkwitz-Riley". */
export const filterWords = ({ kind, family, order, cornerHz }: Filter): string =>
  `${KIND_NAMES[kind]} ${formatQuantity(cornerHz, 'Hz')}, ${6 * order} dB per octave${order === 1 ? '' : `, ${FAMILY_NAMES[family]}`}`;

/** "High-pass of 10.0 µF". */
export function passiveWords(parts: PassiveFilter): string {
  const values = [
    ...(parts.capacitanceFarad === undefined ? [] : [formatQuantity(parts.capacitanceFarad, 'F')]),
    ...(parts.inductanceHenry === undefined ? [] : [formatQuantity(parts.inductanceHenry, 'H')]),
  ];
  const order = passiveOrder(parts);
  const reversed = parts.isReversed === true ? ', driver plus to minus' : '';
  if (parts.isUnknown === true) return `Capacitor of unknown value, taken for ${values.join(' and ')}${reversed}`;
  if (parts.printed !== undefined) {
    const { cornerHz, order: printed } = parts.printed;
    return `${KIND_NAMES[parts.kind]} as printed, ${formatQuantity(cornerHz, 'Hz')}, ${6 * printed} dB per octave${reversed}`;
  }
  return `${KIND_NAMES[parts.kind]} of ${values.join(' and ')}${order === 0 ? ', which filters nothing' : `, ${6 * order} dB per octave`}${reversed}`;
}

/** The gear that a channel's filter is set on. */
export function gearOf(chain: Chain, channel: Channel, place: FilterPlace) {
  if (place === 'source') return chain.source;
  return place === 'processor' ? chain.processor : chain.amplifiers.find(({ id }) => id === channel.amplifierId);
}

/** A filter's name inside its channel: "low-pass", or with its place where there are two. */
export function filterName(channel: Channel, filter: ActiveFilter): string {
  const same = (channel.filters ?? []).filter(({ kind }) => kind === filter.kind);
  const name = KIND_NAMES[filter.kind].toLowerCase();
  return same.length > 1 ? `${name} in the ${PLACE_NAMES[filter.place].toLowerCase()}` : name;
}
