import { CoreError, type Fault } from '../coreError.ts';
import { degreesOf, divide, magnitude, times, type Complex } from '../numerics/complex.ts';

export interface EqualiserFilter {
  kind: 'peak' | 'low-shelf' | 'high-shelf';
  frequencyHz: number;
  gainDb: number;
  q: number;
}

export interface EqualiserResponse {
  magnitudeDb: number[];
  /** in (−180, 180] */
  phaseDeg: number[];
}

export interface EqualiserResponseInput {
  filters: readonly EqualiserFilter[];
  /** left out: 48 kHz */
  sampleRateHz?: number;
  frequenciesHz: readonly number[];
}

const USUAL_RATE_HZ = 48_000;

/** Everything that is wrong with it, each at its place; none where it can be worked out. */
export function equaliserResponseFaults({ filters, sampleRateHz = USUAL_RATE_HZ, frequenciesHz }: EqualiserResponseInput): Fault[] {
  const isInside = (hertz: number): boolean => hertz > 0 && hertz < sampleRateHz / 2;
  const message = `must lie above 0 and below half the sample rate, ${sampleRateHz / 2} Hz`;
  return [
    ...(sampleRateHz > 0 ? [] : [{ pointer: '/sampleRateHz', message: 'sample rate must be above 0 Hz' }]),
    ...filters.flatMap(({ frequencyHz, q }, i) => [
      ...(isInside(frequencyHz) ? [] : [{ pointer: `/filters/${i}/frequencyHz`, message: `frequency ${message}` }]),
      ...(q > 0 ? [] : [{ pointer: `/filters/${i}/q`, message: 'Q must be above 0' }]),
    ]),
    ...frequenciesHz.flatMap((hertz, i) => (isInside(hertz) ? [] : [{ pointer: `/frequenciesHz/${i}`, message: `frequency ${message}` }])),
  ];
}

/**
 * What an equaliser's filters do together.
 *
 * @throws {CoreError} `INPUT_INVALID` for a frequency, of a filter or of a point, that is not between 0 and half the sample rate, and a Q not above 0
 */
export function equaliserResponse(input: EqualiserResponseInput): EqualiserResponse {
  const faults = equaliserResponseFaults(input);
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);
  const { filters, sampleRateHz = USUAL_RATE_HZ, frequenciesHz } = input;
  const sections = filters.map((filter) => biquad(filter, sampleRateHz));
  const all = frequenciesHz.map((hertz) =>
    sections.reduce<Complex>((sum, each) => times(sum, biquadAt(each, hertz, sampleRateHz)), { re: 1, im: 0 }),
  );
  return { magnitudeDb: all.map((value) => 20 * Math.log10(magnitude(value))), phaseDeg: all.map(degreesOf) };
}

/** Coefficients of a second-order section, b over a. */
export interface Biquad {
  b: readonly [number, number, number];
  a: readonly [number, number, number];
}

/**
 * @see R. Bristow-Johnson, "Audio EQ Cookbook", W3C Note (2021): peakingEQ, lowShelf, highShelf, alpha = sin(w0) / (2 Q)
 */
export function biquad({ kind, frequencyHz, gainDb, q }: EqualiserFilter, sampleRateHz: number): Biquad {
  const a = 10 ** (gainDb / 40);
  const w0 = (2 * Math.PI * frequencyHz) / sampleRateHz;
  const [cos, alpha] = [Math.cos(w0), Math.sin(w0) / (2 * q)];
  if (kind === 'peak') return { b: [1 + alpha * a, -2 * cos, 1 - alpha * a], a: [1 + alpha / a, -2 * cos, 1 - alpha / a] };
  const root = 2 * Math.sqrt(a) * alpha;
  // A high shelf is a low one with the sign of the cosine changed, and of what is odd in it.
  const sign = kind === 'low-shelf' ? 1 : -1;
  const c = sign * cos;
  return {
    b: [a * (a + 1 - (a - 1) * c + root), sign * 2 * a * (a - 1 - (a + 1) * c), a * (a + 1 - (a - 1) * c - root)],
    a: [a + 1 + (a - 1) * c + root, sign * -2 * (a - 1 + (a + 1) * c), a + 1 + (a - 1) * c - root],
  };
}

export function biquadAt({ b, a }: Biquad, hertz: number, sampleRateHz: number): Complex {
  const w = (2 * Math.PI * hertz) / sampleRateHz;
  const [z1, z2] = [-w, -2 * w].map((angle) => ({ re: Math.cos(angle), im: Math.sin(angle) })) as [Complex, Complex];
  const of = ([c0, c1, c2]: readonly [number, number, number]): Complex => ({
    re: c0 + c1 * z1.re + c2 * z2.re,
    im: c1 * z1.im + c2 * z2.im,
  });
  return divide(of(b), of(a));
}
