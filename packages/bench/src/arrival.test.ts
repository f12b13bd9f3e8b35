// When a door's sound reaches the microphone, by a sweep recorded together with the source's line: noise, reflections, two clocks.
import { describe, expect, it } from 'vitest';
import { seededRandom, SHORT_SWEEP, SWEEP_FADE_SECOND, sweepResponse, toneSamples, type Filter } from '@yield/core';
import { throughFilters } from './filterSweep.ts';

const RATE_HZ = 48_000;
const { fromHertz, toHertz, seconds } = SHORT_SWEEP;
const PLAYED = toneSamples({
  shape: { kind: 'sweep', fromHertz, toHertz },
  levelDbfs: 0,
  seconds,
  sampleRateHz: RATE_HZ,
  fadeSecond: SWEEP_FADE_SECOND,
});
const DOOR: Filter[] = [{ kind: 'highpass', family: 'butterworth', order: 2, cornerHz: 80 }];

/** The sweep after so many samples, through a door that plays from 80 Hz up, with what comes back from glass and roof, and noise. */
function microphone(lateSamples: number, index: number): Float64Array {
  const random = seededRandom(`arrival ${index}`);
  const heard = throughFilters(PLAYED, DOOR, RATE_HZ);
  const out = new Float64Array(PLAYED.length + RATE_HZ / 2);
  const ways = [
    { late: lateSamples, part: 0.3 },
    ...[1, 2].map(() => ({
      late: lateSamples + Math.round((0.001 + 0.006 * random.uniform()) * RATE_HZ),
      part: 0.3 * (0.3 + 0.3 * random.uniform()),
    })),
  ];
  for (const { late, part } of ways) heard.forEach((value, n) => (out[late + n]! += part * value));
  const rms = Math.sqrt(out.reduce((sum, value) => sum + value ** 2, 0) / out.length);
  // 20 dB below the sweep.
  return out.map((value) => value + 0.1 * rms * random.normal());
}

const arrivalOf = (samples: Float64Array): number => {
  const response = sweepResponse(samples, RATE_HZ, SHORT_SWEEP);
  if (response.kind !== 'response') throw new Error(response.reason);
  return response.arrivalSecond;
};

describe('the arrival of a door', () => {
  it.each([0, 1, 2, 3])('is told to 0.02 ms, 20 dB over the noise, with two reflections (%i)', (index) => {
    const late = 137 + 61 * index;
    const line = new Float64Array(PLAYED.length + RATE_HZ / 2);
    line.set(PLAYED, 40);
    const found = arrivalOf(microphone(40 + late, index)) - arrivalOf(line);
    expect(Math.abs(found - late / RATE_HZ)).toBeLessThan(0.000_02);
  });
});
