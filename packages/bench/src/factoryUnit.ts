import { SWEEP_FADE_SECOND, toneSamples, voltageFactor, type Random, type SweepSpec } from '@yield/core';

/** One second-order section, normalised so that its first feedback coefficient is 1. */
interface Biquad {
  b: readonly [number, number, number];
  a: readonly [number, number];
}

/** From this volume on, a simulated factory unit holds its bass back. */
export const HOLDS_BACK_FROM = 16;
const HOLD_BACK_DB_PER_STEP = 1;
const SHELF_HZ = 90;
/** What its equaliser does for its own speakers. */
export const FACTORY_BUMP = { hertz: 2500, db: 4, q: 1.2 };

/**
 * What comes out of a factory unit that equalises for its own speakers and holds bass back as the volume rises.
 *
 * @param samples - as played, shares of full scale
 * @param volume - step of the display
 * @param holdsBackFrom - the first step at which bass is held back
 */
export function throughFactoryUnit(
  samples: Float64Array,
  sampleRateHz: number,
  volume: number,
  holdsBackFrom: number = HOLDS_BACK_FROM,
): Float64Array {
  const held = heldDb(volume, holdsBackFrom);
  const bent = filtered(samples, peaking(FACTORY_BUMP.hertz, FACTORY_BUMP.db, FACTORY_BUMP.q, sampleRateHz));
  const shelved = held === 0 ? bent : filtered(bent, lowShelf(SHELF_HZ, -held, sampleRateHz));
  // Far below full scale at the recorder, as a careful tuner sets it.
  const level = voltageFactor(-26 + 0.6 * volume);
  return shelved.map((value) => value * level);
}

const heldDb = (volume: number, holdsBackFrom: number): number => Math.max(0, volume - holdsBackFrom + 1) * HOLD_BACK_DB_PER_STEP;

/** What such a unit does to a steady tone, in dB. */
export function factoryDbAt(hertz: number, volume: number, holdsBackFrom: number): number {
  const held = heldDb(volume, holdsBackFrom);
  const bump = peaking(FACTORY_BUMP.hertz, FACTORY_BUMP.db, FACTORY_BUMP.q, TONE_RATE_HZ);
  return levelDb(bump, hertz) + (held === 0 ? 0 : levelDb(lowShelf(SHELF_HZ, -held, TONE_RATE_HZ), hertz));
}

/** Tones are followed at this rate. */
const TONE_RATE_HZ = 48_000;

/** What a section does at a frequency, in dB. */
function levelDb({ b, a }: Biquad, hertz: number): number {
  const w = (2 * Math.PI * hertz) / TONE_RATE_HZ;
  const at = ([c0, c1, c2]: readonly [number, number, number]): number =>
    Math.hypot(c0 + c1 * Math.cos(w) + c2 * Math.cos(2 * w), c1 * Math.sin(w) + c2 * Math.sin(2 * w));
  return 20 * Math.log10(at(b) / at([1, ...a]));
}

/** Silence before and after, as on any recording. */
const LEAD_SECOND = 0.4;
const NOISE = 1e-4;

/** A sweep played at one volume and recorded at the unit's output: full-scale shares, with some silence and hiss. */
export function recordedSweep(
  sweep: SweepSpec,
  sampleRateHz: number,
  volume: number,
  random: Random,
  holdsBackFrom: number = HOLDS_BACK_FROM,
): Float64Array {
  const shape = { kind: 'sweep', fromHertz: sweep.fromHertz, toHertz: sweep.toHertz } as const;
  const played = toneSamples({ shape, levelDbfs: 0, seconds: sweep.seconds, sampleRateHz, fadeSecond: SWEEP_FADE_SECOND });
  const lead = Math.round(LEAD_SECOND * sampleRateHz);
  const recorded = new Float64Array(played.length + 2 * lead);
  recorded.set(throughFactoryUnit(played, sampleRateHz, volume, holdsBackFrom), lead);
  return recorded.map((value) => value + NOISE * random.normal());
}

function filtered(samples: Float64Array, { b, a }: Biquad): Float64Array {
  let [x1, x2, y1, y2] = [0, 0, 0, 0];
  return samples.map((x) => {
    const y = b[0] * x + b[1] * x1 + b[2] * x2 - a[0] * y1 - a[1] * y2;
    [x2, x1, y2, y1] = [x1, x, y1, y];
    return y;
  });
}

/** @see R. Bristow-Johnson, "Audio EQ Cookbook" (W3C Note, 2021): peakingEQ */
function peaking(hertz: number, db: number, q: number, rateHz: number): Biquad {
  const gain = 10 ** (db / 40);
  const w = (2 * Math.PI * hertz) / rateHz;
  const alpha = Math.sin(w) / (2 * q);
  const a0 = 1 + alpha / gain;
  return {
    b: [(1 + alpha * gain) / a0, (-2 * Math.cos(w)) / a0, (1 - alpha * gain) / a0],
    a: [(-2 * Math.cos(w)) / a0, (1 - alpha / gain) / a0],
  };
}

/** @see the same: lowShelf, slope 1 */
function lowShelf(hertz: number, db: number, rateHz: number): Biquad {
  const gain = 10 ** (db / 40);
  const w = (2 * Math.PI * hertz) / rateHz;
  const cos = Math.cos(w);
  const root = 2 * Math.sqrt(gain) * (Math.sin(w) / 2) * Math.SQRT2;
  const a0 = gain + 1 + (gain - 1) * cos + root;
  return {
    b: [
      (gain * (gain + 1 - (gain - 1) * cos + root)) / a0,
      (2 * gain * (gain - 1 - (gain + 1) * cos)) / a0,
      (gain * (gain + 1 - (gain - 1) * cos - root)) / a0,
    ],
    a: [(-2 * (gain - 1 + (gain + 1) * cos)) / a0, (gain + 1 + (gain - 1) * cos - root) / a0],
  };
}
