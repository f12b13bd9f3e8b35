import { powerOfTwoAtLeast } from '../numerics/spectrum.ts';
import { transformOf } from '../numerics/transforms.ts';
import type { SweepSpec } from '../tones/sweepSpec.ts';
import { cutOut, spectrumOf, type ImpulseWindow } from './deconvolution.ts';

/** What lies under a response that was taken by a sweep, by thirds of an octave. */
export interface NoiseAndDistortion {
  /** what a response without any sound would show; levels as the response has them */
  noise: { hertz: number; db: number }[];
  /** harmonics 2 to 5 against the fundamental, where they stand clear of the noise */
  distortion: { hertz: number; percent: number }[];
}

const HIGHEST_HARMONIC = 5;
/** Up to here harmonics are kept out of what is taken for noise. */
const SILENT_FROM_HARMONIC = 12;
/** Harmonics count where they stand so far above the noise under them. */
const CLEAR = 4;
/** So much of the way to its neighbours a harmonic is given. */
const OWN_SHARE = 0.45;
const HALF_THIRD = 2 ** (1 / 6);

interface Stretch {
  /** mean power a line around a frequency, over a third of an octave */
  powerAt(hertz: number): number;
  /** sum of the window's squares: noise grows with it */
  weight: number;
}

/**
 * Noise and distortion from the impulse of a sweep: a harmonic arrives before the fundamental, each at its own place, and where
 * neither they nor the room have anything there is only noise.
 *
 * A place of the impulse holds a frequency's noise only where the recording was running while it would have been played: each frequency
 * takes the silent stretch, before or after, that was recorded.
 *
 * @param arrivalSecond - of the sweep in the recording
 * @param recordedSecond - length of the recording
 * @see A. Farina, "Simultaneous measurement of impulse response and distortion with a swept-sine technique", AES 108 (2000)
 */
export function noiseAndDistortion(
  impulse: Float64Array,
  peak: number,
  rateHz: number,
  sweep: SweepSpec,
  window: ImpulseWindow,
  { arrivalSecond, recordedSecond }: { arrivalSecond: number; recordedSecond: number },
): NoiseAndDistortion {
  const { fromHertz, toHertz, seconds } = sweep;
  const pace = seconds / Math.log(toHertz / fromHertz);
  const [beforeSecond, afterSecond] = [window.before / rateHz, window.after / rateHz];
  const stretchAt = (centreSecond: number, size: ImpulseWindow): Stretch =>
    stretchOf(impulse, peak + Math.round(centreSecond * rateHz), size, rateHz);

  const late = { centre: afterSecond + beforeSecond, ends: 2 * afterSecond + beforeSecond };
  const early = {
    centre: -pace * Math.log(SILENT_FROM_HARMONIC) - afterSecond,
    ends: -pace * Math.log(SILENT_FROM_HARMONIC) - afterSecond - beforeSecond,
  };
  const afterIt = stretchAt(late.centre, window);
  const beforeIt = stretchAt(early.centre, window);
  const quietAt = (hertz: number): Stretch | undefined => {
    const playedAt = arrivalSecond + pace * Math.log(hertz / fromHertz);
    if (playedAt + late.ends <= recordedSecond) return afterIt;
    return playedAt + early.ends >= 0 ? beforeIt : undefined;
  };

  const top = Math.min(toHertz, 0.45 * rateHz);
  const thirds = thirdsOfOctaves(fromHertz, top);
  const noise = thirds.flatMap((hertz) => {
    const quiet = quietAt(hertz);
    return quiet === undefined ? [] : [{ hertz, db: 10 * Math.log10(Math.max(1e-20, quiet.powerAt(hertz))) }];
  });

  const fundamental = stretchAt(0, window);
  const harmonics = Array.from({ length: HIGHEST_HARMONIC - 1 }, (_, i) => {
    const order = i + 2;
    const samples = (ratio: number): number => Math.max(1, Math.round(OWN_SHARE * pace * Math.log(ratio) * rateHz));
    const own = { before: samples((order + 1) / order), after: samples(order / (order - 1)) };
    return { order, ...stretchAt(-pace * Math.log(order), own) };
  });
  const distortion = thirds.flatMap((hertz) => {
    let [found, under] = [0, 0];
    for (const { order, powerAt, weight } of harmonics) {
      const quiet = order * hertz * HALF_THIRD > top ? undefined : quietAt(order * hertz);
      if (quiet === undefined) continue;
      found += powerAt(order * hertz);
      under += (quiet.powerAt(order * hertz) * weight) / quiet.weight;
    }
    return found === 0 || found < CLEAR * under ? [] : [{ hertz, percent: 100 * Math.sqrt((found - under) / fundamental.powerAt(hertz)) }];
  });
  return { noise, distortion };
}

function stretchOf(impulse: Float64Array, centre: number, size: ImpulseWindow, rateHz: number): Stretch {
  const length = impulse.length;
  const stretch = cutOut(impulse, ((centre % length) + length) % length, size);
  const fft = transformOf(powerOfTwoAtLeast(stretch.length));
  const spectrum = spectrumOf(fft, stretch);
  const line = rateHz / fft.size;
  // Of a faded stretch: three eighths of each fade's length, which is half of its side, and the whole of the rest.
  const weight = (11 / 16) * (size.before + size.after);
  return {
    weight,
    powerAt: (hertz) => {
      const first = Math.max(1, Math.round(hertz / HALF_THIRD / line));
      const last = Math.max(first, Math.min(fft.size / 2 - 1, Math.round((hertz * HALF_THIRD) / line)));
      let power = 0;
      for (let k = first; k <= last; k += 1) power += spectrum[2 * k]! ** 2 + spectrum[2 * k + 1]! ** 2;
      return power / (last - first + 1);
    },
  };
}

/** Thirds of an octave around 1 kHz, whose whole width lies within a range. */
function thirdsOfOctaves(fromHertz: number, toHertz: number): number[] {
  const first = Math.ceil(3 * Math.log2((fromHertz * HALF_THIRD) / 1000));
  const last = Math.floor(3 * Math.log2(toHertz / HALF_THIRD / 1000));
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => 1000 * 2 ** ((first + i) / 3));
}
