import { divide, fromLevel, times, type Complex } from '@yield/core';
import { limited, type Limiting } from '../clipping.ts';
import type { Waveform } from '../waveform.ts';

/** One period of a steady signal, in volts at equal steps: what every stage of a car takes and gives. */
export type Cycle = Float64Array;

const SAMPLES = 512;
const COSINES = Float64Array.from({ length: SAMPLES }, (_, n) => Math.cos((2 * Math.PI * n) / SAMPLES));
const SINES = Float64Array.from({ length: SAMPLES }, (_, n) => Math.sin((2 * Math.PI * n) / SAMPLES));
/** Harmonics that a filter sees; what lies above is lost in it, far below what counts as distortion. */
const HARMONICS = 24;

/** A sine of an RMS voltage. */
export const sineCycle = (rmsVolt: number): Cycle =>
  Float64Array.from({ length: SAMPLES }, (_, n) => Math.SQRT2 * rmsVolt * Math.sin((2 * Math.PI * n) / SAMPLES));

export const scaledCycle = (cycle: Cycle, factor: number): Cycle => cycle.map((volt) => volt * factor);

/** Through a stage whose output ends at its rails, in volts peak. */
export const limitedCycle = (cycle: Cycle, railVolt: number, limiting: Limiting): Cycle =>
  Number.isFinite(railVolt) ? cycle.map((volt) => limited(volt, railVolt, limiting)) : cycle;

export const rmsOf = (cycle: Cycle): number => Math.sqrt(cycle.reduce((sum, volt) => sum + volt ** 2, 0) / cycle.length);

/** Distortion by harmonics 2 to 10, in percent of the fundamental. */
export function thdOf(cycle: Cycle): number {
  const tones = harmonicsOf(cycle, 10).map(({ re, im }) => Math.hypot(re, im));
  return (100 * Math.hypot(...tones.slice(1))) / tones[0]!;
}

/** Through what lets each frequency pass as `at` says. */
export function filteredCycle(cycle: Cycle, toneHz: number, at: (hertz: number) => Complex): Cycle {
  const through = harmonicsOf(cycle, HARMONICS).map((value, k) => times(value, at(toneHz * (k + 1))));
  return Float64Array.from({ length: cycle.length }, (_, n) => {
    let sum = 0;
    through.forEach(({ re, im }, k) => {
      const at = ((k + 1) * n) % SAMPLES;
      sum += re * COSINES[at]! - im * SINES[at]!;
    });
    return sum;
  });
}

/** Amplitudes of the harmonics from the first on, as complex numbers: the cosine's part is real. */
function harmonicsOf(cycle: Cycle, count: number): Complex[] {
  return Array.from({ length: count }, (_, k) => {
    let [re, im] = [0, 0];
    cycle.forEach((volt, n) => {
      const at = ((k + 1) * n) % SAMPLES;
      re += volt * COSINES[at]!;
      im -= volt * SINES[at]!;
    });
    return { re: (2 * re) / cycle.length, im: (2 * im) / cycle.length };
  });
}

/** The cycle again and again, as an instrument sees it. */
export const waveOf =
  (cycle: Cycle, toneHz: number): Waveform =>
  (second) => {
    const at = (((second * toneHz) % 1) + 1) * cycle.length;
    const [n, part] = [Math.floor(at), at % 1];
    return (1 - part) * cycle[n % cycle.length]! + part * cycle[(n + 1) % cycle.length]!;
  };

/**
 * A bell around a frequency.
 *
 * @see R. Bristow-Johnson, "Audio EQ Cookbook" (W3C Note, 2021): peakingEQ, its analog prototype
 */
export function bellAt({ hertz: centreHz, db, q }: Bell, hertz: number): Complex {
  const gain = 10 ** (db / 40);
  const s = hertz / centreHz;
  const straight = 1 - s * s;
  return divide({ re: straight, im: (s * gain) / q }, { re: straight, im: s / (gain * q) });
}

export interface Bell {
  hertz: number;
  db: number;
  q: number;
}

export const levelAndPhase = ({ db, deg }: { db: number; deg: number }): Complex => fromLevel(db, deg);
