import type { Filter, Random } from '@yield/core';
import { throughFilters } from './filterSweep.ts';

/** A driver in a cabin, as a microphone hears a pulse that was played through it. */
export interface PulsedDriver {
  isReversed: boolean;
  /** of the driver itself and of what lies before it */
  filters: readonly Filter[];
  /** from the recording's begin to where the pulse arrives */
  arrivalSecond: number;
  /** of the pulse as played, one hump */
  widthSecond: number;
  /** by which the largest of the noise lies below the pulse's largest excursion */
  noiseBelowDb: number;
  /** where the recording rests, as a share of full scale */
  offset?: number;
}

const LARGEST = 0.5;

/** One pulse recorded through a driver: filters that ring behind only, noise, an offset. */
export function recordedPulse(
  { isReversed, filters, arrivalSecond, widthSecond, noiseBelowDb, offset = 0 }: PulsedDriver,
  seconds: number,
  sampleRateHz: number,
  random: Random,
): Float64Array {
  const begin = Math.round(arrivalSecond * sampleRateHz);
  const count = Math.max(2, Math.round(widthSecond * sampleRateHz));
  const played = new Float64Array(Math.round(seconds * sampleRateHz));
  for (let n = 0; n < count; n += 1) played[begin + n] = Math.sin((Math.PI * (n + 0.5)) / count) ** 2;
  const heard = throughFilters(played, filters, sampleRateHz);
  const noise = heard.map(() => random.normal());
  const scale = (LARGEST * (isReversed ? -1 : 1)) / largestOf(heard);
  const noiseScale = (LARGEST * 10 ** (-noiseBelowDb / 20)) / largestOf(noise);
  return heard.map((value, n) => scale * value + noiseScale * noise[n]! + offset);
}

export const largestOf = (values: Float64Array): number => values.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
