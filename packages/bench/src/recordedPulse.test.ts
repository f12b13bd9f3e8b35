import { pulsePolarity, seededRandom, type Capture, type Filter } from '@yield/core';
import { describe, expect, it } from 'vitest';
import { recordedPulse, type PulsedDriver } from './recordedPulse.ts';

const RATE = 48_000;
const captureOf = (samples: Float64Array): Capture => ({
  format: 'wav',
  sampleRateHz: RATE,
  startSecond: 0,
  channels: [{ name: 'microphone', samples }],
  notes: [],
  calibrated: false,
});
const butterworth = (kind: Filter['kind'], order: number, cornerHz: number): Filter => ({ kind, family: 'butterworth', order, cornerHz });

/** Tweeter, midrange or woofer with a high-pass of order 1 to 4, its own upper end, and now and then a filter before it. */
function madeDriver(number: number): PulsedDriver {
  const random = seededRandom(`driver ${number}`);
  const lowHz = 25 * 2 ** (7 * random.uniform());
  const order = 1 + Math.floor(4 * random.uniform());
  const filters = [
    butterworth('highpass', order, lowHz),
    butterworth('lowpass', 1 + Math.floor(4 * random.uniform()), Math.min(18_000, lowHz * (6 + 30 * random.uniform()))),
  ];
  if (random.uniform() < 0.3) filters.push(butterworth('highpass', 1, lowHz / 2));
  return {
    isReversed: random.uniform() < 0.5,
    filters,
    arrivalSecond: 0.06 + 0.1 * random.uniform(),
    widthSecond: 0.0003 + 0.4 * (1 / lowHz) * random.uniform(),
    noiseBelowDb: 12 + 28 * random.uniform(),
    offset: 0.02 * random.normal(),
  };
}

describe('two hundred recorded pulses', () => {
  const judged = Array.from({ length: 200 }, (_, number) => {
    const driver = madeDriver(number);
    const samples = recordedPulse(driver, 0.6, RATE, seededRandom(`noise ${number}`));
    return { number, driver, ...pulsePolarity(captureOf(samples)).channels[0]! };
  });
  it('are none of them judged wrong', () => {
    const wrong = judged.filter(({ driver, polarity }) => polarity === (driver.isReversed ? 'positive' : 'negative'));
    expect(wrong.map(({ number, driver }) => ({ number, ...driver }))).toEqual([]);
  });
  it('are decided in nine of ten from 20 dB over the noise on', () => {
    const clear = judged.filter(({ driver }) => driver.noiseBelowDb >= 20);
    expect(clear.length).toBeGreaterThan(100);
    expect(clear.filter(({ polarity }) => polarity !== 'unclear').length / clear.length).toBeGreaterThanOrEqual(0.9);
  });
  it('arrive where they were put, within the rise of the first excursion', () => {
    const clear = judged.filter(({ driver, polarity }) => driver.noiseBelowDb >= 30 && polarity !== 'unclear');
    for (const { driver, arrivalSecond } of clear) {
      expect(arrivalSecond!).toBeGreaterThan(driver.arrivalSecond - 0.0005);
      expect(arrivalSecond! - driver.arrivalSecond).toBeLessThan(0.004 + driver.widthSecond);
    }
  });
});

describe('what is no pulse', () => {
  const driver = madeDriver(3);
  const of = (change: (samples: Float64Array) => Float64Array): ReturnType<typeof pulsePolarity>['channels'][0] =>
    pulsePolarity(captureOf(change(recordedPulse({ ...driver, noiseBelowDb: 40 }, 0.6, RATE, seededRandom('one'))))).channels[0]!;
  it.each([
    ['noise alone', (samples: Float64Array) => samples.map((_, n) => seededRandom(`${n}`).normal())],
    ['silence', (samples: Float64Array) => samples.map(() => 0.1)],
    ['a recording that begins within it', (samples: Float64Array) => samples.subarray(Math.round((driver.arrivalSecond + 0.0005) * RATE))],
    ['a hum as loud', (samples: Float64Array) => samples.map((value, n) => value + 0.5 * Math.sin((2 * Math.PI * 50 * n) / RATE))],
  ])('%s', (_, change) => {
    const { polarity, reason } = of(change);
    expect(polarity).toBe('unclear');
    expect(reason).toMatch(/\./);
  });
  it('is told by the first of several pulses', () => {
    const word = driver.isReversed ? 'negative' : 'positive';
    expect(of((samples) => Float64Array.from([...samples, ...samples, ...samples])).polarity).toBe(word);
  });
});
