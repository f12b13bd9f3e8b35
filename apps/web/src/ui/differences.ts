import { formatQuantity, networkTextWords, plainFigure, type Unit } from '@yield/core';

export interface Difference {
  /** where, in words: "Front left, load" */
  path: string;
  mine: string;
  theirs: string;
}

const ABSENT = '(nothing)';

/** Field names end in their unit. */
const UNITS_AT_END: readonly [string, Unit][] = [
  ['Ohm', 'ohm'],
  ['Dbfs', 'dBFS'],
  ['Db', 'dB'],
  ['Hz', 'Hz'],
  ['Volt', 'V'],
  ['Watt', 'W'],
  ['Percent', '%'],
  ['Ampere', 'A'],
  ['Farad', 'F'],
  ['Henry', 'H'],
];

/** Where the name of a field says little to somebody who never read it. */
const WORDS: Readonly<Record<string, string>> = {
  body: '',
  channelCount: 'channels',
  coilOhm: 'each coil',
  counts: 'highest count',
  digits: 'meter, plus digits',
  isFactory: 'factory unit',
  isReversed: 'plus and minus changed over',
  loadOhm: 'load',
  network: '',
  percent: 'meter accuracy',
  terminalPairs: 'pairs of terminals',
  trueRms: 'true RMS',
  volumeBasis: 'how the volume was found',
};

/** The leaves in which two records differ, each with its place in words: names of gear and channels, and what the field is. */
export function differences(mine: unknown, theirs: unknown, place: readonly string[] = []): Difference[] {
  if (isNode(mine) && isNode(theirs)) {
    const keys = [...new Set([...Object.keys(mine), ...Object.keys(theirs)])];
    return keys.flatMap((key) => {
      const words = /^\d+$/.test(key) ? itemName(theirs[key] ?? mine[key], Number(key)) : fieldWords(key);
      // An item's own name says where one is; the list that it is in need not be named too.
      const before = /^\d+$/.test(key) ? place.slice(0, -1) : place;
      return differencesAt(
        mine[key],
        theirs[key],
        [...before, words].filter((part) => part !== ''),
        key,
      );
    });
  }
  return differencesAt(mine, theirs, place, '');
}

function differencesAt(mine: unknown, theirs: unknown, place: readonly string[], key: string): Difference[] {
  if (isNode(mine) && isNode(theirs)) return differences(mine, theirs, place);
  if (Object.is(mine, theirs)) return [];
  return [{ path: place.join(', '), mine: leaf(mine, key), theirs: leaf(theirs, key) }];
}

const isNode = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null;

const itemName = (item: unknown, index: number): string =>
  isNode(item) && typeof item.name === 'string' && item.name !== '' ? item.name : String(index + 1);

const unitOf = (key: string): [string, Unit] | undefined => UNITS_AT_END.find(([end]) => key.endsWith(end));

/** "ratedPowerWatt" as people say it: "rated power". */
function fieldWords(key: string): string {
  const known = WORDS[key];
  if (known !== undefined) return known;
  const bare = key.slice(0, key.length - (unitOf(key)?.[0].length ?? 0));
  return bare
    .replace(/([A-Z])/g, ' $1')
    .toLowerCase()
    .trim();
}

function leaf(value: unknown, key: string): string {
  if (value === undefined) return ABSENT;
  if (Array.isArray(value)) return value.length === 0 ? 'none' : value.map((each) => leaf(each, '')).join(', ');
  if (isNode(value))
    return typeof value.name === 'string'
      ? value.name
      : Object.values(value)
          .map((each) => leaf(each, ''))
          .join(' ');
  if (key === 'network' && typeof value === 'string') return networkTextWords(value);
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value !== 'number') return typeof value === 'string' ? value : ABSENT;
  const unit = unitOf(key)?.[1];
  return unit === undefined ? plainFigure(value) : formatQuantity(value, unit);
}
