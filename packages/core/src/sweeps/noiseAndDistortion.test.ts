// What was put into a made recording is what is found in it: harmonics of a known size, noise of a known level, a clock that runs fast.
import { describe, expect, it } from 'vitest';
import { seededRandom } from '../numerics/random.ts';
import { SWEEP_FADE_SECOND, type SweepSpec } from '../tones/sweepSpec.ts';
import { toneSamples } from '../tones/toneSamples.ts';
import { sweepResponse, type SweepResponse } from './sweepResponse.ts';

const RATE = 48_000;

interface Recording {
  sweep: SweepSpec;
  /** what the wave becomes */
  bend?: (x: number) => number;
  noiseRms?: number;
  beginSecond?: number;
  restSecond?: number;
}

function recorded({ sweep, bend = (x) => x, noiseRms = 0, beginSecond = 0.5, restSecond = 1.5 }: Recording): Float64Array {
  const { fromHertz, toHertz, seconds } = sweep;
  const played = toneSamples({
    shape: { kind: 'sweep', fromHertz, toHertz },
    levelDbfs: 0,
    seconds,
    sampleRateHz: RATE,
    fadeSecond: SWEEP_FADE_SECOND,
  });
  const random = seededRandom('beside');
  const begin = Math.round(beginSecond * RATE);
  return Float64Array.from({ length: Math.round((beginSecond + seconds + restSecond) * RATE) }, (_, n) => {
    const x = played[n - begin] ?? 0;
    return 0.25 * bend(x) + noiseRms * random.normal();
  });
}

function responseOf(recording: Recording): Extract<SweepResponse, { kind: 'response' }> {
  const response = sweepResponse(recorded(recording), RATE, recording.sweep);
  if (response.kind !== 'response') throw new Error(response.reason);
  return response;
}

const LONG = { fromHertz: 20, toHertz: 20_000, seconds: 10 };
const SHORT = { fromHertz: 20, toHertz: 20_000, seconds: 5 };

describe('beside a response', () => {
  // x + a (2x² − 1) has a second harmonic of a; x + a (4x³ − 3x) a third of a.
  it.each([
    ['a second of 3 %', (x: number) => x + 0.03 * (2 * x * x - 1), 3, LONG],
    ['a third of 1 %', (x: number) => x + 0.01 * (4 * x ** 3 - 3 * x), 1, SHORT],
    ['both', (x: number) => x + 0.03 * (2 * x * x - 1) + 0.04 * (4 * x ** 3 - 3 * x), 5, SHORT],
  ])('harmonics are found: %s', (_, bend, percent, sweep) => {
    const { distortion } = responseOf({ sweep, bend, noiseRms: 1e-5 });
    const inside = distortion!.filter(({ hertz }) => hertz > 50 && hertz < 6000);
    expect(inside.length).toBeGreaterThan(18);
    // What lies above half the sample rate folds back in a made recording, and stands beside what is looked for.
    for (const each of inside) expect(Math.abs(each.percent / percent - 1), `${each.hertz} Hz`).toBeLessThan(0.12);
  });

  it('a clean wave in noise has no distortion to be named', () => {
    const { distortion, noise } = responseOf({ sweep: SHORT, noiseRms: 0.002 });
    expect(Math.max(0, ...distortion!.map(({ percent }) => percent))).toBeLessThan(1);
    expect(noise!.length).toBeGreaterThan(20);
  });

  it('noise of twice the level stands 6 dB higher, and where it is', () => {
    const sweep = SHORT;
    const [soft, loud] = [0.001, 0.002].map((noiseRms) => responseOf({ sweep, noiseRms }).noise!);
    for (const [k, { hertz, db }] of loud!.entries()) expect(db - soft![k]!.db, `${hertz} Hz`).toBeCloseTo(6.02, 0);
    // A sweep passes a tone at tone / pace hertz a second: half its height over the root of that is its spectrum (stationary phase).
    const pace = sweep.seconds / Math.log(1000);
    for (const { hertz, db } of loud!.filter(({ hertz }) => hertz > 100)) {
      const played = (RATE ** 2 * pace) / hertz / 4;
      const before = Math.min(0.5, (0.8 * sweep.seconds) / Math.log2(1000));
      const window = (11 / 16) * (before + 1) * RATE;
      expect(Math.abs(db - 10 * Math.log10((0.002 ** 2 * window) / played)), `${hertz} Hz`).toBeLessThan(2);
    }
  });

  it('noise is only told of where the recording was running', () => {
    const { noise } = responseOf({ sweep: { fromHertz: 20, toHertz: 20_000, seconds: 2 }, noiseRms: 0.001, restSecond: 0.2 });
    expect(noise!.every(({ db }) => db > -120)).toBe(true);
  });

  it('a clock that runs 100 parts in a million fast is found, and one that keeps time too', () => {
    const whole = recorded({ sweep: LONG });
    const fast = Float64Array.from({ length: whole.length - 4 }, (_, n) => {
      const at = n / (1 + 100e-6);
      const k = Math.floor(at);
      const u = at - k;
      // Four points: a straight line would take the top octave off.
      const [a, b, c, d] = [whole[k - 1] ?? 0, whole[k]!, whole[k + 1]!, whole[k + 2]!];
      return b + 0.5 * u * (c - a + u * (2 * a - 5 * b + 4 * c - d + u * (3 * (b - c) + d - a)));
    });
    const drift = (samples: Float64Array): number | undefined => {
      const response = sweepResponse(samples, RATE, LONG);
      return response.kind === 'response' ? response.driftPpm : undefined;
    };
    expect(Math.abs(drift(fast)! - 100)).toBeLessThan(5);
    expect(drift(whole)).toBe(0);
  });
});
