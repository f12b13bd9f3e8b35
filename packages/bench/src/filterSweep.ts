import { denominator, product, SWEEP_FADE_SECOND, toneSamples, type Filter, type Random, type SweepSpec } from '@yield/core';

const LEVEL = 0.25;
/** Silence before and after, as on any recording. */
const LEAD_SECOND = 0.4;
const NOISE = 2e-5;

/** A sweep played through analog filters and recorded at the terminals, far below full scale, with some silence and hiss. */
export function filterSweep(sweep: SweepSpec, sampleRateHz: number, filters: readonly Filter[], random: Random): Float64Array {
  const shape = { kind: 'sweep', fromHertz: sweep.fromHertz, toHertz: sweep.toHertz } as const;
  const played = toneSamples({ shape, levelDbfs: 0, seconds: sweep.seconds, sampleRateHz, fadeSecond: SWEEP_FADE_SECOND });
  const lead = Math.round(LEAD_SECOND * sampleRateHz);
  const recorded = new Float64Array(played.length + 2 * lead);
  recorded.set(
    throughFilters(played, filters, sampleRateHz).map((value) => LEVEL * value),
    lead,
  );
  return recorded.map((value) => value + NOISE * random.normal());
}

/** Samples as they leave a row of analog filters, which ring behind and never ahead. */
export const throughFilters = (samples: Float64Array, filters: readonly Filter[], sampleRateHz: number): Float64Array =>
  filters.flatMap(sectionsOf).reduce((row, section) => filtered(row, section, sampleRateHz), samples);

interface Section extends Pick<Filter, 'kind' | 'cornerHz'> {
  /** of the low-pass with its corner at 1 rad/s, from the constant up */
  polynomial: readonly number[];
}

/** A Linkwitz-Riley is a Butterworth twice; so is every steep filter a row of gentle ones, which numbers take better. */
function sectionsOf({ kind, family, order, cornerHz }: Filter): Section[] {
  if (family === 'linkwitz-riley') {
    const half = sectionsOf({ kind, family: 'butterworth', order: order / 2, cornerHz });
    return [...half, ...half];
  }
  if (family === 'bessel') return [{ kind, cornerHz, polynomial: denominator(family, order) }];
  const pairs = Array.from({ length: Math.floor(order / 2) }, (_, i): Section => {
    const damping = 2 * Math.sin(((2 * i + 1) * Math.PI) / (2 * order));
    return { kind, cornerHz, polynomial: [1, damping, 1] };
  });
  return order % 2 === 1 ? [...pairs, { kind, cornerHz, polynomial: [1, 1] }] : pairs;
}

/** @see bilinear transform with the corner's frequency kept: s = (1 − z⁻¹) / (1 + z⁻¹) / tan(ω/2); a high-pass has 1/s for s */
function filtered(samples: Float64Array, { kind, cornerHz, polynomial }: Section, rateHz: number): Float64Array {
  const order = polynomial.length - 1;
  const warp = Math.tan((Math.PI * cornerHz) / rateHz);
  const factor = kind === 'lowpass' ? 1 / warp : warp;
  const [up, down] =
    kind === 'lowpass'
      ? [
          [1, -1],
          [1, 1],
        ]
      : [
          [1, 1],
          [1, -1],
        ];
  const raised = (base: readonly number[], times: number): number[] =>
    Array.from({ length: times }).reduce<number[]>((all) => product(all, base), [1]);
  const feedback = polynomial
    .map((coefficient, k) => product(raised(up, k), raised(down, order - k)).map((value) => value * coefficient * factor ** k))
    .reduce((a, b) => a.map((value, i) => value + b[i]!));
  const forward = raised(down, order).map((value) => value * polynomial[0]!);
  const [b, a] = [forward, feedback].map((row) => row.map((value) => value / feedback[0]!));
  const state = new Float64Array(order);
  return samples.map((x) => {
    const y = b![0]! * x + state[0]!;
    for (let i = 0; i < order; i += 1) state[i] = b![i + 1]! * x - a![i + 1]! * y + (state[i + 1] ?? 0);
    return y;
  });
}
