// A channel over its whole range: which tones are asked for, and what they do to its gain.
import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain } from '../../../job/chain.ts';
import type { LoadReading, LoadTrace, RunRecords, TuneSettings } from '../../../job/records.ts';
import { voltageFactor } from '../../../levels/decibels.ts';
import { bandLooks, bandTones, knobVolt, wayChangedAt } from '../../frame/bandLooks.ts';
import { channelsNow } from '../../frame/channels.ts';
import { allTicked, codesOf, loadConditionsIn, situation, stateIn } from '../../testKit.fixture.ts';
import { bandwidthConditions, lookTones, meantChecks } from './judge.ts';

const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 0.5, digits: 1, counts: 59_999, highestHz: 1000, trueRms: true } };
/** 100 W into 4 ohm: 20 V. */
const CHAIN: Chain = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [{ id: 'amp', name: 'Amp', ratings: [{ mode: 'mono', loadOhm: 4, powerWatt: 100 }], inputMinVolt: 0.2, inputMaxVolt: 6 }],
  channels: [
    {
      id: 'sub',
      name: 'Bass',
      amplifierId: 'amp',
      mode: 'mono',
      terminals: 'out',
      band: 'bass',
      loadOhm: 4,
      drivers: [{ id: 'd', name: 'Sub', coils: 1, coilOhm: 4, ratedPowerWatt: 300 }],
      wiring: { network: 'A1' },
    },
  ],
};
const channel = (changes: object): Chain => ({ ...CHAIN, channels: [{ ...CHAIN.channels[0]!, ...changes }] });

let clock = 0;
const later = (): string => new Date((clock += 1) * 60_000).toISOString();
const read = (step: 'gain' | 'proof', kind: string, value: number): LoadReading => ({
  id: `r${clock}`,
  stepId: `${step}:sub`,
  kind,
  value,
  resolution: 0.001,
  conditions: { ...loadConditionsIn({ id: `${step}:sub` }, CHAIN, SETTINGS), load: step === 'gain' ? 'off' : 'on' },
  takenAt: later(),
});
function capture(at: string, toneHz: number, verdict: string, volt: number, overDb?: number): LoadTrace {
  const now = situation(CHAIN, SETTINGS);
  const peak = volt * Math.SQRT2;
  const clipping = { verdict, ...(overDb === undefined ? {} : { estimatedOverdriveDb: overDb }) };
  const shown = {
    voltageRms: volt,
    peakPositiveVolt: peak,
    peakNegativeVolt: -peak,
    warnings: [],
    clipping,
    fit: {},
    thdPercent: verdict === 'clean' ? 0.1 : 5,
  };
  return {
    id: `t${clock}`,
    stepId: at,
    fileName: 'x.csv',
    channelIndex: 0,
    analysis: { sampleRateHz: 1, channels: [shown], between: [] },
    conditions: bandwidthConditions(channelsNow(now)[0]!, now, toneHz),
    takenAt: later(),
  } as unknown as LoadTrace;
}
const look = (toneHz: number, verdict: string, volt: number, overDb?: number): LoadTrace =>
  capture('bandwidth:sub', toneHz, verdict, volt, overDb);
const set = (): LoadReading[] => [read('gain', 'gain-voltage', 20), read('proof', 'loaded-voltage', 20)];
const band = (records: Partial<RunRecords>) =>
  stateIn({ id: 'bandwidth:sub', kind: 'bandwidth' }, CHAIN, SETTINGS, { ...records, marks: allTicked(CHAIN, SETTINGS) });
const gain = (records: Partial<RunRecords>) =>
  stateIn({ id: 'gain:sub', kind: 'gain' }, CHAIN, SETTINGS, { ...records, marks: allTicked(CHAIN, SETTINGS) });
const targetOf = (records: Partial<RunRecords>): number => channelsNow(situation(CHAIN, SETTINGS, records))[0]!.target!.settingVoltage;

describe('the tones of a channel’s range', () => {
  it.each([
    ['a bass channel', {}, 40, [30, 60, 120]],
    [
      'a bass channel behind a low-pass',
      { filters: [{ id: 'lp', place: 'amplifier', kind: 'lowpass', family: 'butterworth', order: 4, cornerHz: 80 }] },
      40,
      [30, 60],
    ],
    [
      'a door that plays all',
      { band: 'full-range', drivers: [{ ...CHAIN.channels[0]!.drivers[0]!, role: 'full-range', usableFromHz: 60, usableToHz: 18_000 }] },
      1000,
      [60, 300],
    ],
    [
      'a tweeter',
      {
        band: 'full-range',
        drivers: [{ ...CHAIN.channels[0]!.drivers[0]!, role: 'tweeter', usableFromHz: 2000, usableToHz: 20_000 }],
        filters: [{ id: 'hp', place: 'processor', kind: 'highpass', family: 'linkwitz-riley', order: 4, cornerHz: 3000 }],
      },
      10_000,
      [5100, 7800],
    ],
  ])('of %s', (_, changes, toneHz, tones) => {
    const found = bandTones(channel(changes).channels[0]!, toneHz);
    expect(found.length).toBeGreaterThanOrEqual(2);
    found.forEach((hertz, i) => expect(Math.abs(Math.log2(hertz / (tones[i] ?? hertz))), String(found)).toBeLessThan(0.35));
  });

  it('hold the gain’s own tone too, in full, where it was set with a softer one', () => {
    const softer: TuneSettings = { ...SETTINGS, rules: { ...DEFAULT_RULES, toneLevelDbfs: -5 } };
    const now = situation(CHAIN, softer);
    const step = channelsNow(now)[0]!;
    expect(lookTones(step, now)).toContain(40);
    expect(bandwidthConditions(step, now, 40).toneLevelDbfs).toBe(0);
    expect(lookTones(channelsNow(situation(CHAIN, SETTINGS))[0]!, situation(CHAIN, SETTINGS))).not.toContain(40);
  });
});

describe('a channel over its range', () => {
  const tones = lookTones(channelsNow(situation(CHAIN, SETTINGS))[0]!, situation(CHAIN, SETTINGS));
  const [low, ...rest] = tones as [number, ...number[]];
  const others = (): LoadTrace[] => rest.map((hertz) => look(hertz, 'clean', 20));

  it('is done where every tone is clean, and asks for one after the other before', () => {
    const readings = set();
    expect(band({ readings })).toMatchObject({ status: 'open', action: { kind: 'capture' }, figures: { nextHz: low } });
    const traces = [look(low, 'clean', 20), ...others()];
    expect(band({ readings, traces })).toMatchObject({ status: 'done' });
  });

  it('that is flat at its low end takes the gain down, and a clean look at the lower gain settles it', () => {
    const readings = set();
    const traces = [look(low, 'clipped', 18, 1), ...others()];
    expect(codesOf(band({ readings, traces }))).toContain('band-flat');
    expect(targetOf({ readings, traces })).toBeCloseTo(20 * voltageFactor(-1), 3);
    const state = gain({ readings, traces });
    expect(state).toMatchObject({ status: 'out-of-tolerance', action: { kind: 'turn-gain' } });
    expect(codesOf(state)).toContain('band-flat');
    const lower = [...readings, read('gain', 'gain-voltage', 20 * voltageFactor(-1))];
    expect(band({ readings: lower, traces }).status).not.toBe('done');
    const again = [...traces, look(low, 'clean', 17.8)];
    expect(band({ readings: lower, traces: again }).status).toBe('done');
    expect(gain({ readings: lower, traces: again }).status).toBe('done');
  });

  it('keeps what was flat, however deep, until a clean look at as much gain; and forgets it where the way was changed', () => {
    const readings = set();
    // Six decibels over: held at its rails, its RMS lies well above a sine's of that peak.
    const deep = look(low, 'clipped', 12.5, 6);
    const shown = deep.analysis.channels[0]!;
    Object.assign(shown, { peakPositiveVolt: 10 * Math.SQRT2, peakNegativeVolt: -10 * Math.SQRT2 });
    const lower = [...readings, read('gain', 'gain-voltage', 10)];
    const clean = look(low, 'clean', 10);
    expect(targetOf({ readings: lower, traces: [deep, clean] })).toBeLessThan(20 * voltageFactor(-1));
    // A boost of six decibels was switched off: at the same gain the tone is that much lower, and clean.
    expect(targetOf({ readings: lower, traces: [deep, look(low, 'clean', 5)] })).toBeCloseTo(20, 3);
  });

  it('goes back to open where the gain is turned up afterwards, and stays done where it is turned down', () => {
    const traces = [look(low, 'clean', 20), ...others()];
    const readings = [...set().map((each) => ({ ...each, takenAt: '1970-01-01T00:00:00.000Z' }))];
    expect(band({ readings: [...readings, read('gain', 'gain-voltage', 22)], traces }).status).not.toBe('done');
    expect(band({ readings: [...readings, read('gain', 'gain-voltage', 18)], traces }).status).toBe('done');
  });

  it('asks for the gain where nobody has read it', () => {
    expect(band({ traces: [look(low, 'clean', 20), ...others()] })).toMatchObject({
      status: 'open',
      action: { kind: 'go', to: 'gain:sub' },
    });
  });

  it('knows a knob whatever tone it was read with, and holds no loaded reading against one without load', () => {
    const knobOf = (value: number, changes: Partial<LoadReading['conditions']>): number => {
      const reading = read('gain', 'gain-voltage', value);
      return knobVolt({ ...reading, conditions: { ...reading.conditions, ...changes } });
    };
    const behind = { filters: { words: '', setDb: -6 }, toneLevelDbfs: -5 };
    expect(knobOf(20 * voltageFactor(-11), behind)).toBeCloseTo(20, 6);
    const loaded = read('gain', 'gain-voltage', 18);
    const later = { ...loaded, conditions: { ...loaded.conditions, load: 'on' as const } };
    const traces = [look(low, 'clean', 20), ...others()].map((trace) => ({ ...trace, takenAt: '1970-01-02T00:00:00.000Z' }));
    const before = set().map((each) => ({ ...each, takenAt: '1970-01-01T00:00:00.000Z' }));
    expect(band({ readings: [...before, { ...later, takenAt: '1970-01-03T00:00:00.000Z' }], traces }).status).not.toBe('done');
  });

  it('asks what lifts a flat tone before any gain comes down for it; meant, the gain comes down', () => {
    const readings = set();
    const lifted = look(low, 'clipped', 19, 4.5);
    Object.assign(lifted.analysis.channels[0]!, { peakPositiveVolt: 18 * Math.SQRT2, peakNegativeVolt: -18 * Math.SQRT2 });
    const traces = [lifted, ...others()];
    const state = band({ readings, traces });
    expect(codesOf(state)).toContain('band-uneven');
    expect(codesOf(state)).not.toContain('band-flat');
    expect(state).toMatchObject({ status: 'out-of-tolerance', action: { kind: 'describe', what: 'tone-shaping' } });
    expect(targetOf({ readings, traces })).toBeCloseTo(20, 3);
    const marks = allTicked(CHAIN, SETTINGS).map((mark) =>
      mark.stepId === 'bandwidth:sub' ? { ...mark, checks: [...mark.checks, meantChecks(state.findings)[0]!.id] } : mark,
    );
    const now = situation(CHAIN, SETTINGS, { readings, traces, marks });
    expect(channelsNow(now)[0]!.target!.settingVoltage).toBeLessThan(20 * voltageFactor(-4));
  });

  it.each([
    ['a lift', 20 * voltageFactor(5)],
    ['a cut', 20 * voltageFactor(-6)],
  ])('tells %s that nobody spoke of, and is not done before it is looked for or meant', (_, volt) => {
    const readings = set();
    const traces = [look(low, 'clean', volt), ...others()];
    const state = band({ readings, traces });
    expect(state).toMatchObject({ status: 'out-of-tolerance', action: { kind: 'describe', what: 'tone-shaping' } });
    expect(codesOf(state)).toContain('band-uneven');
    const [check] = meantChecks(state.findings);
    const meant = allTicked(CHAIN, SETTINGS).map((mark) =>
      mark.stepId === 'bandwidth:sub' ? { ...mark, checks: [...mark.checks, check!.id] } : mark,
    );
    const withMarks = (shown: LoadTrace[]) =>
      stateIn({ id: 'bandwidth:sub', kind: 'bandwidth' }, CHAIN, SETTINGS, { readings, traces: shown, marks: meant }).status;
    expect(withMarks(traces)).toBe('done');
    // The tick stands for this one: further off later, or at another tone, it is asked about again.
    expect(withMarks([...traces, look(low, 'clean', volt * (volt > 20 ? 1.3 : 0.7))])).not.toBe('done');
    expect(withMarks([...traces, look(rest[0]!, 'clean', volt)])).not.toBe('done');
  });
});

describe('a tone that was captured before and after', () => {
  const changedAt = (records: Partial<RunRecords>): string | undefined => {
    const now = situation(CHAIN, SETTINGS, records);
    return wayChangedAt(bandLooks(now, CHAIN.channels[0]!, CHAIN.amplifiers[0]!));
  };

  it('says when something that shapes the tones was switched, and a turned gain says nothing', () => {
    const readings = set();
    const before = look(30, 'clean', 14);
    const other = look(60, 'clean', 20);
    const after = look(30, 'clean', 20);
    expect(changedAt({ readings, traces: [before, other] })).toBeUndefined();
    expect(changedAt({ readings, traces: [before, other, after] })).toBe(after.takenAt);
    // The gain went up by as much: nothing was switched.
    const first = look(30, 'clean', 14);
    const turned = read('gain', 'gain-voltage', (20 * 20) / 14);
    const higher = look(30, 'clean', 20);
    expect(changedAt({ readings: [...readings, turned], traces: [first, higher] })).toBeUndefined();
  });
});
