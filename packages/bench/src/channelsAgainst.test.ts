// Two channels of one sweep: an inverted one, a late one and a filtered one are told apart.
import { describe, expect, it } from 'vitest';
import { channelsAgainst, SHORT_SWEEP, SWEEP_FADE_SECOND, sweepResponse, toneSamples, type Filter } from '@yield/core';
import { throughFilters } from './filterSweep.ts';

const RATE_HZ = 48_000;
const { fromHertz, toHertz, seconds } = SHORT_SWEEP;
const shape = { kind: 'sweep', fromHertz, toHertz } as const;
const PLAYED = toneSamples({ shape, levelDbfs: -6, seconds, sampleRateHz: RATE_HZ, fadeSecond: SWEEP_FADE_SECOND });
const HIGH: Filter[] = [{ kind: 'highpass', family: 'butterworth', order: 2, cornerHz: 200 }];

function heard({ late = 0, gain = 1, filters = [] as readonly Filter[] }) {
  const samples = new Float64Array(PLAYED.length + RATE_HZ / 4);
  throughFilters(PLAYED, filters, RATE_HZ).forEach((value, n) => (samples[n + 100 + late] = gain * value));
  const response = sweepResponse(samples, RATE_HZ, SHORT_SWEEP);
  if (response.kind !== 'response') throw new Error(response.reason);
  return response;
}
const plain = heard({});

describe('one channel against another', () => {
  it.each([
    ['the same at half the level', { gain: 0.5 }, 'alike', 'same', -6.02, 0],
    ['inverted', { gain: -1 }, 'inverted', 'inverted', 0, 0],
    ['48 samples late', { late: 48 }, 'delayed', 'same', 0, 0.001],
    ['behind a high-pass', { filters: HIGH }, 'filtered', 'same', 0, 0],
    ['behind a high-pass and inverted', { filters: HIGH, gain: -1 }, 'inverted-and-more', 'inverted', 0, 0],
    ['late and inverted', { late: 24, gain: -1 }, 'inverted-and-more', 'inverted', 0, 0.0005],
  ] as const)('%s', (_, changes, verdict, polarity, gainDb, delaySecond) => {
    const found = channelsAgainst(plain, heard(changes))!;
    expect(found.verdict).toBe(verdict);
    expect(found.polarity).toBe(polarity);
    expect(found.gainDb).toBeCloseTo(gainDb, 1);
    expect(Math.abs(found.delaySecond - delaySecond)).toBeLessThan(0.000_02);
  });
  it('leaves the phase of the filter: 90 degrees at the corner of a second-order Butterworth (textbook)', () => {
    const { rest } = channelsAgainst(plain, heard({ filters: HIGH }))!;
    const at = rest.reduce((a, b) => (Math.abs(b.hertz - 200) < Math.abs(a.hertz - 200) ? b : a));
    expect(Math.abs(at.deg - 90)).toBeLessThan(6);
    expect(at.gainDb).toBeCloseTo(-3, 0);
  });
});
