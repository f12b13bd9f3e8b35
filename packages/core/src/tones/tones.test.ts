// Held against sox 14.4.2, which measured the very bytes (results/tones.json, made by make_tones.mjs; the hash tells whether they
// are still the same). Tolerance: 0.01 dB, the rounding of its print; pink noise by octaves within 0.5 dB.
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { readWav } from '../formats/wav.ts';
import { encodeWav } from './encodeWav.ts';
import { toneSamples, type ToneSpec } from './toneSamples.ts';

interface MeasuredTone {
  spec: ToneSpec;
  bits: 16 | 24;
  sha256: string;
  rmsDb: number;
  peakDb: number;
  roughHertz?: number;
  octaves?: { centreHz: number; rmsDb: number }[];
}
const { tones } = JSON.parse(readFileSync(new URL('../../test/reference/results/tones.json', import.meta.url), 'utf8')) as {
  tones: MeasuredTone[];
};
const named = tones.map((tone) => ({
  ...tone,
  name: `${JSON.stringify(tone.spec.shape)} at ${tone.spec.levelDbfs} dBFS, ${tone.bits} bits`,
}));

describe('tones against sox', () => {
  it.each(named)('$name', ({ spec, bits, sha256, rmsDb, peakDb, roughHertz, octaves }) => {
    const bytes = encodeWav([toneSamples(spec)], { sampleRateHz: spec.sampleRateHz, bits });
    expect(createHash('sha256').update(bytes).digest('hex')).toBe(sha256);
    // A full-scale sine is 3.01 dB below a full-scale square, by which sox counts.
    expect(Math.abs(rmsDb - (spec.levelDbfs - 3.0103))).toBeLessThan(0.011);
    expect(peakDb).toBeLessThanOrEqual(0);
    if (spec.shape.kind === 'sine') {
      expect(Math.abs(peakDb - spec.levelDbfs)).toBeLessThan(0.011);
      // sox calls its own figure rough: it counts whole hertz.
      expect(Math.abs(roughHertz! - spec.shape.hertz)).toBeLessThanOrEqual(1);
    }
    const levels = octaves?.map((octave) => octave.rmsDb) ?? [];
    if (levels.length > 0) expect(Math.max(...levels) - Math.min(...levels)).toBeLessThan(0.5);
  });
});

describe('toneSamples', () => {
  const base: ToneSpec = { shape: { kind: 'sine', hertz: 1000 }, levelDbfs: 0, seconds: 0.1, sampleRateHz: 48_000 };

  it('is exact to the sample', () => {
    const samples = toneSamples(base);
    expect(samples).toHaveLength(4800);
    // 48 samples a cycle: a quarter of it is sample 12.
    expect([samples[0], samples[12], samples[36]].map((value) => Number(value!.toFixed(12)))).toEqual([0, 1, -1]);
    expect(toneSamples({ ...base, levelDbfs: -20 })[12]).toBeCloseTo(0.1, 12);
  });
  it('fades in and out, and leaves the middle alone', () => {
    const samples = toneSamples({ ...base, fadeSecond: 0.02 });
    const plain = toneSamples(base);
    expect(Math.max(...samples.slice(0, 48).map(Math.abs))).toBeLessThan(0.01);
    expect(Math.max(...samples.slice(-48).map(Math.abs))).toBeLessThan(0.01);
    expect(samples.slice(1000, 3000)).toEqual(plain.slice(1000, 3000));
  });
  it('sweeps through every octave in the same time', () => {
    const samples = toneSamples({ ...base, shape: { kind: 'sweep', fromHertz: 100, toHertz: 1600 }, seconds: 4 });
    const crossings = (from: number, to: number): number => {
      let count = 0;
      for (let n = Math.round(from * 48_000) + 1; n < Math.round(to * 48_000); n += 1)
        if (samples[n - 1]! < 0 && samples[n]! >= 0) count += 1;
      return count;
    };
    // Cycles in one of four octaves of a second each: Δf / ln 2.
    for (const [octave, fromHz] of [100, 200, 400, 800].entries()) {
      expect(Math.abs(crossings(octave, octave + 1) - fromHz / Math.LN2)).toBeLessThan(2);
    }
  });
  it('bumps one way only, twice a second', () => {
    const samples = toneSamples({ ...base, shape: { kind: 'polarity-pulse' }, seconds: 2 });
    expect(Math.min(...samples)).toBe(0);
    expect(Math.max(...samples)).toBeCloseTo(1, 3);
    const starts = samples.filter((value, n) => value > 0 && samples[n - 1] === 0).length;
    expect(starts).toBe(4);
  });
  it('makes the same noise for the same seed', () => {
    const noise = (seed: string): Float64Array => toneSamples({ ...base, shape: { kind: 'pink-noise', seed }, levelDbfs: -20 });
    expect(noise('a')).toEqual(noise('a'));
    expect(noise('a')).not.toEqual(noise('b'));
  });
  it.each<[Partial<ToneSpec>, string]>([
    [{ levelDbfs: 0.1 }, 'level must be at most 0 dBFS'],
    [{ seconds: 0 }, 'length must be above 0 s'],
    [{ shape: { kind: 'sine', hertz: 23_000 } }, 'between 1 Hz and 22800 Hz'],
    [{ shape: { kind: 'sweep', fromHertz: 100, toHertz: 50 } }, 'a sweep must end above where it begins'],
    [{ shape: { kind: 'pink-noise', seed: 'x' }, levelDbfs: -3, seconds: 5 }, 'at this level the peaks clip'],
  ])('refuses %j', (change, message) => {
    expect(() => toneSamples({ ...base, ...change })).toThrow(message);
  });
});

describe('encodeWav', () => {
  it.each([16, 24] as const)('is read back to the step at %i bits, left and right apart', (bits) => {
    const left = Float64Array.from([0, 0.5, -0.5, 1, -1]);
    const right = Float64Array.from([0, 0, 0, 0.25, 0]);
    const { channels, sampleRateHz } = readWav(encodeWav([left, right], { sampleRateHz: 44_100, bits }), { probe: 1 });
    expect(sampleRateHz).toBe(44_100);
    const steps = 2 / 2 ** (bits - 1);
    left.forEach((value, n) => expect(Math.abs(channels[0]!.samples[n]! - value)).toBeLessThanOrEqual(steps));
    right.forEach((value, n) => expect(Math.abs(channels[1]!.samples[n]! - value)).toBeLessThanOrEqual(steps));
  });
  it('keeps silence silent', () => {
    const bytes = encodeWav([new Float64Array(100)], { sampleRateHz: 44_100, bits: 16 });
    expect(bytes.slice(44).every((byte) => byte === 0)).toBe(true);
  });
  it('dithers at 16 bits: a tone under half a step is still there', () => {
    const quiet = toneSamples({ shape: { kind: 'sine', hertz: 441 }, levelDbfs: -100, seconds: 5, sampleRateHz: 44_100 });
    const { channels } = readWav(encodeWav([quiet], { sampleRateHz: 44_100, bits: 16 }), { probe: 1 });
    const { samples } = channels[0]!;
    let correlation = 0;
    for (let n = 0; n < samples.length; n += 1) correlation += samples[n]! * Math.sin((2 * Math.PI * 441 * n) / 44_100);
    expect((2 * correlation) / samples.length / 1e-5).toBeCloseTo(1, 1);
  });
});
