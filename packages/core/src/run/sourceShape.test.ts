// What a source does to its signal by itself, and what its own amplifier can do: told to every step that stands on it.
import { describe, expect, it } from 'vitest';
import { filterAt } from '../crossovers/crossoverResponse.ts';
import { DEFAULT_RULES, type Amplifier, type Chain } from '../job/chain.ts';
import type { LoadConditions } from '../job/conditions.ts';
import type { LineReading, LineTrace, LoadReading, LoadTrace, RunRecords, TuneSettings } from '../job/records.ts';
import { voltageFactor } from '../levels/decibels.ts';
import { channelsNow } from './frame/channels.ts';
import { shapeBefore } from './frame/sourceSweeps.ts';
import { lookTones } from './kinds/bandwidth/judge.ts';
import { allTicked, codesOf, lineConditionsIn, loadConditionsIn, runStepIn, situation, stateIn } from './testKit.fixture.ts';

const SETTINGS: TuneSettings = {
  rules: { ...DEFAULT_RULES, toneLevelDbfs: -5 },
  meter: { percent: 0.5, digits: 1, counts: 59_999, highestHz: 20_000, trueRms: true },
};
const LOWPASS = { id: 'lp', place: 'amplifier', kind: 'lowpass', family: 'butterworth', order: 4, cornerHz: 80 } as const;
const CHAIN: Chain = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured', isFactory: true, outputs: ['speakers'] },
  amplifiers: [{ id: 'amp', name: 'Amp', ratings: [{ mode: 'mono', loadOhm: 4, powerWatt: 100 }], inputMinVolt: 1, inputMaxVolt: 20 }],
  channels: [
    {
      id: 'sub',
      name: 'Bass',
      amplifierId: 'amp',
      mode: 'mono',
      terminals: 'out',
      band: 'bass',
      loadOhm: 4,
      drivers: [{ id: 'd', name: 'Sub', coils: 1, coilOhm: 4, ratedPowerWatt: 300, role: 'subwoofer', usableFromHz: 25, usableToHz: 250 }],
      wiring: { network: 'A1' },
      filters: [LOWPASS],
    },
  ],
};
const OWN: Chain = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'assumed' },
  amplifiers: [
    { id: 'own', name: 'Inside', isInSource: true, ratings: [{ mode: 'stereo', loadOhm: 4, powerWatt: 18 }] } satisfies Amplifier,
  ],
  channels: [{ ...CHAIN.channels[0]!, amplifierId: 'own', mode: 'stereo', band: 'full-range', filters: [] }],
};

let clock = 0;
const later = (): string => new Date((clock += 1) * 60_000).toISOString();

/** Bass falls by 6 dB an octave below 100 Hz as the volume is up. */
const heldBackDb = (hertz: number, volume: number): number => (volume < 30 || hertz > 100 ? 0 : 6 * Math.log2(hertz / 100));
const SWEPT_HZ = Array.from({ length: 121 }, (_, i) => 20 * 2 ** (i / 12));
const sweep = (volume: number): LineTrace =>
  ({
    id: `s${clock}`,
    stepId: 'factory:source',
    fileName: 's.wav',
    channelIndex: 0,
    analysis: {
      channels: [
        {
          name: '1',
          response: {
            kind: 'response',
            points: SWEPT_HZ.map((hertz) => ({ hertz, db: heldBackDb(hertz, volume) - 20 })),
            arrivalSecond: 0,
            polarity: 'same',
          },
        },
      ],
    },
    conditions: {
      ...lineConditionsIn({ id: 'factory:source' }, CHAIN, SETTINGS),
      sourceVolume: volume,
      sweep: { fromHertz: 20, toHertz: 20_000, seconds: 5, labels: ['Front left'] },
    },
    takenAt: later(),
  }) as unknown as LineTrace;

describe('a source that bends its signal', () => {
  const traces = [sweep(12), sweep(30)];
  /** The filter's voltages as they come out of that source. */
  const row = (): LoadReading[] =>
    [20, 30, 46, 57, 80, 110, 150].map((toneHz): LoadReading => {
      const conditions = loadConditionsIn({ id: 'crossover:lp' }, CHAIN, SETTINGS);
      const value = 5 * voltageFactor(heldBackDb(toneHz, 30) + filterAt(LOWPASS, toneHz).db);
      return {
        id: `f${clock}`,
        stepId: 'crossover:lp',
        kind: 'filter-voltage',
        value,
        resolution: 0.001,
        conditions: { ...conditions, toneHz },
        takenAt: later(),
      };
    });
  const filter = (records: Partial<RunRecords>) =>
    stateIn({ id: 'crossover:lp', kind: 'crossover' }, CHAIN, SETTINGS, { ...records, marks: allTicked(CHAIN, SETTINGS) });

  it('is known at the volumes that were swept, and nothing is made up for others', () => {
    const shape = shapeBefore(situation(CHAIN, SETTINGS, { traces }), CHAIN.channels[0]!);
    expect(shape(50, 30)).toBeCloseTo(-6, 1);
    expect(shape(50, 12)).toBeCloseTo(0, 1);
    expect(shape(50, 25)).toBe(0);
    expect(shapeBefore(situation(CHAIN, SETTINGS, { traces }), { ...CHAIN.channels[0]!, processorOutputId: 'p' })(50, 30)).toBe(0);
  });

  it('is taken off the voltages of a filter, which is proved behind it', () => {
    expect(codesOf(filter({ readings: row() }))).not.toContain('corner-right');
    expect(codesOf(filter({ readings: row(), traces }))).toContain('corner-right');
  });

  it('is looked at where it comes out loudest', () => {
    const now = situation(CHAIN, SETTINGS, { traces });
    const loudest = Math.max(...lookTones(channelsNow(now)[0]!, now));
    expect(loudest).toBeGreaterThan(Math.max(...lookTones(channelsNow(situation(CHAIN, SETTINGS))[0]!, situation(CHAIN, SETTINGS))));
  });

  it('is swept at the volume in use, where channels are fed straight from it', () => {
    const factory = (records: Partial<RunRecords>) =>
      stateIn({ id: 'factory:source', kind: 'factory' }, CHAIN, SETTINGS, { ...records, marks: allTicked(CHAIN, SETTINGS) });
    expect(factory({ traces }).status).toBe('done');
    expect(factory({ traces: [sweep(12), sweep(25)] })).toMatchObject({ status: 'open', action: { kind: 'capture', judged: 'sweep' } });
  });

  it('or anything else that no filter gives: once every tone was read, the row begins anew', () => {
    const flat = row().map((reading, i) => ({ ...reading, value: i % 2 === 0 ? 5 : 1 }));
    const marks = allTicked(CHAIN, SETTINGS);
    const next = (readings: readonly LoadReading[]): LoadConditions => {
      const now = situation(CHAIN, SETTINGS, { readings, marks });
      const step = { id: 'crossover:lp', kind: 'crossover' } as const;
      const { figures } = stateIn(step, CHAIN, SETTINGS, { readings, marks });
      return figures.nextHz === undefined
        ? loadConditionsOf(now)
        : next([
            ...readings,
            { ...flat[0]!, conditions: { ...flat[0]!.conditions, toneHz: figures.nextHz }, id: `f${clock}`, takenAt: later() },
          ]);
    };
    expect(next(flat).filter?.series).toBe(2);
  });
});

const loadConditionsOf = (now: ReturnType<typeof situation>): LoadConditions =>
  runStepIn('crossover:lp', now).kind.conditions!(runStepIn('crossover:lp', now).step, now) as LoadConditions;

describe('the source’s own amplifier', () => {
  const ceiling = (records: Partial<RunRecords>) =>
    stateIn({ id: 'ceiling:speakers', kind: 'ceiling' }, OWN, SETTINGS, { ...records, marks: allTicked(OWN, SETTINGS) });
  const rows = (): LineReading[] =>
    Array.from({ length: 21 }, (_, i) => ({
      id: `v${i}`,
      stepId: 'ceiling:speakers',
      kind: 'source-voltage',
      value: 0.9 * voltageFactor(i),
      resolution: 0.001,
      conditions: { ...lineConditionsIn({ id: 'ceiling:speakers' }, OWN, SETTINGS), sourceVolume: 20 + i },
      takenAt: later(),
    }));

  it('is measured and proved with a full-scale tone, whatever tone the house has', () => {
    expect(lineConditionsIn({ id: 'ceiling:speakers' }, OWN, SETTINGS).toneLevelDbfs).toBe(0);
    expect(loadConditionsIn({ id: 'proof:sub' }, OWN, SETTINGS).toneLevelDbfs).toBe(0);
    expect(lineConditionsIn({ id: 'ceiling:speakers' }, CHAIN, SETTINGS).toneLevelDbfs).toBe(-5);
  });

  it('is looked at over its range too: what clips there takes the volume down, for there is no gain', () => {
    const readings: LoadReading[] = [
      {
        id: 'p',
        stepId: 'proof:sub',
        kind: 'loaded-voltage',
        value: 2.85,
        resolution: 0.001,
        conditions: loadConditionsIn({ id: 'proof:sub' }, OWN, SETTINGS),
        takenAt: later(),
      },
    ];
    const band = (records: Partial<RunRecords>) =>
      stateIn({ id: 'bandwidth:sub', kind: 'bandwidth' }, OWN, SETTINGS, { ...records, marks: allTicked(OWN, SETTINGS) });
    expect(band({}).action).toEqual({ kind: 'go', to: 'proof:sub' });
    const clipped = {
      voltageRms: 2.85,
      peakPositiveVolt: 4,
      peakNegativeVolt: -4,
      warnings: [],
      clipping: { verdict: 'clipped', estimatedOverdriveDb: 1.5 },
      fit: {},
      thdPercent: 6,
    };
    const look = {
      id: 'b',
      stepId: 'bandwidth:sub',
      fileName: 'x.csv',
      channelIndex: 0,
      analysis: { sampleRateHz: 1, channels: [clipped], between: [] },
      conditions: loadConditionsIn({ id: 'bandwidth:sub' }, OWN, SETTINGS),
      takenAt: later(),
    } as unknown as LoadTrace;
    expect(band({ readings: [...readings, ...rows()], traces: [look] })).toMatchObject({
      status: 'out-of-tolerance',
      action: { kind: 'set-volume', to: 28 },
    });
  });

  it('clean to the end of the scale asks for a capture there before a step is given away', () => {
    expect(ceiling({ readings: rows() })).toMatchObject({ status: 'open', action: { kind: 'capture', judged: 'tone' } });
    const now = situation(OWN, SETTINGS, { readings: rows(), marks: allTicked(OWN, SETTINGS) });
    const { kind, step } = runStepIn('ceiling:speakers', now);
    expect(kind.conditions!(step, now)).toMatchObject({ sourceVolume: 40 });
  });
});

describe('a gain that is set under its load', () => {
  const scope: TuneSettings = { ...SETTINGS, rules: { ...DEFAULT_RULES, gainBy: 'scope' } };
  const plain: Chain = { ...CHAIN, source: { ...CHAIN.source, isFactory: false }, channels: [{ ...CHAIN.channels[0]!, filters: [] }] };
  const read = (step: 'gain' | 'proof', kind: string, value: number): LoadReading => ({
    id: `r${clock}`,
    stepId: `${step}:sub`,
    kind,
    value,
    resolution: 0.001,
    conditions: loadConditionsIn({ id: `${step}:sub` }, plain, scope),
    takenAt: later(),
  });
  const capture = (verdict: string, volt: number, sourceVolume = 30): LoadTrace =>
    ({
      id: `t${clock}`,
      stepId: 'gain:sub',
      fileName: 'x.csv',
      channelIndex: 0,
      analysis: {
        sampleRateHz: 1,
        channels: [
          {
            voltageRms: volt,
            peakPositiveVolt: volt * Math.SQRT2,
            peakNegativeVolt: -volt * Math.SQRT2,
            warnings: [],
            clipping: { verdict },
            fit: {},
            thdPercent: verdict === 'clean' ? 0.1 : 5,
          },
        ],
        between: [],
      },
      conditions: { ...loadConditionsIn({ id: 'gain:sub' }, plain, scope), sourceVolume },
      takenAt: later(),
    }) as unknown as LoadTrace;
  const gain = (records: Partial<RunRecords>) =>
    stateIn({ id: 'gain:sub', kind: 'gain' }, plain, scope, { ...records, marks: allTicked(plain, scope) });

  it.each([
    [12, 'stale'],
    [19.9, 'done'],
  ])('and reads %d V at its proof instead of 20 is %s', (volt, status) => {
    const traces = [capture('clipped', 20)];
    const readings = [read('gain', 'gain-voltage', 20)];
    readings.push(read('proof', 'loaded-voltage', volt));
    expect(gain({ readings, traces }).status).toBe(status);
  });

  it('and no longer rises by scope is at its end stop: that is asked, and not asked for ever', () => {
    const still = [capture('clean', 12), capture('clean', 12.02), capture('clean', 12.01)];
    const readings = [read('gain', 'gain-voltage', 12)];
    expect(codesOf(gain({ readings, traces: still.slice(1) }))).toContain('scope-clean');
    expect(codesOf(gain({ readings, traces: still }))).toContain('gain-at-end');
    // At another volume they were of another signal.
    const earlier = [capture('clean', 12, 34), capture('clean', 12, 34), capture('clean', 12)];
    expect(codesOf(gain({ readings, traces: earlier }))).toContain('scope-clean');
  });
});
