import { CoreError, type Fault } from '../coreError.ts';
import { product, valueAt } from '../numerics/polynomial.ts';

export type FilterKind = 'highpass' | 'lowpass';
export type FilterFamily = 'butterworth' | 'linkwitz-riley' | 'bessel';

/** One filter of a crossover: order n falls 6n dB per octave. */
export interface Filter {
  kind: FilterKind;
  family: FilterFamily;
  order: number;
  /** −3.01 dB for Butterworth and Bessel, −6.02 dB for Linkwitz-Riley */
  cornerHz: number;
}

export const FILTER_FAMILIES: readonly FilterFamily[] = ['butterworth', 'linkwitz-riley', 'bessel'];
export const HIGHEST_ORDER = 8;

/** The orders that a family has. */
export function ordersOf(family: FilterFamily): number[] {
  const all = Array.from({ length: HIGHEST_ORDER }, (_, i) => i + 1);
  switch (family) {
    case 'butterworth':
      return all;
    case 'linkwitz-riley':
      return all.filter((order) => order % 2 === 0);
    case 'bessel':
      return all.slice(1);
  }
}

/** What is wrong with a filter as it was given; empty where nothing is. */
export function filterFaults({ family, order, cornerHz }: Filter, pointer: string): Fault[] {
  const orders = ordersOf(family);
  return [
    ...(orders.includes(order)
      ? []
      : [{ pointer: `${pointer}/order`, message: `a ${FAMILY_NAMES[family]} filter has order ${orders.join(', ')}` }]),
    ...(Number.isFinite(cornerHz) && cornerHz > 0 ? [] : [{ pointer: `${pointer}/cornerHz`, message: 'corner must be above 0 Hz' }]),
  ];
}

export const FAMILY_NAMES: Record<FilterFamily, string> = {
  butterworth: 'Butterworth',
  'linkwitz-riley': 'Linkwitz-Riley',
  bessel: 'Bessel',
};

/**
 * Denominator of a low-pass with its corner at 1 rad/s, as coefficients from the constant up: H(s) = c0 / (c0 + c1 s + …).
 *
 * @throws {CoreError} `INPUT_INVALID` for an order that the family does not have
 * @see Butterworth: poles evenly on the left half of the unit circle (S. Butterworth, 1930)
 * @see Linkwitz-Riley: a Butterworth of half the order, twice (S. Linkwitz, J. AES 24 (1976))
 * @see Bessel: reverse Bessel polynomials (W. E. Thomson, 1949), scaled to −3.01 dB at the corner
 */
export function denominator(family: FilterFamily, order: number): readonly number[] {
  const kept = KNOWN[family][order];
  if (kept !== undefined) return kept;
  const faults = filterFaults({ kind: 'lowpass', family, order, cornerHz: 1 }, '');
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);
  const made =
    family === 'butterworth'
      ? butterworth(order)
      : family === 'linkwitz-riley'
        ? product(butterworth(order / 2), butterworth(order / 2))
        : bessel(order);
  KNOWN[family][order] = made;
  return made;
}

const KNOWN: Record<FilterFamily, (readonly number[])[]> = { butterworth: [], 'linkwitz-riley': [], bessel: [] };

function butterworth(order: number): number[] {
  let polynomial = order % 2 === 1 ? [1, 1] : [1];
  for (let k = 1; k <= Math.floor(order / 2); k += 1) {
    polynomial = product(polynomial, [1, 2 * Math.sin(((2 * k - 1) * Math.PI) / (2 * order)), 1]);
  }
  return polynomial;
}

function bessel(order: number): number[] {
  // Coefficient of s^k: (2n − k)! / (2^(n − k) k! (n − k)!).
  const plain = Array.from(
    { length: order + 1 },
    (_, k) => factorial(2 * order - k) / (2 ** (order - k) * factorial(k) * factorial(order - k)),
  );
  const halfPower = halfPowerPoint(plain);
  return plain.map((coefficient, k) => coefficient * halfPower ** k);
}

/** Where the power has halved, in rad/s, by bisection: the magnitude falls all the way. */
function halfPowerPoint(polynomial: readonly number[]): number {
  let [low, high] = [0, 100];
  for (let i = 0; i < 200; i += 1) {
    const middle = (low + high) / 2;
    const { re, im } = valueAt(polynomial, middle);
    if (re ** 2 + im ** 2 < 2 * polynomial[0]! ** 2) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

const factorial = (n: number): number => (n <= 1 ? 1 : n * factorial(n - 1));
