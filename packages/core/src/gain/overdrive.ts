import { checkNumbers } from '../coreError.ts';
import { voltageFactor } from '../levels/decibels.ts';

export interface Overdrive {
  /** harmonics 2 to 10 against the fundamental */
  thdPercent: number;
  /** peak over RMS */
  crestFactor: number;
  /** RMS over the rail's voltage */
  rmsAgainstRail: number;
  /** against the largest clean sine, in dB: 0 to 3.01, since a square wave carries twice its power */
  powerAgainstCleanDb: number;
  /** share of each half-cycle that is flat, 0 to 1 */
  flatFraction: number;
}

const HIGHEST_HARMONIC = 10;

/**
 * What hard, symmetric clipping does to a sine.
 *
 * Fourier series of min(A sin t, 1) over a quarter of the cycle, flat from asin(1 / A) on; even harmonics are none.
 *
 * @param overdriveDb - 0 to 60: how far the unclipped sine would rise over the rails
 * @throws {CoreError} `INPUT_INVALID` outside of that
 * @see the series follows from the definition of Fourier coefficients; held against numerical integration in the tests
 */
export function overdrive({ overdriveDb }: { overdriveDb: number }): Overdrive {
  checkNumbers({ overdriveDb }, { overdriveDb: { name: 'overdrive', unit: 'dB', atLeast: 0, atMost: 60 } });
  const height = voltageFactor(overdriveDb);
  const knee = Math.asin(1 / height);
  const risingSquare = knee / 2 - Math.sin(2 * knee) / 4;
  const fundamental = (4 / Math.PI) * (height * risingSquare + Math.cos(knee));
  let square = 0;
  for (let order = 3; order <= HIGHEST_HARMONIC; order += 2) {
    const rising = (height / 2) * (Math.sin((order - 1) * knee) / (order - 1) - Math.sin((order + 1) * knee) / (order + 1));
    square += ((4 / Math.PI) * (rising + Math.cos(order * knee) / order)) ** 2;
  }
  const meanSquare = (2 / Math.PI) * (height ** 2 * risingSquare + Math.PI / 2 - knee);
  const rms = Math.sqrt(meanSquare);
  return {
    thdPercent: (100 * Math.sqrt(square)) / fundamental,
    crestFactor: 1 / rms,
    rmsAgainstRail: rms,
    powerAgainstCleanDb: Math.max(0, 10 * Math.log10(2 * meanSquare)),
    flatFraction: 1 - (2 * knee) / Math.PI,
  };
}
