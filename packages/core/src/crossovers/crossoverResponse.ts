import { CoreError, type Fault } from '../coreError.ts';
import { valueAt } from '../numerics/polynomial.ts';
import { denominator, filterFaults, type Filter } from './filters.ts';

export interface CrossoverResponseInput {
  /** in a row; none is a wire */
  filters: Filter[];
  frequenciesHz: number[];
}

export interface CrossoverResponse {
  magnitudeDb: number[];
  /** in (−180, 180] */
  phaseDeg: number[];
  groupDelaySecond: number[];
}

/**
 * What filters in a row do at given frequencies.
 *
 * A high-pass is the low-pass of its family with corner and frequency changed about: s / ω becomes ω / s.
 *
 * @throws {CoreError} `INPUT_INVALID` for an order that a family does not have, a corner or frequency not above 0
 * @see group delay: −dφ/dω, in closed form from the denominator and its derivative
 */
export function crossoverResponse({ filters, frequenciesHz }: CrossoverResponseInput): CrossoverResponse {
  const faults: Fault[] = [
    ...filters.flatMap((filter, i) => filterFaults(filter, `/filters/${i}`)),
    ...frequenciesHz.flatMap((hertz, i) =>
      Number.isFinite(hertz) && hertz > 0 ? [] : [{ pointer: `/frequenciesHz/${i}`, message: 'frequency must be above 0 Hz' }],
    ),
  ];
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);
  const points = frequenciesHz.map((hertz) => filters.map((filter) => filterAt(filter, hertz)));
  const sum = (values: readonly number[]): number => values.reduce((total, value) => total + value, 0);
  return {
    magnitudeDb: points.map((each) => sum(each.map(({ db }) => db))),
    phaseDeg: points.map((each) => wrapDeg(sum(each.map(({ deg }) => deg)))),
    groupDelaySecond: frequenciesHz.map((hertz) => sum(filters.map((filter) => filterDelay(filter, hertz)))),
  };
}

/** Level and phase (not wrapped between filters) of one filter at one frequency. */
export function filterAt({ kind, family, order, cornerHz }: Filter, hertz: number): { db: number; deg: number } {
  const polynomial = denominator(family, order);
  // A high-pass at ω is the low-pass at 1/ω, its phase turned round.
  const { re, im } = valueAt(polynomial, kind === 'lowpass' ? hertz / cornerHz : cornerHz / hertz);
  const angle = (180 / Math.PI) * Math.atan2(im, re);
  return { db: 20 * Math.log10(polynomial[0]! / Math.hypot(re, im)), deg: kind === 'lowpass' ? -angle : angle };
}

/** Group delay of one filter at one frequency, in seconds: −dφ/dω. */
export function filterDelay({ kind, family, order, cornerHz }: Filter, hertz: number): number {
  const polynomial = denominator(family, order);
  const ratio = hertz / cornerHz;
  const omega = kind === 'lowpass' ? ratio : 1 / ratio;
  const { re, im } = valueAt(polynomial, omega);
  const derived = valueAt(
    polynomial.slice(1).map((coefficient, k) => coefficient * (k + 1)),
    omega,
  );
  // d/dω of the denominator's angle: the real part of D'(jω) / D(jω).
  const delayAtOne = (derived.re * re + derived.im * im) / (re ** 2 + im ** 2);
  return (kind === 'lowpass' ? delayAtOne : delayAtOne / ratio ** 2) / (2 * Math.PI * cornerHz);
}

function wrapDeg(deg: number): number {
  const wrapped = deg - 360 * Math.floor((deg + 180) / 360);
  return wrapped === -180 ? 180 : wrapped;
}
