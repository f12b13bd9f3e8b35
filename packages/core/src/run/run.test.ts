import { say } from '@yield/words';
import { describe, expect, it } from 'vitest';
import type { Meter } from '../gain/meter.ts';
import { DEFAULT_RULES, type Chain } from '../job/chain.ts';
import { chainFaults } from '../job/chainFaults.ts';
import type { LoadReading, RunRecords, StepMark, TraceRecord, TuneSettings } from '../job/records.ts';
import { targetPower } from '../job/targetPower.ts';
import type { ChannelAnalysis, TraceVerdict } from '../traces/analyseTrace.ts';
import { filtersBasis } from '../ways/filterChecks.ts';
import { channelsNow } from './frame/channels.ts';
import type { Judgement } from './frame/judgement.ts';
import { staleReasons } from './frame/staleness.ts';
import { LOAD_STANDS_ON } from './kinds/gain/judge.ts';
import { levelPath, weakestStage } from './levelPath.ts';
import type { FiguresOf, StepOf } from './kinds/index.ts';
import { runOf } from './run.ts';
import { runSummary } from './runSummary.ts';
import { loadConditionsIn, situation, allTicked, stateIn, stepsIn, wordsOf as words } from './testKit.fixture.ts';

const METER: Meter = { percent: 0.5, digits: 1, highestHz: 1000, trueRms: true };
const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: METER };

/** 100 W into 4 ohm, drivers rated 150 W: the target is 20 V. */
const CHAIN: Chain = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured', outputVolt: 3, ceilingVolt: 4 },
  amplifiers: [
    {
      id: 'amp',
      name: 'Two-channel',
      ratings: [
        { mode: 'stereo', loadOhm: 4, powerWatt: 100 },
        { mode: 'stereo', loadOhm: 2, powerWatt: 160 },
        { mode: 'bridged', loadOhm: 4, powerWatt: 320 },
      ],
      minimumStereoOhm: 2,
      minimumBridgedOhm: 4,
      inputMinVolt: 0.2,
      inputMaxVolt: 6,
    },
  ],
  channels: [
    {
      id: 'left',
      name: 'Left',
      amplifierId: 'amp',
      mode: 'stereo',
      terminals: 'L',
      band: 'full-range',
      loadOhm: 4,
      drivers: [{ id: 'd', name: 'Door', coils: 1, coilOhm: 4, ratedPowerWatt: 150 }],
    },
  ],
};
const GAIN = 'gain:left';
const PROOF = 'proof:left';
const step = (id: string, chain = CHAIN, settings = SETTINGS): StepOf<'gain' | 'proof'> =>
  stepsIn(chain, settings.rules).find((s): s is StepOf<'gain'> & typeof s => s.id === id)!;

let clock = 0;
function reading(stepId: string, value: number, kind = 'gain-voltage', changes: Partial<LoadReading> = {}): LoadReading {
  clock += 1;
  return {
    id: `r${clock}`,
    stepId,
    kind,
    value,
    resolution: 0.01,
    conditions: loadConditionsIn(step(stepId), CHAIN, SETTINGS),
    takenAt: new Date(clock * 60_000).toISOString(),
    ...changes,
  };
}
function trace(verdict: TraceVerdict, overdriveDb?: number): TraceRecord {
  clock += 1;
  const channel: ChannelAnalysis = {
    name: 'CH1',
    samples: 100,
    voltageRms: 20,
    voltageRmsWithDc: 20,
    peakPositiveVolt: 28,
    peakNegativeVolt: -28,
    crestFactor: 1.4,
    dcOffsetVolt: 0,
    thdPercent: { clean: 0.1, onset: 0.6 }[verdict as string] ?? 8,
    harmonics: [],
    clipping: {
      verdict,
      positiveFlatFraction: 0,
      negativeFlatFraction: 0,
      ...(overdriveDb === undefined ? {} : { estimatedOverdriveDb: overdriveDb }),
    },
    warnings: [],
  };
  return {
    id: `t${clock}`,
    stepId: PROOF,
    fileName: 'x.csv',
    channelIndex: 0,
    analysis: { sampleRateHz: 1, channels: [channel], between: [] },
    conditions: loadConditionsIn(step(PROOF), CHAIN, SETTINGS),
    takenAt: new Date(clock * 60_000).toISOString(),
  };
}
function state(id: string, records: Partial<RunRecords>, chain = CHAIN, settings = SETTINGS): Judgement<FiguresOf<'gain' | 'proof'>> {
  return stateIn({ id, kind: 'gain' }, chain, settings, { ...records, marks: allTicked(chain, settings, records.marks) });
}
const proofFigures = (...args: Parameters<typeof state>): FiguresOf<'proof'> => state(...args).figures as FiguresOf<'proof'>;
const withChannel = (changes: Partial<Chain['channels'][number]>): Chain => ({
  ...CHAIN,
  channels: [{ ...CHAIN.channels[0]!, ...changes }],
});

describe('targetPower', () => {
  it.each([
    ['the rating at the load', {}, { powerWatt: 100, limitedBy: 'rating', amplifierBasis: 'rated' }],
    [
      'the drivers where they take less',
      { drivers: [{ id: 'd', name: 'x', coils: 1 as const, coilOhm: 4, ratedPowerWatt: 60 }] },
      { powerWatt: 60, limitedBy: 'drivers' },
    ],
    // 20 V into 4 ohm and 17.9 V into 2: a source with an output resistance gives 19.2 V into 3, which is 123.4 W.
    [
      'what lies between two rated loads',
      { loadOhm: 3 },
      { amplifierWatt: expect.closeTo(123.4, 1) as number, amplifierBasis: 'estimated' },
    ],
    ['a wish', { wishWatt: 40 }, { powerWatt: 40, limitedBy: 'wish', amplifierWatt: 100 }],
    ['the rating of the mode in use', { mode: 'bridged' as const }, { amplifierWatt: 320 }],
  ])('takes %s', (_, changes, wanted) => {
    expect(targetPower(CHAIN.amplifiers[0]!, { ...CHAIN.channels[0]!, ...changes })).toMatchObject({ kind: 'known', ...wanted });
  });
  it('names all that hold it, the lowest first, and counts supply, sheet and fuses', () => {
    const [amplifier, channel] = [CHAIN.amplifiers[0]!, CHAIN.channels[0]!];
    const by = (extra: object, own: object = {}, context = {}) => targetPower({ ...amplifier, ...extra }, { ...channel, ...own }, context);
    // 12 V against the 14.4 V of the rating: (12 / 14.4)² of 100 W.
    const sagging = by({ ratedAtVolt: 14.4 }, {}, { supplyVolt: 12 });
    expect(sagging).toMatchObject({ limitedBy: 'supply', powerWatt: expect.closeTo(69.44, 2) as number, amplifierBasis: 'scaled' });
    expect(by({ ratedAtVolt: 14.4, isRegulated: true }, {}, { supplyVolt: 12 })).toMatchObject({ limitedBy: 'rating' });
    expect(by({ sheetRatings: [{ mode: 'stereo', loadOhm: 4, powerWatt: 91 }] }, { powerBasis: 'sheet' })).toMatchObject({ powerWatt: 91 });
    expect(by({ fuseAmpere: 5 }, { powerBasis: 'fuse' })).toMatchObject({ powerWatt: 50, amplifierBasis: 'guess', limitedBy: 'fuse-rule' });
    // Its first flattening was seen at 80 W: whatever the plate says; by scope the plate is not asked.
    expect(by({}, {}, { onsetWatt: 80 })).toMatchObject({ powerWatt: 80, limitedBy: 'onset', amplifierBasis: 'measured' });
    expect(by({}, {}, { onsetWatt: 110, isByOnset: true })).toMatchObject({ powerWatt: 110, limitedBy: 'onset' });
    expect(by({}, {}, { onsetWatt: 110 })).toMatchObject({ powerWatt: 100, limitedBy: 'rating' });
  });
  it.each([
    ['below every rated load', { loadOhm: 1.33 }, 'has no rating'],
    ['a mode without rating', { mode: 'mono' as const }, 'no rated power for mono'],
    ['no drivers', { drivers: [] }, 'no drivers yet'],
  ])('says what is missing: %s', (_, changes, reason) => {
    expect(targetPower(CHAIN.amplifiers[0]!, { ...CHAIN.channels[0]!, ...changes })).toMatchObject({
      kind: 'unknown',
      reason: expect.stringContaining(reason) as string,
    });
  });
});

describe('the run', () => {
  it('asks for every gain before any proof, and leaves out channels without an amplifier', () => {
    const two: Chain = {
      ...CHAIN,
      channels: [
        CHAIN.channels[0]!,
        { ...CHAIN.channels[0]!, id: 'right', drivers: [{ ...CHAIN.channels[0]!.drivers[0]!, id: 'e' }] },
        { ...CHAIN.channels[0]!, id: 'lost', amplifierId: 'gone' },
      ],
    };
    const kinds = ['whole', 'hookup', 'filters', 'gain', 'proof'];
    const ids = stepsIn(two, DEFAULT_RULES)
      .filter(({ kind }) => kinds.includes(kind))
      .map(({ id }) => id);
    expect(ids).toEqual([
      'whole:left',
      'hookup:left',
      'whole:right',
      'hookup:right',
      'filters:left',
      'filters:right',
      'gain:left',
      'gain:right',
      'proof:left',
      'proof:right',
    ]);
  });
  it('plays the house’s bass tone on a bass channel', () => {
    expect(step(GAIN, withChannel({ band: 'bass' })).toneHz).toBe(40);
    expect(step(GAIN).toneHz).toBe(1000);
  });
});

describe('a gain step', () => {
  it('is open without a reading', () => {
    const { status, findings } = stateIn({ id: GAIN, kind: 'gain' }, CHAIN, SETTINGS, {});
    expect(status).toBe('open');
    expect(findings).toMatchObject([{ code: 'filters-not-seen', grade: 'attention', figures: { channelId: 'left' } }]);
    const confirmed = [{ stepId: 'filters:left', checks: ['none'], basis: filtersBasis(CHAIN.channels[0]!).key }];
    expect(state(GAIN, { marks: confirmed }).findings).toEqual([]);
  });
  it('is done on target', () => {
    expect(state(GAIN, { readings: [reading(GAIN, 20)] })).toMatchObject({ status: 'done', findings: [{ grade: 'good' }] });
  });
  it('says how far up, in decibels and in turns of the knob', () => {
    const s = state(GAIN, { readings: [reading(GAIN, 10)] });
    expect(s.status).toBe('out-of-tolerance');
    expect(words(s)).toContain('Turn the gain up 6.0\u00a0dB, about an eighth of a turn');
  });
  it('says down for too much, and nothing of turns where the knob is unknown', () => {
    const { inputMinVolt: _a, inputMaxVolt: _b, ...bare } = CHAIN.amplifiers[0]!;
    const s = state(GAIN, { readings: [reading(GAIN, 25)] }, { ...CHAIN, amplifiers: [bare] });
    expect(words(s)).toContain('Turn the gain down 1.9\u00a0dB, then');
  });
  it('counts the newest reading that is not void', () => {
    const readings = [reading(GAIN, 10), reading(GAIN, 20), reading(GAIN, 12, 'gain-voltage', { voidedReason: 'slipped' })];
    expect(state(GAIN, { readings }).status).toBe('done');
  });
  it('says where to look when the meter reads nothing', () => {
    expect(words(state(GAIN, { readings: [reading(GAIN, 0)] }))).toContain('Check that the tone plays');
  });
  it('notices a voltage that has stopped rising below the target', () => {
    const readings = [reading(GAIN, 17.0), reading(GAIN, 17.05), reading(GAIN, 17.06)];
    expect(words(state(GAIN, { readings }))).toContain('clips or limits below the target');
    for (const moving of [
      [12, 15, 17],
      [17, 22, 17],
    ]) {
      expect(words(state(GAIN, { readings: moving.map((volt) => reading(GAIN, volt)) }))).not.toContain('limiting');
    }
  });
  it('doubts a meter above its frequency', () => {
    expect(words(state(GAIN, {}, CHAIN, { ...SETTINGS, meter: { ...METER, highestHz: 400 } }))).toContain('may read low');
  });
  it('stops where the load is too low, whatever was read', () => {
    const s = state(GAIN, { readings: [reading(GAIN, 20)] }, withChannel({ loadOhm: 1.33 }));
    expect(s.status).toBe('stop');
    expect(s.findings[0]!.grade).toBe('stop');
  });
  it('is skipped with its reason whatever it was before, until a reading is on target', () => {
    const [ticks] = allTicked(CHAIN, SETTINGS).filter(({ stepId }) => stepId === GAIN);
    const marks: StepMark[] = [{ ...ticks!, skippedReason: 'owner keeps it' }];
    expect(state(GAIN, { marks, readings: [reading(GAIN, 15)] })).toMatchObject({
      status: 'skipped',
      findings: [{ code: 'skipped', figures: { skippedReason: 'owner keeps it' } }, { code: 'level-low' }],
    });
    expect(state(GAIN, { marks })).toMatchObject({
      status: 'skipped',
      findings: [{ code: 'skipped', figures: { skippedReason: 'owner keeps it' } }],
    });
    expect(state(GAIN, { marks, readings: [reading(GAIN, 20)] }).status).toBe('done');
  });
});

describe('staleness', () => {
  const now = loadConditionsIn(step(GAIN), CHAIN, SETTINGS);
  const reasons = (then: typeof now, present: typeof now): string[] => staleReasons(LOAD_STANDS_ON, then, present);
  it('finds nothing where nothing changed, nor where only the target did', () => {
    expect(reasons(now, now)).toEqual([]);
    expect(reasons(now, { ...now, targetVolt: 12 })).toEqual([]);
  });
  it.each([
    ['sourceVolume', 28, 'volume was 30 and is now 28'],
    ['sourceId', 'other', 'source was Unit and is now Unit'],
    ['loadOhm', 2, 'load was 4\u00a0Ω and is now 2\u00a0Ω'],
    ['mode', 'bridged', 'was stereo and is now bridged'],
    ['toneLevelDbfs', -3, 'recorded level was 0.0\u00a0dBFS'],
    ['toneHz', 400, 'tone was 1\u00a0kHz'],
    ['amplifierId', 'new', 'amplifier was Two-channel'],
  ])('names a changed %s', (key, value, reason) => {
    expect(reasons(now, { ...now, [key]: value }).join()).toContain(reason);
  });
  it.each([
    ['the source', { ...CHAIN, source: { ...CHAIN.source, name: 'Other' } }, 'done'],
    ['the amplifier', { ...CHAIN, amplifiers: [{ ...CHAIN.amplifiers[0]!, name: 'Other' }] }, 'done'],
    ['the channel', withChannel({ name: 'Other' }), 'done'],
    ['the source for another unit', { ...CHAIN, source: { ...CHAIN.source, id: 'second' } }, 'stale'],
  ])('of a gain after renaming %s', (_, chain, status) => {
    expect(state(GAIN, { readings: [reading(GAIN, 20)] }, chain).status).toBe(status);
  });
  it('makes a done step stale with the reason', () => {
    const quieter: Chain = { ...CHAIN, source: { ...CHAIN.source, workingVolume: 26 } };
    const s = state(GAIN, { readings: [reading(GAIN, 20)] }, quieter);
    expect(s.status).toBe('stale');
    expect(words(s)).toContain('is now 26');
  });
  it('makes a proof stale when the gain is read again after it', () => {
    const records = { readings: [reading(GAIN, 20), reading(PROOF, 19.6, 'loaded-voltage')], traces: [trace('clean')] };
    expect(state(PROOF, records).status).toBe('done');
    const again = state(PROOF, { ...records, readings: [...records.readings, reading(GAIN, 20.1)] });
    expect(again.status).toBe('stale');
    expect(words(again)).toContain('gain was read again');
  });
});

describe('a proof step', () => {
  const gain = reading(GAIN, 20);
  const loaded = reading(PROOF, 19.6, 'loaded-voltage');

  it('needs both voltage and capture', () => {
    expect(state(PROOF, {}).status).toBe('open');
    expect(state(PROOF, { readings: [gain, loaded] }).status).toBe('open');
    expect(state(PROOF, { traces: [trace('clean')] }).status).toBe('open');
    expect(state(PROOF, { readings: [gain, loaded], traces: [trace('clean')] }).status).toBe('done');
  });
  it('says power, sag and what explains it', () => {
    const proof = proofFigures(PROOF, { readings: [gain, loaded] });
    expect(proof).toMatchObject({ loadedVolt: 19.6, powerWatt: 19.6 ** 2 / 4 });
    expect(proof.sag!.dropDb).toBeCloseTo(0.1755, 3);
    expect(proof.sag!.sourceOhm).toBeCloseTo(0.08163, 4);
  });
  it('scales to full scale for a quieter tone', () => {
    const quiet: TuneSettings = { ...SETTINGS, rules: { ...DEFAULT_RULES, toneLevelDbfs: -10 } };
    const own = reading(PROOF, 6.2, 'loaded-voltage', { conditions: loadConditionsIn(step(PROOF, CHAIN, quiet), CHAIN, quiet) });
    expect(proofFigures(PROOF, { readings: [own] }, CHAIN, quiet).fullScaleWatt).toBeCloseTo((6.2 ** 2 / 4) * 10, 6);
  });
  it('takes impedance from a clamp meter', () => {
    const proof = proofFigures(PROOF, { readings: [gain, loaded, reading(PROOF, 2.45, 'clamp-current')] });
    expect(proof.impedanceOhm).toBeCloseTo(8, 6);
    expect(proof.impedanceRiseRatio).toBeCloseTo(2, 6);
  });
  it.each([
    ['onset', undefined, 'just start to flatten'],
    ['clipped', 2.4, 'Turn the gain down 2.4\u00a0dB or more'],
    ['distorted', undefined, 'comes from upstream'],
    ['over-range', undefined, 'larger range'],
    ['unusable', undefined, 'five cycles'],
  ] as [TraceVerdict, number | undefined, string][])('for a trace that is %s says what to do', (verdict, overdrive, next) => {
    const s = state(PROOF, { readings: [gain, loaded], traces: [trace(verdict, overdrive)] });
    expect(s.status).toBe('out-of-tolerance');
    expect(words(s)).toContain(next);
  });
  it('warns of more power than the drivers take', () => {
    const weak = withChannel({ drivers: [{ id: 'd', name: 'x', coils: 1, coilOhm: 4, ratedPowerWatt: 60 }] });
    expect(words(state(PROOF, { readings: [loaded], traces: [trace('clean')] }, weak))).toContain('to drivers rated 60\u00a0W');
  });
  it('does not believe a voltage that rises under load', () => {
    const s = state(PROOF, { readings: [gain, reading(PROOF, 23, 'loaded-voltage')], traces: [trace('clean')] });
    expect((s.figures as FiguresOf<'proof'>).sag).toBeUndefined();
    expect(words(s)).toContain('turned up in between');
  });
});

describe('the level path', () => {
  const pathIn = (chain: Chain, records: Partial<RunRecords>) => {
    const now = situation(chain, SETTINGS, records);
    return levelPath(now, channelsNow(now)[0]!);
  };
  it('puts levels, ceilings and headroom on one scale, from the newest reading', () => {
    const stages = pathIn(CHAIN, { readings: [reading(GAIN, 10), reading(GAIN, 20)] });
    expect(stages.map(({ nowVolt }) => nowVolt)).toEqual([3, 20, 20]);
    expect(stages[0]!.headroomDb).toBeCloseTo(20 * Math.log10(4 / 3), 9);
    expect(stages[1]!.headroomDb).toBeCloseTo(0, 9);
    expect(stages[2]!.headroomDb).toBeCloseTo(10 * Math.log10(1.5), 9);
    expect(weakestStage(stages)!.id).toBe('amplifier');
  });
  it('knows no headroom where nothing was read', () => {
    const stages = pathIn({ ...CHAIN, source: { ...CHAIN.source, outputVolt: 3 } }, {});
    expect(stages[1]!.headroomDb).toBeUndefined();
    expect(weakestStage(stages)!.id).toBe('source');
  });
});

describe('the summary of a tune', () => {
  it('names the next step and what needs attention, worst first', () => {
    const chain: Chain = {
      ...CHAIN,
      channels: [
        CHAIN.channels[0]!,
        {
          ...CHAIN.channels[0]!,
          id: 'low',
          name: 'Low',
          terminals: 'B',
          loadOhm: 1.33,
          drivers: [1, 2, 3].map((n) => ({ id: `d${n}`, name: 'x', coils: 1 as const, coilOhm: 4, ratedPowerWatt: 50 })),
        },
      ],
    };
    const summary = runSummary(runOf(situation(chain, SETTINGS, { readings: [reading(GAIN, 15)] })), say);
    expect(summary).toMatchObject({ next: { stepId: 'whole:left' }, counts: { 'out-of-tolerance': 1 } });
    // The load that is too low stops every step of its channel that plays or connects, and is told once.
    expect(summary.counts.stop).toBeGreaterThan(4);
    expect(summary.attention.map(({ status }) => status)).toEqual(['stop', 'out-of-tolerance']);
  });
  it('has no next step when all is done', () => {
    const done = ['gain:left', 'proof:left'];
    const skipped = stepsIn(CHAIN, DEFAULT_RULES)
      .map(({ id }) => id)
      .filter((id) => !done.includes(id) && !id.startsWith('filters:'))
      .map((stepId) => ({ stepId, checks: [], skippedReason: 'done before' }));
    const records = {
      readings: [reading(GAIN, 20), reading(PROOF, 19.6, 'loaded-voltage')],
      traces: [trace('clean')],
      marks: allTicked(CHAIN, SETTINGS, skipped),
    };
    expect(runSummary(runOf(situation(CHAIN, SETTINGS, records)), say).next).toBeUndefined();
  });
});

describe('chainFaults', () => {
  it('finds none in a sound chain', () => {
    expect(chainFaults(CHAIN)).toEqual([]);
  });
  it.each([
    ['a load that no wiring gives', withChannel({ loadOhm: 2 }), '/channels/0/loadOhm', 'no wiring of these drivers gives 2 ohm'],
    ['an amplifier that is not there', withChannel({ amplifierId: 'gone' }), '/channels/0/amplifierId', 'not in the chain'],
    ['a volume beyond the scale', { ...CHAIN, source: { ...CHAIN.source, workingVolume: 50 } }, '/source/workingVolume', 'at most'],
    [
      'a knob the wrong way round',
      { ...CHAIN, amplifiers: [{ ...CHAIN.amplifiers[0]!, inputMaxVolt: 0.1 }] },
      '/amplifiers/0/inputMaxVolt',
      'above',
    ],
  ])('points at %s', (_, chain, pointer, message) => {
    expect(chainFaults(chain)).toMatchObject([{ pointer, message: expect.stringContaining(message) as string }]);
  });
});
