// Captures and figures by NumPy, SciPy and ngspice: ../../test/reference/make_reference.py.
// Own waves are seeded and made from their definition.
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Capture } from '../formats/capture.ts';
import { readCapture } from '../formats/readCapture.ts';
import { analyseTrace, type ChannelAnalysis, type TraceVerdict } from './analyseTrace.ts';

interface ReferenceCase {
  name: string;
  toneHz: number;
  verdict: TraceVerdict;
  channels: {
    fundamentalHz: number;
    voltageRms: number;
    dcOffsetVolt: number;
    peakPositiveVolt: number;
    peakNegativeVolt: number;
    thdPercent: number;
    thdPlusNoisePercent: number;
    phaseRad: number;
  }[];
}

const folder = new URL('../../test/reference/results/', import.meta.url);
const reference = (JSON.parse(readFileSync(new URL('captures.json', folder), 'utf8')) as { cases: ReferenceCase[] }).cases;

describe('against NumPy, SciPy and ngspice', () => {
  it.each(reference)('$name is $verdict, figure by figure', ({ name, toneHz, verdict, channels }) => {
    const analysis = analyseTrace(readCapture(new Uint8Array(readFileSync(new URL(`${name}.csv`, folder)))), { toneHz });
    expect(analysis.channels).toHaveLength(channels.length);
    channels.forEach((wanted, i) => {
      const got = analysis.channels[i]!;
      expect(got.clipping.verdict).toBe(verdict);
      // 1e-5 of the figure: both sides search the frequency on their own and stop at their own last digit.
      expect(Math.abs(got.fundamentalHz! / wanted.fundamentalHz - 1)).toBeLessThan(1e-5);
      expect(Math.abs(got.voltageRms / wanted.voltageRms - 1)).toBeLessThan(1e-5);
      expect(got.thdPercent).toBeCloseTo(wanted.thdPercent, 2);
      expect(got.thdPlusNoisePercent).toBeCloseTo(wanted.thdPlusNoisePercent, 2);
      expect(got.dcOffsetVolt).toBeCloseTo(wanted.dcOffsetVolt, 3);
      expect(got.peakPositiveVolt).toBe(wanted.peakPositiveVolt);
      expect(got.peakNegativeVolt).toBe(wanted.peakNegativeVolt);
      expect(got.fit!.phaseRad).toBeCloseTo(wanted.phaseRad, 3);
    });
  });

  it('finds −50 degrees, −2.5 dB and 139 microseconds between two channels', () => {
    const analysis = analyseTrace(readCapture(new Uint8Array(readFileSync(new URL('two-channels.csv', folder)))));
    const [relation] = analysis.between;
    expect(relation).toMatchObject({ from: 'CH1', to: 'CH2', polarity: 'unclear' });
    expect(relation!.phaseDeg).toBeCloseTo(-50, 3);
    expect(relation!.gainDb).toBeCloseTo(20 * Math.log10(0.75), 4);
    expect(relation!.delaySecond).toBeCloseTo(50 / 360 / 1000, 8);
  });
});

/** mulberry32: the seed makes the noise repeatable. */
function noise(seed: number): () => number {
  let state = seed;
  const uniform = (): number => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
  return () => Math.sqrt(-2 * Math.log(1 - uniform())) * Math.cos(2 * Math.PI * uniform());
}

interface Wave {
  hz: number;
  perCycle: number;
  cycles: number;
  peak?: number;
  phase?: number;
  offset?: number;
  high?: number;
  low?: number;
  noiseDb?: number;
  bits?: number;
  seed?: number;
}

/** A sine between rails, with noise, in steps, as a recorder of that many bits would hold it. */
function capture({
  hz,
  perCycle,
  cycles,
  peak = 10,
  phase = 0.7,
  offset = 0,
  high = Infinity,
  low = -Infinity,
  noiseDb,
  bits,
  seed = 1,
}: Wave): Capture {
  const random = noise(seed);
  const noiseRms = noiseDb === undefined ? 0 : (peak / Math.SQRT2) * 10 ** (noiseDb / 20);
  const step = bits === undefined ? 0 : (2.4 * (peak + Math.abs(offset))) / 2 ** bits;
  const samples = Float64Array.from({ length: Math.round(perCycle * cycles) }, (_, n) => {
    const pure = Math.max(low, Math.min(high, peak * Math.sin((2 * Math.PI * n) / perCycle + phase))) + offset;
    const noisy = noiseRms === 0 ? pure : pure + noiseRms * random();
    return step === 0 ? noisy : Math.round(noisy / step) * step;
  });
  return { format: 'csv', sampleRateHz: hz * perCycle, startSecond: 0, channels: [{ name: 'CH1', samples }], notes: [], calibrated: true };
}

const first = (wave: Wave, options = {}): ChannelAnalysis => analyseTrace(capture(wave), options).channels[0]!;

describe('the verdict', () => {
  const tones = [20, 40, 1000, 20000];
  const shapes: [string, Partial<Wave>, TraceVerdict][] = [
    ['clean', {}, 'clean'],
    ['clean with an offset', { offset: 3 }, 'clean'],
    ['clean with noise 40 dB down', { noiseDb: -40 }, 'clean'],
    ['clean in eight bits', { bits: 8 }, 'clean'],
    ['clean in eight bits with noise', { bits: 8, noiseDb: -40 }, 'clean'],
    ['clipped by 1 dB', { high: 8.9, low: -8.9 }, 'clipped'],
    ['clipped by 1 dB with noise', { high: 8.9, low: -8.9, noiseDb: -40 }, 'clipped'],
    ['clipped by 1 dB in eight bits', { high: 8.9, low: -8.9, bits: 8 }, 'clipped'],
    ['clipped by 6 dB in eight bits with noise', { high: 5, low: -5, bits: 8, noiseDb: -46 }, 'clipped'],
    ['clipped at the top only, with offset', { high: 8.5, offset: 1 }, 'clipped'],
    ['just touching', { high: 9.78, low: -9.78 }, 'onset'],
  ];
  for (const [name, shape, verdict] of shapes) {
    it.each(tones)(`is ${verdict} for ${name} at %d Hz, over 7.3 and 23.6 cycles`, (hz) => {
      for (const cycles of [7.3, 23.6]) expect(first({ hz, perCycle: 61.7, cycles, ...shape }).clipping.verdict).toBe(verdict);
    });
  }

  it('knows a second harmonic or a step in the middle from clipping', () => {
    const wave = capture({ hz: 100, perCycle: 200, cycles: 6 });
    const bent = wave.channels[0]!.samples.map((v, n) => v + 0.3 * Math.sin((4 * Math.PI * n) / 200));
    const gap = wave.channels[0]!.samples.map((v) => Math.sign(v) * Math.max(0, Math.abs(v) - 0.7));
    for (const samples of [bent, gap]) {
      expect(analyseTrace({ ...wave, channels: [{ name: 'CH1', samples }] }).channels[0]!.clipping).toMatchObject({
        verdict: 'distorted',
        positiveFlatFraction: 0,
      });
    }
  });

  it('follows the limit that the house sets', () => {
    const wave: Wave = { hz: 50, perCycle: 400, cycles: 5, high: 9.3, low: -9.3 };
    expect(first(wave).clipping.verdict).toBe('clipped');
    expect(first(wave, { limitThdPercent: 5 }).clipping.verdict).toBe('onset');
    expect(first(wave, { limitThdPercent: 20 }).clipping.verdict).toBe('clean');
  });

  it.each([
    ['half a cycle', { perCycle: 400, cycles: 0.5 }, { toneHz: 50 }, 'too-short'],
    ['half a cycle, tone unknown', { perCycle: 400, cycles: 0.5 }, {}, 'too-short'],
    ['under four samples a cycle', { perCycle: 3.3, cycles: 50 }, {}, 'too-few-samples-a-cycle'],
    ['silence', { perCycle: 400, cycles: 5, peak: 0 }, {}, 'no-tone'],
  ] as [string, Omit<Wave, 'hz'>, object, string][])('is unusable for %s, and no figure is made up', (_, wave, options, warning) => {
    const channel = first({ hz: 50, ...wave }, options);
    expect(channel.clipping.verdict).toBe('unusable');
    expect(channel.warnings).toContain(warning);
    expect(channel.fundamentalHz).toBeUndefined();
    expect(channel.thdPercent).toBeUndefined();
  });

  it('is unusable for noise, seeds 1 to 5', () => {
    for (let seed = 1; seed <= 5; seed += 1) {
      const random = noise(seed);
      const samples = Float64Array.from({ length: 3000 }, () => random());
      const analysis = analyseTrace({
        format: 'csv',
        sampleRateHz: 20000,
        startSecond: 0,
        channels: [{ name: 'CH1', samples }],
        notes: [],
        calibrated: true,
      });
      expect(analysis.channels[0]!.clipping.verdict).toBe('unusable');
    }
  });

  it('lays a capture on its own rails to the recorder, not to the amplifier', () => {
    const wave = { ...capture({ hz: 1000, perCycle: 48, cycles: 40, high: 8, low: -8 }), railVolt: 8 };
    expect(analyseTrace(wave).channels[0]).toMatchObject({ clipping: { verdict: 'over-range' }, warnings: ['over-range'] });
    // A sine that just reaches the rails is not over them.
    expect(analyseTrace({ ...capture({ hz: 1000, perCycle: 48, cycles: 40 }), railVolt: 10 }).channels[0]!.clipping.verdict).toBe('clean');
  });

  it('says when the tone is another one', () => {
    expect(first({ hz: 50, perCycle: 400, cycles: 5 }, { toneHz: 40 }).warnings).toContain('other-tone');
    expect(first({ hz: 40.2, perCycle: 400, cycles: 5 }, { toneHz: 40 }).warnings).not.toContain('other-tone');
  });
});

describe('the flattened part', () => {
  // A sine held at a share c of its peak is flat over 1 − 2 asin(c) / π of the half-cycle, and driven 20 log10(1 / c) too far.
  it.each([0.9, 0.75, 0.5])('of a sine held at %d of its peak is as wide and as far overdriven as the definition says', (share) => {
    const { clipping } = first({ hz: 50, perCycle: 500, cycles: 6.4, high: 10 * share, low: -10 * share });
    const width = 1 - (2 * Math.asin(share)) / Math.PI;
    expect(Math.abs(clipping.positiveFlatFraction - width)).toBeLessThan(0.05);
    expect(Math.abs(clipping.negativeFlatFraction - width)).toBeLessThan(0.05);
    expect(clipping.estimatedOverdriveDb).toBeCloseTo(-20 * Math.log10(share), 1);
  });

  it('is found on one side only, and nothing is claimed of the other', () => {
    const { clipping } = first({ hz: 50, perCycle: 500, cycles: 6.4, low: -7 });
    expect(clipping.positiveFlatFraction).toBe(0);
    expect(clipping.negativeFlatFraction).toBeGreaterThan(0.3);
    expect(clipping.estimatedOverdriveDb).toBeCloseTo(20 * Math.log10(10 / 7), 1);
  });
});

describe('properties', () => {
  const wave = fc.record({
    hz: fc.double({ min: 20, max: 20000, noNaN: true }),
    perCycle: fc.double({ min: 25, max: 700, noNaN: true }),
    cycles: fc.double({ min: 1.3, max: 40, noNaN: true }),
    peak: fc.double({ min: 0.01, max: 100, noNaN: true }),
    phase: fc.double({ min: -3, max: 3, noNaN: true }),
  });

  it('a pure sine gives back its frequency, level and offset, whatever the part cycle', () => {
    fc.assert(
      fc.property(wave, fc.double({ min: -2, max: 2, noNaN: true }), (w, offsetShare) => {
        const offset = offsetShare * w.peak;
        const channel = first({ ...w, offset });
        expect(channel.fundamentalHz! / w.hz).toBeCloseTo(1, 6);
        expect(channel.voltageRms / (w.peak / Math.SQRT2)).toBeCloseTo(1, 6);
        expect(channel.dcOffsetVolt / w.peak).toBeCloseTo(offsetShare, 5);
        expect(channel.clipping.verdict).toBe('clean');
      }),
      { seed: 4620, numRuns: 150 },
    );
  });

  it('scaling a capture scales its volts and leaves shares, distortion and verdict', () => {
    fc.assert(
      fc.property(
        wave,
        fc.double({ min: 0.55, max: 0.95, noNaN: true }),
        fc.double({ min: 0.1, max: 50, noNaN: true }),
        (w, share, scale) => {
          fc.pre(w.cycles > 2 && w.perCycle > 60);
          const rails = { high: share * w.peak, low: -share * w.peak };
          const once = first({ ...w, ...rails });
          const scaled = capture({ ...w, ...rails });
          scaled.channels[0]!.samples.forEach((v, n, all) => (all[n] = v * scale));
          const twice = analyseTrace(scaled).channels[0]!;
          expect(twice.voltageRms / once.voltageRms / scale).toBeCloseTo(1, 6);
          expect(twice.thdPercent! / once.thdPercent!).toBeCloseTo(1, 5);
          expect(twice.clipping.verdict).toBe(once.clipping.verdict);
        },
      ),
      { seed: 4620, numRuns: 60 },
    );
  });

  it('phase between channels comes back in (−180, 180], delay with the opposite sign', () => {
    fc.assert(
      fc.property(fc.double({ min: -179.9, max: 180, noNaN: true }), (deg) => {
        const one = capture({ hz: 400, perCycle: 100, cycles: 9.3, phase: 0 });
        const two = capture({ hz: 400, perCycle: 100, cycles: 9.3, phase: (deg * Math.PI) / 180 });
        const [relation] = analyseTrace({
          ...one,
          channels: [...one.channels, { name: 'CH2', samples: two.channels[0]!.samples }],
        }).between;
        const gap = Math.abs(relation!.phaseDeg - deg) % 360;
        expect(Math.min(gap, 360 - gap)).toBeLessThan(1e-4);
        expect(relation!.phaseDeg).toBeGreaterThan(-180);
        expect(relation!.delaySecond).toBeCloseTo(-relation!.phaseDeg / 360 / 400, 9);
        if (Math.abs(deg) < 29) expect(relation!.polarity).toBe('same');
        if (Math.abs(deg) > 151) expect(relation!.polarity).toBe('inverted');
      }),
      { seed: 4620 },
    );
  });

  it('a slow tone in a long, fast record is found: 25 Hz at 400 kHz over 2 s', () => {
    const channel = first({ hz: 25, perCycle: 16000, cycles: 50.4, high: 9, low: -9 });
    expect(channel.fundamentalHz).toBeCloseTo(25, 4);
    expect(channel.clipping.verdict).toBe('clipped');
  });
});
