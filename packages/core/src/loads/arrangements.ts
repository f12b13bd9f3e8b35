import type { CoilsOfDriver } from './drivers.ts';
import { flattened, type Network } from './network.ts';

// Nobody mixes more kinds of driver than this, and the count would explode: beyond it all are wired inside in the same manner,
// and many drivers are grouped evenly only.
const MAX_KINDS_MIXED = 3;
const MAX_DRIVERS_MIXED = 5;

/**
 * Networks worth a look: drivers of one kind are wired alike inside, then grouped; the groups stand in series of parallels or
 * the other way round. Every coil is used. Not every circuit that could be soldered: drivers of one kind stay interchangeable.
 */
export function arrangements(drivers: readonly CoilsOfDriver[]): Network[] {
  const kinds = driverKinds(drivers);
  const evenOnly = kinds.length >= MAX_KINDS_MIXED && drivers.length > MAX_DRIVERS_MIXED;
  const counts = kinds.map((kind) => kind.length);
  const sizes = evenOnly ? [1, 2, 3, 4, drivers.length].flatMap((size) => groupings(counts, size)) : groupings(counts);
  const found: Network[] = [];
  for (const inside of insideChoices(kinds)) {
    const wired = kinds.map((kind, i) => kind.map((driver) => inside[i]!(driver)));
    for (const groups of sizes) {
      // Which of several like drivers goes where makes no difference: they are dealt out in order.
      const next = kinds.map(() => 0);
      const dealt = groups.map((counts) =>
        counts.flatMap((count, kind) => Array.from({ length: count }, () => wired[kind]![next[kind]!++]!)),
      );
      for (const [within, between] of [
        ['series', 'parallel'],
        ['parallel', 'series'],
      ] as const) {
        found.push(flattened({ kind: between, parts: dealt.map((parts) => ({ kind: within, parts })) }));
      }
    }
  }
  return found;
}

/** Drivers that could be swapped without a difference. */
function driverKinds(drivers: readonly CoilsOfDriver[]): CoilsOfDriver[][] {
  const kinds = new Map<string, CoilsOfDriver[]>();
  for (const driver of drivers) {
    const key = JSON.stringify(driver.coils.map(({ nominalOhm, dcOhm, ratedPowerWatt }) => [nominalOhm, dcOhm, ratedPowerWatt]));
    kinds.set(key, [...(kinds.get(key) ?? []), driver]);
  }
  return [...kinds.values()];
}

type Inside = (driver: CoilsOfDriver) => Network;

const coilsOfDriver = ({ coils }: CoilsOfDriver): Network[] => coils.map(({ name }) => ({ kind: 'coil', coil: name, reversed: false }));
const allSeries: Inside = (driver) => flattened({ kind: 'series', parts: coilsOfDriver(driver) });
const allParallel: Inside = (driver) => flattened({ kind: 'parallel', parts: coilsOfDriver(driver) });
/** Four coils as two pairs: each pair in series, the pairs in parallel. The other way round presents the same load. */
const seriesPairs: Inside = (driver) => {
  const [one, two, three, four] = coilsOfDriver(driver);
  if (one === undefined || two === undefined || three === undefined || four === undefined) return allSeries(driver);
  return {
    kind: 'parallel',
    parts: [
      { kind: 'series', parts: [one, two] },
      { kind: 'series', parts: [three, four] },
    ],
  };
};

/** For each kind of driver a way to wire its coils; all combinations of them. */
function insideChoices(kinds: readonly CoilsOfDriver[][]): Inside[][] {
  const perKind = kinds.map(([first]) => {
    const coils = first?.coils.length ?? 1;
    return coils === 1 ? [allSeries] : coils === 2 ? [allSeries, allParallel] : [allSeries, seriesPairs, allParallel];
  });
  if (kinds.length > MAX_KINDS_MIXED) return [allSeries, seriesPairs, allParallel].map((inside) => kinds.map(() => inside));
  return perKind.reduce<Inside[][]>((rows, choices) => rows.flatMap((row) => choices.map((choice) => [...row, choice])), [[]]);
}

/**
 * All ways to part a number of things of several kinds into groups, regardless of order.
 *
 * @param counts - how many of each kind
 * @param size - things in every group, where all groups are to be alike
 * @returns each way as groups, each group as a count of every kind
 */
export function groupings(counts: readonly number[], size?: number): number[][][] {
  const found: number[][][] = [];
  const part = (left: readonly number[], largest: readonly number[], groups: number[][]): void => {
    if (left.every((count) => count === 0)) {
      found.push(groups);
      return;
    }
    for (const group of groupsUpTo(left, largest)) {
      if (size !== undefined && total(group) !== size) continue;
      part(
        left.map((count, i) => count - group[i]!),
        group,
        [...groups, group],
      );
    }
  };
  part(counts, counts, []);
  return found;
}

/** Groups that can be taken from what is left and come no later than the last one taken, so that no order is counted twice. */
function groupsUpTo(left: readonly number[], largest: readonly number[]): number[][] {
  const all = left.reduce<number[][]>(
    (rows, count) => rows.flatMap((row) => Array.from({ length: count + 1 }, (_, taken) => [...row, taken])),
    [[]],
  );
  return all.filter((group) => group.some((count) => count > 0) && compare(group, largest) <= 0);
}

const total = (counts: readonly number[]): number => counts.reduce((a, b) => a + b, 0);

function compare(a: readonly number[], b: readonly number[]): number {
  for (let i = 0; i < a.length; i += 1) if (a[i] !== b[i]) return a[i]! - b[i]!;
  return 0;
}
