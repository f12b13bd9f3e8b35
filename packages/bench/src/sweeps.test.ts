// Held against SciPy's deconvolution of the very same files (results/sweeps.json, made by make_sweeps.mjs and deconvolve.py).
import { say } from '@yield/words';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import {
  compareSweeps,
  encodeWav,
  readCapture,
  seededRandom,
  SHORT_SWEEP,
  sweepFindings,
  sweepResponse,
  toneSamples,
  type Samples,
  type SweepResponse,
  type SweepSpec,
  type VolumeResponse,
} from '@yield/core';
import { describe, expect, it } from 'vitest';
import { FACTORY_BUMP, HOLDS_BACK_FROM, recordedSweep } from './factoryUnit.ts';

interface ReferenceSweep {
  sweep: SweepSpec;
  sampleRateHz: number;
  volume: number;
  seed: string;
  sha256: string;
  delaySecond: number;
  points: { hertz: number; db: number }[];
}
const file = new URL('../test/reference/results/sweeps.json', import.meta.url);
const { results } = JSON.parse(readFileSync(file, 'utf8')) as { results: ReferenceSweep[] };

type Found = Extract<SweepResponse, { kind: 'response' }>;
function found(samples: Samples, rateHz: number, sweep: SweepSpec): Found {
  const response = sweepResponse(samples, rateHz, sweep);
  if (response.kind !== 'response') throw new Error(response.reason);
  return response;
}
const words = (responses: VolumeResponse[]): string =>
  sweepFindings(compareSweeps(responses), responses)
    .map(say)
    .map(({ text, next }) => `${text} ${next ?? ''}`)
    .join(' ');

describe('a sweep’s response', () => {
  it.each(results)('is SciPy’s to 0.05 dB from 30 Hz to 18 kHz: $sweep.seconds s at $sampleRateHz Hz, volume $volume', (given) => {
    const { sweep, sampleRateHz, volume, seed, sha256, points, delaySecond } = given;
    const bytes = encodeWav([recordedSweep(sweep, sampleRateHz, volume, seededRandom(seed))], { sampleRateHz, bits: 24 });
    expect(createHash('sha256').update(bytes).digest('hex')).toBe(sha256);
    const response = found(readCapture(bytes).channels[0]!.samples, sampleRateHz, sweep);
    const gaps = points.flatMap(({ hertz, db }) => {
      if (hertz < 30 || hertz > 18_000) return [];
      const own = response.points.find((point) => Math.abs(point.hertz / hertz - 1) < 1e-9);
      return [Math.abs(own!.db - db)];
    });
    expect(gaps.length).toBeGreaterThan(100);
    expect(Math.max(...gaps)).toBeLessThan(0.05);
    expect(Math.abs(response.arrivalSecond - delaySecond)).toBeLessThan(1.5 / sampleRateHz);
  });
  it('of a wire is flat, in time and the right way round', () => {
    const played = toneSamples({
      shape: { kind: 'sweep', fromHertz: 20, toHertz: 20_000 },
      levelDbfs: -6,
      seconds: 5,
      sampleRateHz: 48_000,
      fadeSecond: 0.05,
    });
    const late = new Float64Array(played.length + 2000);
    late.set(
      played.map((value) => -value),
      1200,
    );
    const response = found(late, 48_000, SHORT_SWEEP);
    expect(response).toMatchObject({ polarity: 'inverted' });
    // A wire turned round is half a turn at every frequency, once its arrival is taken off.
    expect(response.arrivalSecond).toBeCloseTo(0.025, 7);
    for (const { hertz, phaseDeg = 0 } of response.points)
      if (hertz > 30 && hertz < 18_000) expect(Math.abs(phaseDeg)).toBeGreaterThan(178);
    expect(response.impulse.values.length).toBeGreaterThan(500);
    for (const { hertz, db } of response.points) if (hertz > 30 && hertz < 18_000) expect(Math.abs(db + 6)).toBeLessThan(0.03);
  });
  it.each<[string, Float64Array, string]>([
    ['hiss', Float64Array.from({ length: 300_000 }, (_, n) => seededRandom(`${n}`).normal() * 0.1), 'No such sweep'],
    ['silence', new Float64Array(300_000), 'No such sweep'],
    ['half of it', recordedSweep(SHORT_SWEEP, 48_000, 10, seededRandom('h')).slice(0, 120_000), 'shorter than the sweep'],
    ['a minute too much', new Float64Array(48_000 * 70), 'cut it shorter'],
  ])('is not made up from %s', (_, samples, reason) => {
    expect(sweepResponse(samples, 48_000, SHORT_SWEEP)).toMatchObject({
      kind: 'no-sweep',
      reason: expect.stringContaining(reason) as string,
    });
  });
  it.each([
    [8000, 'too low for this sweep'],
    [192_000, 'too many samples'],
  ])('is refused at %i samples a second', (rateHz, reason) => {
    expect(sweepResponse(new Float64Array(20 * rateHz), rateHz, SHORT_SWEEP)).toMatchObject({
      reason: expect.stringContaining(reason) as string,
    });
  });
});

describe('sweeps at several volumes', () => {
  const at = (volume: number, label = 'Front left', captureId = `${volume}`): VolumeResponse => {
    const { points, arrivalSecond, polarity } = found(
      recordedSweep(SHORT_SWEEP, 44_100, volume, seededRandom(`${volume}`)),
      44_100,
      SHORT_SWEEP,
    );
    return { label, volume, captureId, points, arrivalSecond, polarity };
  };
  const quiet = at(10);
  const loud = at(22);

  it('show from which volume on bass is held back, and by how much', () => {
    const [comparison] = compareSweeps([loud, quiet, at(16), at(18)]);
    // The unit takes 1 dB at 16, 3 dB at 18, 7 dB at 22, in a shelf below 90 Hz.
    expect(comparison!.heldBack!.fromVolume).toBeGreaterThanOrEqual(HOLDS_BACK_FROM);
    expect(comparison!.heldBack!.fromVolume).toBeLessThanOrEqual(HOLDS_BACK_FROM + 2);
    expect(comparison!.heldBack!.db).toBeGreaterThan(6);
    expect(comparison!.heldBack!.db).toBeLessThan(7.2);
    expect(words([quiet, loud])).toMatch(/Front left: bass is reduced from volume 22 up, 6\.\d\sdB at 3\d(\.\d)?\sHz/);
  });
  it('find the equaliser, and what undoes it', () => {
    const { bumps } = compareSweeps([quiet])[0]!;
    expect(bumps).toHaveLength(1);
    expect(Math.abs(Math.log2(bumps[0]!.hertz / FACTORY_BUMP.hertz))).toBeLessThan(0.2);
    expect(Math.abs(bumps[0]!.db - FACTORY_BUMP.db)).toBeLessThan(0.5);
    expect(words([quiet])).toMatch(/To undo in the processor: −[34]\.\d\sdB at 2\.\d+\skHz/);
    expect(words([quiet])).toContain('one volume only');
  });
  it('find the filters of an output', () => {
    const points = quiet.points.map(({ hertz }) => ({
      hertz,
      db: -10 * Math.log10(1 + (100 / hertz) ** 8) - 10 * Math.log10(1 + (hertz / 4000) ** 8),
    }));
    const { lowCornerHz, highCornerHz } = compareSweeps([{ ...quiet, points }])[0]!;
    expect(Math.abs(lowCornerHz! / 100 - 1)).toBeLessThan(0.06);
    expect(Math.abs(highCornerHz! / 4000 - 1)).toBeLessThan(0.06);
  });
  it('hold outputs of one capture against each other', () => {
    const rear: VolumeResponse = {
      ...quiet,
      label: 'Rear left',
      arrivalSecond: quiet.arrivalSecond + 0.0021,
      polarity: quiet.polarity === 'same' ? 'inverted' : 'same',
      points: quiet.points.map(({ hertz, db }) => ({ hertz, db: db - 3 })),
    };
    expect(words([quiet, rear])).toMatch(
      /Rear left against Front left at volume 10: −3\.0\sdB in level, 2\.10 ms later, polarity reversed/,
    );
    // Two captures have two clocks: nothing is said of their delay.
    expect(words([quiet, { ...rear, captureId: 'other' }])).not.toContain('later');
  });
  it('are called the same where they are', () => {
    expect(words([quiet, at(14)])).toContain('the response is the same from volume 10 to 14');
  });
});
