import { nearestSetting, settingWords } from '../crossovers/dial.ts';
import { basisOf, type Basis } from '../job/basis.ts';
import type { ActiveFilter, Chain, Channel } from '../job/chain.ts';
import { filtersOf, filterWords, gearOf, passiveWords, PLACE_NAMES } from '../job/channelFilters.ts';
import { lastResult } from '../numerics/lastResult.ts';
import { isProtected } from './crossoverFindings.ts';
import { channelGroups, type DriverGroup } from './driverGroups.ts';

export interface FilterCheck {
  id: string;
  words: string;
  /** where on the gear: the click and switch, or that a figure is typed */
  how?: string;
}

// Every step of a channel asks for these.
const keptBare = lastResult<DriverGroup | undefined>();
const keptBasis = lastResult<Basis>();
const keptChecks = lastResult<FilterCheck[]>();

/** What is looked at before a channel's first tone: every filter of its own, or that there is none. */
export const filterChecks = (channel: Channel, chain: Chain): FilterCheck[] =>
  keptChecks(channel, '', [chain], () => checksOf(channel, chain));

function checksOf(channel: Channel, chain: Chain): FilterCheck[] {
  const active = filtersOf(channel).map((filter): FilterCheck => {
    const how = dialWords(chain, channel, filter);
    return {
      id: `filter-${filter.id}`,
      words: `${PLACE_NAMES[filter.place]}: ${filterWords(filter)}`,
      ...(how === undefined ? {} : { how }),
    };
  });
  const passive = (channel.passive ?? []).map((parts): FilterCheck => {
    const driver = channel.drivers.find(({ id }) => id === parts.driverId);
    return {
      id: `parts-${parts.id}`,
      words: `In the line of ${driver?.name ?? 'a driver'}: ${passiveWords(parts)}`,
      how: 'seen with your own eyes',
    };
  });
  const all = [...active, ...passive];
  return all.length > 0 ? all : [{ id: 'none', words: 'Every filter on its way is off: source, processor, amplifier' }];
}

/** Where a filter's dial stands, in words; undefined where it has none. */
export function dialWords(chain: Chain, channel: Channel, { place, dial, cornerHz }: ActiveFilter): string | undefined {
  const gear = dial === undefined ? undefined : gearOf(chain, channel, place)?.dials?.find(({ id }) => id === dial.id);
  const setting = gear === undefined ? undefined : nearestSetting(gear, cornerHz);
  return gear === undefined || setting === undefined ? undefined : `${gear.name}: ${settingWords(gear, setting)}`;
}

/** A tweeter on this channel that nothing protects. */
export const bareTweeter = (channel: Channel): DriverGroup | undefined =>
  keptBare(channel, '', [], () => channelGroups(channel).find((group) => group.role === 'tweeter' && !isProtected(group)));

/** What the ticks of a channel's filters stand for: any other setting has to be looked at anew. */
export const filtersBasis = (channel: Channel): Basis => keptBasis(channel, '', [], () => basisOfFilters(channel));

function basisOfFilters(channel: Channel): Basis {
  const filters = filtersOf(channel);
  const passive = channel.passive ?? [];
  const words = [
    ...filters.map((filter) => `${PLACE_NAMES[filter.place]}: ${filterWords(filter)}`),
    ...passive.map(passiveWords),
    ...(channel.isReversed === true ? ['reversed'] : []),
  ];
  return basisOf(
    {
      filters: filters.map(({ place, kind, family, order, cornerHz }) => ({ place, kind, family, order, cornerHz })),
      passive: passive.map(({ driverId, kind, capacitanceFarad, inductanceHenry, isReversed }) => ({
        driverId,
        kind,
        capacitanceFarad,
        inductanceHenry,
        isReversed,
      })),
      isReversed: channel.isReversed === true,
    },
    words.length === 0 ? 'no filter' : words.join('; '),
  );
}
