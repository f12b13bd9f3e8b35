import { fitHarmonics } from './fitHarmonics.ts';
import { fitSine } from './fitSine.ts';
import type { Samples } from '../numerics/samples.ts';

/** Over more cycles than this, harmonics pull a sine fit by less than one part in a million. */
const MANY_CYCLES = 60;
/** More samples a cycle than this add nothing: of a finer record every n-th sample is taken. */
const ENOUGH_A_CYCLE = 512;
const PASSES = 4;

/**
 * Frees the frequency of a sine fit from the pull of harmonics, which do not average out over a part cycle.
 *
 * Takes the fitted harmonics off the record and fits the sine again, which settles on the frequency at which fundamental,
 * harmonics and offset together leave the least.
 *
 * @param startHz - the frequency that the plain sine fit found
 */
export function refineTone(samples: Samples, sampleRateHz: number, startHz: number): number {
  const samplesPerCycle = sampleRateHz / startHz;
  if (samples.length / samplesPerCycle > MANY_CYCLES || samplesPerCycle < 5) return startHz;
  const stride = Math.max(1, Math.floor(samplesPerCycle / ENOUGH_A_CYCLE));
  const rateHz = sampleRateHz / stride;
  const coarse = Float64Array.from({ length: Math.ceil(samples.length / stride) }, (_, i) => samples[i * stride]!);
  let hertz = startHz;
  for (let pass = 0; pass < PASSES; pass += 1) {
    const upper = fitHarmonics(coarse, rateHz, hertz).harmonics.slice(1);
    const omega = (2 * Math.PI * hertz) / rateHz;
    const bare = coarse.map((value, n) =>
      upper.reduce((rest, { order, amplitude, phaseRad }) => rest - amplitude * Math.cos(order * omega * n + phaseRad), value),
    );
    const next = fitSine(bare, rateHz, hertz);
    if (next === null) return hertz;
    const moved = Math.abs(next.frequencyHz / hertz - 1);
    hertz = next.frequencyHz;
    if (moved < 1e-9) break;
  }
  return hertz;
}
