import { say } from '@yield/words';
import {
  analyseTrace,
  channelsNow,
  DEFAULT_RULES,
  newSituation,
  meterUncertainty,
  readCapture,
  runOf,
  runSummary,
  type Meter,
  type TraceAnalysis,
} from '@yield/core';
import { describe, expect, it } from 'vitest';
import { LIBRARY_BUS, WORKSHOP_METER } from './demo/demoChains.ts';
import { demoTunes } from './demo/demoTunes.ts';
import { simulatedMeter, simulatedScope } from './instruments.ts';
import { seededRandom } from '@yield/core';
import { channelPhysics, outputWaveform, type BenchSettings, type ChannelPhysics } from './vehicle.ts';
import { waveformRms } from './waveform.ts';

const PHYSICS: ChannelPhysics = {
  sourcePeakVolt: 8,
  sourceRailVolt: 4,
  stepDb: 1.5,
  volumeSteps: 40,
  lowestGain: 1,
  highestGain: 30,
  railVolt: 30,
  sourceOhm: 0.2,
  loadOhm: 4,
  limiting: 'hard',
};
const BENCH: BenchSettings = { volume: 30, knob: 0.3, loadConnected: false, toneHz: 50, toneLevelDbfs: 0, supplyVolt: 13.8 };
const rms = (bench: Partial<BenchSettings>, physics: Partial<ChannelPhysics> = {}): number => {
  const settings = { ...BENCH, ...bench };
  return waveformRms(outputWaveform({ ...PHYSICS, ...physics }, settings), settings.toneHz);
};
const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const probeOf =
  (bench: Partial<BenchSettings> = {}) =>
  () => ({ waveform: outputWaveform(PHYSICS, { ...BENCH, ...bench }), toneHz: BENCH.toneHz });

describe('the simulated vehicle', () => {
  it('follows the volume step by step, until the source clips', () => {
    expect(rms({ volume: 31 }) / rms({ volume: 30 })).toBeCloseTo(10 ** (1.5 / 20), 9);
    expect(rms({ volume: 40 }) / rms({ volume: 39 })).toBeLessThan(1.1);
  });
  it('is even in decibels over the knob', () => {
    expect(rms({ knob: 0.2 }) / rms({ knob: 0.1 })).toBeCloseTo(rms({ knob: 0.3 }) / rms({ knob: 0.2 }), 9);
  });
  it('drops under load by the divider, in level and in rails', () => {
    expect(rms({ loadConnected: true }) / rms({})).toBeCloseTo(4 / 4.2, 9);
    const hot = { knob: 1, volume: 32 };
    expect(rms({ ...hot, loadConnected: true })).toBeLessThan(rms(hot));
  });
  it('loses rails with the supply', () => {
    expect(rms({ knob: 1, supplyVolt: 11 })).toBeLessThan(rms({ knob: 1 }));
  });
  it.each(['hard', 'soft'] as const)('clips with %s limiting and never passes its rail', (limiting) => {
    const wave = outputWaveform({ ...PHYSICS, limiting }, { ...BENCH, knob: 1 });
    const peak = Math.max(...Array.from({ length: 500 }, (_, i) => wave(i / 25000)));
    expect(peak).toBeLessThanOrEqual(30);
    expect(peak).toBeGreaterThan(28);
  });
  it('is the same vehicle for the same seed, another for another', () => {
    const channel = LIBRARY_BUS.channels[0]!;
    expect(channelPhysics(LIBRARY_BUS, channel, 'a')).toEqual(channelPhysics(LIBRARY_BUS, channel, 'a'));
    expect(channelPhysics(LIBRARY_BUS, channel, 'a')).not.toEqual(channelPhysics(LIBRARY_BUS, channel, 'b'));
  });
  it('can reach the rating of every demo channel at the working volume without clipping', () => {
    const records = { readings: [], traces: [], marks: [] };
    for (const step of channelsNow(newSituation(LIBRARY_BUS, { rules: DEFAULT_RULES, meter: WORKSHOP_METER }, records))) {
      const physics = channelPhysics(LIBRARY_BUS, step.channel, 'seed');
      expect(physics.railVolt / Math.SQRT2).toBeGreaterThan(step.target!.fullScaleVoltage);
    }
  });
});

describe('the simulated meter', () => {
  const METER: Meter = { percent: 1, digits: 3, highestHz: 1000, trueRms: true };
  it('reads within its stated accuracy, seeds 1 to 40', async () => {
    for (let seed = 1; seed <= 40; seed += 1) {
      const { volt, display } = await simulatedMeter(probeOf(), METER, seededRandom(String(seed))).read();
      const resolution = 10 ** -(display.split('.')[1]?.length ?? 0);
      expect(Math.abs(volt - rms({}))).toBeLessThanOrEqual(meterUncertainty(volt, resolution, METER));
    }
  });
  it('shows four digits of its 6000 counts', async () => {
    const { display } = await simulatedMeter(probeOf({ knob: 0.9 }), METER, seededRandom('x')).read();
    expect(display).toMatch(/^\d\d\.\d\d$/);
  });
});

describe('the simulated scope', () => {
  const capture = async (bench: Partial<BenchSettings>, settings = {}): Promise<TraceAnalysis> => {
    const { text } = await simulatedScope(probeOf(bench), seededRandom('scope'), settings).capture();
    return analyseTrace(readCapture(bytes(text)), { toneHz: 50 });
  };
  it('writes files that the application reads: clean is clean, clipped is clipped', async () => {
    const clean = await capture({});
    expect(clean.channels[0]!.clipping.verdict).toBe('clean');
    expect(clean.channels[0]!.voltageRms / rms({})).toBeCloseTo(1, 2);
    expect((await capture({ knob: 1 })).channels[0]!.clipping.verdict).toBe('clipped');
  });
  it('goes over its own range where that is too small', async () => {
    const { text } = await simulatedScope(probeOf(), seededRandom('scope'), { rangeVolt: 4 }).capture();
    const analysis = analyseTrace(readCapture(bytes(text), { fullScaleVolt: 2 }));
    expect(analysis.channels[0]!.clipping.verdict).toBe('over-range');
  });
});

describe('the demo', () => {
  it('is four tunes at different stages, none of them done, the same every time', async () => {
    const tunes = await demoTunes(Date.UTC(2026, 0, 10));
    expect(tunes.map(({ name }) => name)).toEqual(['Mobile library bus', 'Driving-school car', 'Camper trailer', 'Puppet theatre van']);
    const summaries = tunes.map(({ chain, settings, readings, marks }) =>
      runSummary(runOf(newSituation(chain, settings, { readings, marks, traces: [] })), say),
    );
    for (const { counts, total } of summaries) expect(counts.done).toBeLessThan(total);
    expect(new Set(summaries.map(({ counts }) => counts.done)).size).toBeGreaterThan(1);
    expect(await demoTunes(Date.UTC(2026, 0, 10))).toEqual(tunes);
  });
  it('takes its readings with the workshop’s meter, and gives each an id of its own', async () => {
    const tunes = await demoTunes(0);
    const ids = tunes.flatMap(({ readings, captures }) => [...readings, ...captures].map(({ id }) => id));
    expect(new Set(ids).size).toBe(ids.length);
    for (const tune of tunes) expect(tune.settings.meter).toEqual(WORKSHOP_METER);
  });
});
