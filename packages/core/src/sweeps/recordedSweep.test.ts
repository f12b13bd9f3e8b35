import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import type { Capture } from '../formats/capture.ts';
import { readCapture } from '../formats/readCapture.ts';
import { seededRandom } from '../numerics/random.ts';
import { recordedSweep, type SweepChannel } from './recordedSweep.ts';

const results = new URL('../../test/reference/results/', import.meta.url);
const RATE = 48_000;
const SWEEP = { sweepSecond: 1, sweepFromHz: 20, sweepToHz: 20_000, levelDbfs: -6 };

/** The sweep as the contract has it, at times in seconds from its begin. */
function played(second: number, { sweepSecond, sweepFromHz, sweepToHz, levelDbfs } = SWEEP): number {
  const pace = sweepSecond / Math.log(sweepToHz / sweepFromHz);
  if (second < 0 || second > sweepSecond) return 0;
  return 10 ** (levelDbfs / 20) * Math.sin(2 * Math.PI * sweepFromHz * pace * Math.expm1(second / pace));
}
const captureOf = (...channels: Float64Array[]): Capture => ({
  format: 'wav',
  sampleRateHz: RATE,
  startSecond: 0,
  channels: channels.map((samples, i) => ({ name: `channel ${i + 1}`, samples })),
  notes: [],
  calibrated: false,
});
const recorded = (seconds: number, at: (second: number) => number): Float64Array =>
  Float64Array.from({ length: Math.round(seconds * RATE) }, (_, n) => at(n / RATE));
type Response = Extract<SweepChannel, { arrivalSecond: number }>;
const responsesOf = (...channels: Float64Array[]): Response[] => recordedSweep(captureOf(...channels), SWEEP).channels as Response[];

describe('a recorded sweep', () => {
  it('gives the response that SciPy says, by a clock 100 ppm slow and 30 dB over the noise, within 0.1 dB from 30 Hz to 16 kHz', () => {
    const truth = JSON.parse(readFileSync(new URL('sweep-drift.json', results), 'utf8')) as Response & {
      sweepSecond: number;
      levelDbfs: number;
    };
    const capture = readCapture(readFileSync(new URL('sweep-drift.wav', results)));
    const found = recordedSweep(capture, { sweepSecond: truth.sweepSecond, levelDbfs: truth.levelDbfs }).channels[0] as Response;
    found.frequenciesHz.forEach((hertz, i) => {
      expect(hertz).toBeCloseTo(truth.frequenciesHz[i]!, 3);
      if (hertz >= 30 && hertz <= 16_000) expect(Math.abs(found.levelDb[i]! - truth.levelDb[i]!)).toBeLessThan(0.1);
    });
    expect(found.driftPpm).toBeGreaterThan(-115);
    expect(found.driftPpm).toBeLessThan(-85);
    expect(found.signalToNoiseDb).toBeCloseTo(30, 0);
  });
  it('tells level and arrival of every channel to a tenth of a sample, and no drift where there is none', () => {
    const [first, second] = responsesOf(
      recorded(1.5, (t) => 0.5 * played(t - 0.2137113)),
      recorded(1.5, (t) => -0.25 * played(t - 0.2161)),
    );
    expect(first!.arrivalSecond).toBeCloseTo(0.2137113, 5);
    expect(Math.abs(second!.arrivalSecond - 0.2161)).toBeLessThan(0.1 / RATE);
    for (const [channel, db] of [
      [first!, -6.02],
      [second!, -12.04],
    ] as const)
      channel.levelDb.slice(12, -12).forEach((level) => expect(level).toBeCloseTo(db, 1));
    expect([first!.driftPpm, second!.driftPpm]).toEqual([0, 0]);
  });
  it('arrives within 0.02 ms behind 20 dB of noise and two reflections', () => {
    const random = seededRandom('cabin');
    const [found] = responsesOf(
      recorded(1.6, (t) => 0.4 * (played(t - 0.3) + 0.5 * played(t - 0.3041) - 0.35 * played(t - 0.3117)) + 0.016 * random.normal()),
    );
    expect(Math.abs(found!.arrivalSecond - 0.3)).toBeLessThan(0.000_02);
  });
  it('names a channel that lacks it beside one that has it', () => {
    const { channels } = recordedSweep(
      captureOf(
        recorded(1.5, () => 0),
        recorded(1.5, (t) => played(t - 0.2)),
      ),
      SWEEP,
    );
    expect(channels[0]).toEqual({ name: 'channel 1', reason: expect.stringContaining('No such sweep') as string });
    expect(channels[1]).toHaveProperty('levelDb');
  });
  it.each([
    ['noise', 'No such sweep', (): Float64Array => recorded(1.5, () => 0.1 * seededRandom('x').normal())],
    ['another sweep', 'No such sweep', (): Float64Array => recorded(2.5, (t) => played(t - 0.2, { ...SWEEP, sweepSecond: 2 }))],
    ['one that began before the recording', 'cut short', (): Float64Array => recorded(1.5, (t) => played(t + 0.1))],
    ['one that is cut off', 'cut short', (): Float64Array => recorded(1.3, (t) => played(t - 0.5))],
    ['too short a recording', 'shorter', (): Float64Array => recorded(0.5, (t) => played(t))],
  ])('is not found in %s', (_, words, make) => {
    expect(() => recordedSweep(captureOf(make()), SWEEP)).toThrow(words);
  });
  it('refuses a sweep that cannot be, naming each fault', () => {
    const faults = { sweepSecond: 0, sweepFromHz: 0, sweepToHz: 25_000, levelDbfs: 3, pointsPerOctave: 2.5 };
    try {
      recordedSweep(captureOf(recorded(1, () => 0)), faults);
      expect.unreachable();
    } catch (error) {
      expect((error as { faults: { pointer: string }[] }).faults.map(({ pointer }) => pointer)).toEqual(
        Object.keys(faults).map((key) => `/${key}`),
      );
    }
  });
});

describe('a sweep of another range or length than was recorded', () => {
  /** In a cabin: reflections, and less treble. */
  const heard = recorded(1.6, (second) =>
    [0, 0.003, 0.007, 0.013, 0.05].reduce((sum, late, i) => sum + ((-1) ** i / (1 + i)) * played(second - 0.3 - late), 0),
  );
  it.each([
    { sweepFromHz: 40 },
    { sweepFromHz: 10 },
    { sweepFromHz: 28 },
    { sweepToHz: 10_000 },
    { sweepToHz: 15_000 },
    { sweepFromHz: 40, sweepToHz: 10_000 },
    { sweepSecond: 0.9 },
    { sweepSecond: 1.2 },
    { sweepSecond: 0.5 },
  ])('%j is refused', (other) => {
    expect(() => recordedSweep(captureOf(heard), { ...SWEEP, ...other })).toThrow(/sweep/i);
  });
  it('is told of a short sweep too, whose transform is shorter than what is looked at', () => {
    const short = { ...SWEEP, sweepSecond: 0.25 };
    const capture = captureOf(recorded(0.4, (second) => played(second - 0.05, short)));
    expect(recordedSweep(capture, short).channels[0]).toHaveProperty('levelDb');
    expect(() => recordedSweep(capture, { ...short, sweepFromHz: 60 })).toThrow(/sweep/i);
  });
  it('is not seen in what filters, ways and delays do to the right one', () => {
    // The lower half of the tones three milliseconds later than the upper half.
    const middle = SWEEP.sweepSecond / 2;
    const ways = recorded(1.6, (second) => {
      const low = played(second - 0.303);
      const high = played(second - 0.3);
      return (second - 0.303 < middle ? low : 0) + (second - 0.3 >= middle ? high : 0);
    });
    expect(recordedSweep(captureOf(ways), SWEEP).channels[0]).toHaveProperty('levelDb');
  });
});
