import { CoreError, type Fault } from '../coreError.ts';
import { filterAt } from '../crossovers/crossoverResponse.ts';
import { filterFaults, type Filter } from '../crossovers/filters.ts';
import { degreesOf, fromLevel, plus, magnitude, type Complex } from '../numerics/complex.ts';

/** One way of a crossover: what is set before its driver. */
export interface SummedWay {
  filters: readonly Filter[];
  gainDb?: number;
  reversed?: boolean;
  delaySecond?: number;
}

export interface CrossoverSum {
  magnitudeDb: number[];
  /** in (−180, 180]; 0 where the sum comes to nothing */
  phaseDeg: number[];
  /** against the same magnitudes in phase, never above 0 */
  againstInPhaseDb: number[];
}

/** What no level lies below: deeper, rounding alone is told. */
const MIN_DB = -300;
/** A sum that is this much smaller than its parts is nothing but rounding. */
const NOTHING = 1e-15;

/**
 * Two or more ways together, as their filters, levels, polarities and delays add.
 *
 * @throws {CoreError} `INPUT_INVALID` for filters that are none, and frequencies not above 0
 */
export function crossoverSum({ ways, frequenciesHz }: { ways: readonly SummedWay[]; frequenciesHz: readonly number[] }): CrossoverSum {
  const faults: Fault[] = [
    ...ways.flatMap(({ filters }, i) => filters.flatMap((filter, k) => filterFaults(filter, `/ways/${i}/filters/${k}`))),
    ...frequenciesHz.flatMap((hertz, i) =>
      Number.isFinite(hertz) && hertz > 0 ? [] : [{ pointer: `/frequenciesHz/${i}`, message: 'frequency must be above 0 Hz' }],
    ),
  ];
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);
  const points = frequenciesHz.map((hertz) => {
    const parts = ways.map((way) => wayAt(way, hertz));
    const total = parts.reduce((sum, part) => sum + magnitude(part), 0);
    const sum = parts.reduce(plus, { re: 0, im: 0 });
    const isNothing = magnitude(sum) <= NOTHING * total;
    return { sum: isNothing ? { re: 0, im: 0 } : sum, total };
  });
  return {
    magnitudeDb: points.map(({ sum }) => levelOf(magnitude(sum))),
    phaseDeg: points.map(({ sum }) => (magnitude(sum) === 0 ? 0 : degreesOf(sum))),
    againstInPhaseDb: points.map(({ sum, total }) => (total === 0 ? 0 : Math.min(0, levelOf(magnitude(sum) / total)))),
  };
}

const levelOf = (size: number): number => Math.max(MIN_DB, 20 * Math.log10(size));

/** One way at one frequency. A delay turns the phase backwards. */
function wayAt({ filters, gainDb = 0, reversed = false, delaySecond = 0 }: SummedWay, hertz: number): Complex {
  const each = filters.map((filter) => filterAt(filter, hertz));
  const db = each.reduce((sum, filter) => sum + filter.db, gainDb);
  const deg = each.reduce((sum, filter) => sum + filter.deg, reversed ? 180 : 0);
  return fromLevel(db, deg - ((360 * hertz * delaySecond) % 360));
}
