import type FFT from 'fft.js';
import { powerOfTwoAtLeast } from '../numerics/spectrum.ts';
import { transformOf } from '../numerics/transforms.ts';
import type { SweepSpec } from '../tones/sweepSpec.ts';
import { cutOut, impulseFrom, spectrumOf } from './deconvolution.ts';

/** Two clocks of sound devices differ by some tens of parts per million; looked for are 300 to either side. */
const STEP_PPM = 10;
const STEPS = 30;
/** A drift is only believed where it makes the impulse so much sharper. */
const GAIN = 1.05;
/** Below this a driver's own high-pass delays its tones by as much as a drift does. */
const FROM_HZ = 1000;
const WINDOW_SECOND = 0.02;

/**
 * Turns every line of a quotient by the time that a drift has shifted its tone by, summed up over the tones below it.
 *
 * @param lines - up to which; @param lineHz - how far apart they lie
 */
export function compensateClockDrift(
  quotient: readonly number[],
  ppm: number,
  { fromHertz, toHertz, seconds }: SweepSpec,
  { lines, lineHz }: { lines: number; lineHz: number },
  target: number[],
): void {
  const pace = seconds / Math.log(toHertz / fromHertz);
  for (let k = 0; k <= lines; k += 1) {
    const hertz = Math.max(k * lineHz, fromHertz);
    const turn = ppm === 0 ? 0 : 2 * Math.PI * ppm * 1e-6 * pace * (hertz * Math.log(hertz / fromHertz) - hertz + fromHertz);
    const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
    const [re, im] = [quotient[2 * k]!, quotient[2 * k + 1]!];
    target[2 * k] = re * cos - im * sin;
    target[2 * k + 1] = re * sin + im * cos;
  }
}

/** How much faster the recorder's clock runs than the player's, in parts per million: where the impulse around its peak is sharpest. */
export function driftOf(impulse: Float64Array, peak: number, rateHz: number, sweep: SweepSpec): number {
  const stretch = cutOut(impulse, peak, { before: Math.round(WINDOW_SECOND * rateHz), after: Math.round(3 * WINDOW_SECOND * rateHz) });
  const short = transformOf(powerOfTwoAtLeast(stretch.length));
  const spectrum = spectrumOf(short, stretch);
  const lineHz = rateHz / short.size;
  const lines = Math.floor(Math.min(sweep.toHertz, rateHz / 2) / lineHz);
  // What a filter delays it also shapes: the phase that belongs to its levels is no drift.
  const own = minimumPhase(short, spectrum, Math.ceil(sweep.fromHertz / lineHz), lines);
  for (let k = 0; k <= lines; k += 1) {
    const size = k < FROM_HZ / lineHz ? 0 : 1;
    const [cos, sin] = [size * Math.cos(own[k]!), size * Math.sin(own[k]!)];
    const [re, im] = [spectrum[2 * k]!, spectrum[2 * k + 1]!];
    spectrum[2 * k] = re * cos + im * sin;
    spectrum[2 * k + 1] = im * cos - re * sin;
  }
  // Twice as many points as the band needs: its square is then whole, and the sharpness the same wherever the peak lies between them.
  const fine = transformOf(2 * short.size);
  const sharpness = (ppm: number): number => {
    const turned = fine.createComplexArray().fill(0);
    compensateClockDrift(spectrum, ppm, sweep, { lines, lineHz }, turned);
    return impulseFrom(fine, turned).reduce((sum, value) => sum + value ** 4, 0);
  };
  const tried = Array.from({ length: 2 * STEPS + 1 }, (_, i) => sharpness((i - STEPS) * STEP_PPM));
  const best = tried.indexOf(Math.max(...tried));
  // A drift is only believed where it makes the impulse clearly sharper than it is, and than a larger one does.
  if (best <= 0 || best === tried.length - 1 || tried[best]! < GAIN * tried[STEPS]!) return 0;
  const [before, most, after] = tried.slice(best - 1, best + 2) as [number, number, number];
  return STEP_PPM * (best - STEPS + (before - after) / (2 * (before - 2 * most + after)));
}

/**
 * Phases of the minimum-phase system that has the levels of a spectrum, for its lines up to the middle; outside of a band the level goes on as at its ends.
 *
 * @see A. V. Oppenheim and R. W. Schafer, "Discrete-Time Signal Processing": the cepstrum folded onto its causal half
 */
function minimumPhase(fft: FFT, spectrum: readonly number[], fromLine: number, toLine: number): Float64Array {
  const half = fft.size / 2;
  const level = (line: number): number => {
    const k = Math.max(1, fromLine, Math.min(toLine, line));
    return 0.5 * Math.log(spectrum[2 * k]! ** 2 + spectrum[2 * k + 1]! ** 2 + 1e-30);
  };
  const logs = fft.createComplexArray().fill(0);
  for (let k = 0; k <= half; k += 1) logs[2 * k] = level(k);
  fft.completeSpectrum(logs);
  const cepstrum = fft.createComplexArray();
  fft.inverseTransform(cepstrum, logs);
  const folded = Array.from({ length: fft.size }, (_, n) => cepstrum[2 * n]! * (n === 0 || n === half ? 1 : n < half ? 2 : 0));
  const phases = fft.createComplexArray();
  fft.realTransform(phases, folded);
  return Float64Array.from({ length: half + 1 }, (_, k) => phases[2 * k + 1]!);
}
