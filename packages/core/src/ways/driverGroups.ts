import { filterAt, filterDelay } from '../crossovers/crossoverResponse.ts';
import type { Filter } from '../crossovers/filters.ts';
import { passiveAt, type DriverImpedance } from '../crossovers/passive.ts';
import { degreesOf, fromLevel, levelDbOf, plus, times, type Complex } from '../numerics/complex.ts';
import type { ActiveFilter, Chain, Channel, Driver, DriverRole, PassiveFilter } from '../job/chain.ts';
import { equaliserAt, equaliserDb } from '../job/channelEqualiser.ts';
import { filtersOf, roleOf } from '../job/channelFilters.ts';

/** Drivers of a channel that get the same signal: the whole channel, or what lies behind the same passive parts. */
export interface DriverGroup {
  id: string;
  name: string;
  channel: Channel;
  drivers: Driver[];
  role?: DriverRole;
  filters: ActiveFilter[];
  passive: PassiveFilter[];
  impedance: DriverImpedance;
}

/** What measuring found, by the id of the filter: it counts before what the setting says. */
export type ProvedFilters = ReadonlyMap<string, Filter>;
export const NOTHING_PROVED: ProvedFilters = new Map();

/** What a channel's drivers get, one group for each group of them that lies behind the same parts. */
export function channelGroups(channel: Channel): DriverGroup[] {
  const filters = filtersOf(channel);
  const groups = new Map<string, Driver[]>();
  for (const driver of channel.drivers) {
    const own = partsOf(channel, driver).map(({ id: _id, driverId: _driver, ...parts }) => parts);
    const key = JSON.stringify([own, roleOf(driver, channel)]);
    groups.set(key, [...(groups.get(key) ?? []), driver]);
  }
  const all = groups.size === 0 ? [[]] : [...groups.values()];
  return all.map((drivers): DriverGroup => {
    const first = drivers[0];
    const role = roleOf(first, channel);
    return {
      id: all.length === 1 ? channel.id : `${channel.id}/${first?.id ?? ''}`,
      name: all.length === 1 ? channel.name : `${channel.name}: ${first?.name ?? ''}`,
      channel,
      drivers,
      ...(role === undefined ? {} : { role }),
      filters,
      passive: first === undefined ? [] : partsOf(channel, first),
      impedance: driverImpedance(channel, first),
    };
  });
}

const partsOf = ({ passive = [] }: Channel, driver: Driver): PassiveFilter[] => passive.filter(({ driverId }) => driverId === driver.id);

function driverImpedance(channel: Channel, driver: Driver | undefined): DriverImpedance {
  // With several coils only the wiring says what the parts see.
  const resistanceOhm = driver?.coils === 1 ? driver.coilOhm : channel.loadOhm;
  return { resistanceOhm, ...(driver?.inductanceHenry === undefined ? {} : { inductanceHenry: driver.inductanceHenry }) };
}

export const driverGroupsOf = (chain: Chain): DriverGroup[] => chain.channels.flatMap(channelGroups);

/** DriverGroups that are set alike, such as left and right, as one: drawn once and counted once in a sum. */
export interface AlikeGroups extends DriverGroup {
  /** every group that it stands for, itself included */
  members: DriverGroup[];
}

export function alikeGroups(groups: readonly DriverGroup[]): AlikeGroups[] {
  const found = new Map<string, AlikeGroups>();
  for (const group of groups) {
    const key = JSON.stringify([
      group.role,
      group.channel.band,
      group.channel.isReversed === true,
      group.filters.map(({ kind, family, order, cornerHz, place }) => [kind, family, order, cornerHz, place]),
      group.passive.map(({ kind, capacitanceFarad, inductanceHenry, isReversed }) => [kind, capacitanceFarad, inductanceHenry, isReversed]),
      group.drivers.map(({ usableFromHz, usableToHz, coilOhm }) => [usableFromHz, usableToHz, coilOhm]),
    ]);
    const like = found.get(key);
    if (like === undefined) found.set(key, { ...group, members: [group] });
    else found.set(key, { ...like, members: [...like.members, group] });
  }
  return [...found.values()];
}

/** More names than these are counted. */
const MAX_NAMED = 4;

/** "Front left, Front right" as people say it: "Front left and right". */
export function groupName({ members }: AlikeGroups): string {
  const names = members.map(({ name }) => name);
  const [first, second] = names;
  if (first === undefined) return '';
  if (second === undefined) return first;
  const words = first.split(' ');
  const head = words.slice(0, -1).join(' ');
  if (names.length === 2 && head !== '' && second === `${head} ${second.split(' ').at(-1)}`)
    return `${first} and ${second.slice(head.length + 1)}`;
  if (names.length > MAX_NAMED) return `${first} and ${names.length - 1} more`;
  return `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;
}

/** A filter as it works: by measurement where there is one, else as it is set. */
export const workingFilter = (filter: ActiveFilter, proved: ProvedFilters): Filter => proved.get(filter.id) ?? filter;

/** What of the amplifier's full range reaches the drivers of a driver group, reversed polarity included. */
export function groupAt(group: DriverGroup, hertz: number, proved: ProvedFilters = NOTHING_PROVED): Complex {
  const active = group.filters.map((filter) => filterAt(workingFilter(filter, proved), hertz));
  const db = active.reduce((sum, each) => sum + each.db, 0);
  const turns = [group.channel, ...group.passive].filter(({ isReversed }) => isReversed === true).length;
  const deg = active.reduce((sum, each) => sum + each.deg, 180 * turns);
  const even = equaliserAt(group.channel, hertz);
  return group.passive.reduce((value, parts) => times(value, passiveAt(parts, group.impedance, hertz)), times(even, fromLevel(db, deg)));
}

/** Level in decibels of a driver group at one frequency. */
export const groupDb = (group: DriverGroup, hertz: number, proved: ProvedFilters = NOTHING_PROVED): number =>
  levelDbOf(groupAt(group, hertz, proved));

/** What reaches the drivers of several groups together, each counted once. */
export const groupsSum = (groups: readonly DriverGroup[], hertz: number, proved: ProvedFilters = NOTHING_PROVED): Complex =>
  groups.reduce<Complex>((sum, group) => plus(sum, groupAt(group, hertz, proved)), { re: 0, im: 0 });

/** Group delay in seconds: in closed form for the filters, from a small step in frequency for passive parts and the equaliser. */
export function groupDelay(group: DriverGroup, hertz: number, proved: ProvedFilters = NOTHING_PROVED): number {
  const active = group.filters.reduce((sum, filter) => sum + filterDelay(workingFilter(filter, proved), hertz), 0);
  const step = 1e-4 * hertz;
  const delayOf = (of: (at: number) => Complex): number => {
    const turned = degreesOf(of(hertz + step)) - degreesOf(of(hertz - step));
    // Over the step a phase moves by little: what jumps by a turn went over the edge of its range.
    return -(turned - 360 * Math.round(turned / 360)) / 360 / (2 * step);
  };
  const passive = group.passive.reduce((sum, parts) => sum + delayOf((at) => passiveAt(parts, group.impedance, at)), 0);
  return active + passive + delayOf((at) => equaliserAt(group.channel, at));
}

/** What filters and equaliser before the amplifier's terminals do to a tone, in decibels; above 0 only where a band lifts it. */
export function lossDb(channel: Channel, hertz: number, proved: ProvedFilters = NOTHING_PROVED): number {
  return filtersOf(channel).reduce((sum, filter) => sum + filterAt(workingFilter(filter, proved), hertz).db, equaliserDb(channel, hertz));
}

/** Where two neighbours meet: at one level, the upper one rising. Undefined where they never do. */
export interface Crossing {
  hertz: number;
  /** of each */
  levelDb: number;
  /** of the upper against the lower, in (−180, 180] */
  phaseDeg: number;
  sumDb: number;
}

export const LOWEST_HZ = 10;
export const HIGHEST_HZ = 40_000;

export function crossingOf(lower: DriverGroup, upper: DriverGroup, proved: ProvedFilters = NOTHING_PROVED): Crossing | undefined {
  const lead = (logHertz: number): number => groupDb(upper, Math.exp(logHertz), proved) - groupDb(lower, Math.exp(logHertz), proved);
  const steps = 120;
  const at = (i: number): number => Math.log(LOWEST_HZ) + (i / steps) * Math.log(HIGHEST_HZ / LOWEST_HZ);
  const meetings: Crossing[] = [];
  let isSettled = lead(at(0)) < 0;
  for (let i = 1; i <= steps; i += 1) {
    const wasBehind = isSettled;
    isSettled = lead(at(i)) < 0;
    if (!wasBehind || isSettled) continue;
    let [low, high] = [at(i - 1), at(i)];
    for (let k = 0; k < 40; k += 1) {
      const middle = (low + high) / 2;
      if (lead(middle) < 0) low = middle;
      else high = middle;
    }
    const hertz = Math.exp((low + high) / 2);
    const [a, b] = [groupAt(lower, hertz, proved), groupAt(upper, hertz, proved)];
    const turn = degreesOf(b) - degreesOf(a);
    meetings.push({
      hertz,
      levelDb: groupDb(lower, hertz, proved),
      phaseDeg: turn - 360 * Math.ceil((turn - 180) / 360),
      sumDb: levelDbOf(plus(a, b)),
    });
  }
  return meetings.sort((a, b) => b.levelDb - a.levelDb)[0];
}
