import { describe, expect, it } from 'vitest';
import { compareFigures, type Meter } from '../gain/meter.ts';
import { DEFAULT_RULES, type Chain } from '../job/chain.ts';
import { chainFaults } from '../job/chainFaults.ts';
import type { LineReading, LineTrace, RunRecords, StepMark, TraceRecord, TuneSettings } from '../job/records.ts';
import type { ChannelAnalysis, TraceVerdict } from '../traces/analyseTrace.ts';
import { channelsNow } from './frame/channels.ts';
import type { Judgement } from './frame/judgement.ts';
import type { Checks } from './frame/stepKind.ts';
import type { StepOf } from './kinds/index.ts';
import { inputConditions } from './kinds/input/kind.ts';
import { levelPath } from './levelPath.ts';
import { runOf } from './run.ts';
import { lineConditionsIn, runStepIn, situation, stateIn, stepOfKind, stepsIn, wordsOf as words, type AnyStep } from './testKit.fixture.ts';

const METER: Meter = { percent: 1, digits: 3, highestHz: 1000, trueRms: true };
const SETTINGS: TuneSettings = { rules: { ...DEFAULT_RULES, toleranceDb: 0.1 }, meter: METER };
const CHAIN: Chain = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured', outputVolt: 2, ceilingVolt: 3 },
  processor: {
    name: 'Line processor',
    inputs: [{ id: 'front', name: 'Front', output: 'preamp-front' }],
    outputs: [
      { id: 'l', name: 'Left' },
      { id: 'r', name: 'Right' },
    ],
    outputVolt: 4,
    mostOutputVolt: 8,
    hasClipLight: true,
  },
  amplifiers: [
    { id: 'amp', name: 'Amplifier', ratings: [{ mode: 'stereo', loadOhm: 4, powerWatt: 100 }], inputMinVolt: 0.2, inputMaxVolt: 5 },
  ],
  channels: ['l', 'r'].map((id) => ({
    id: `channel-${id}`,
    name: id,
    amplifierId: 'amp',
    mode: 'stereo',
    terminals: id,
    band: 'full-range',
    loadOhm: 4,
    drivers: [{ id: `d-${id}`, name: 'Door', coils: 1, coilOhm: 4, ratedPowerWatt: 150 }],
    processorOutputId: id,
  })),
};
const input = (chain = CHAIN): StepOf<'input'> => stepOfKind('input', chain, SETTINGS.rules);
const checksOf = (chain = CHAIN): Checks => runStepIn('input:front', situation(chain, SETTINGS)).checks!;
const output = (id: 'l' | 'r', chain = CHAIN): StepOf<'output'> =>
  stepsIn(chain, SETTINGS.rules).find((s): s is StepOf<'output'> & AnyStep => s.id === `output:${id}`)!;
const withProcessor = (changes: Partial<NonNullable<Chain['processor']>>): Chain => ({
  ...CHAIN,
  processor: { ...CHAIN.processor!, ...changes },
});

let clock = 0;
const takenAt = (): string => new Date((clock += 1) * 60_000).toISOString();
function reading(id: 'l' | 'r', value: number, chain = CHAIN): LineReading {
  const step = output(id, chain);
  const conditions = lineConditionsIn(step, chain, SETTINGS);
  return { id: `o${clock}`, stepId: step.id, kind: 'output-voltage', value, resolution: 0.01, conditions, takenAt: takenAt() };
}
function state(step: StepOf<'input' | 'output'>, records: Partial<RunRecords>, chain = CHAIN, settings = SETTINGS): Judgement {
  return stateIn(step, chain, settings, records);
}

describe('a processor’s steps', () => {
  it('come between the source and the gains: every input, then every output', () => {
    const kinds = ['ceiling', 'input', 'output', 'gain'];
    const told = stepsIn(CHAIN, DEFAULT_RULES).map(({ kind }) => kind);
    expect(told.filter((kind) => kinds.includes(kind))).toEqual(['ceiling', 'input', 'output', 'output', 'gain', 'gain']);
    expect(input().toneHz).toBe(100);
  });
  it.each([
    ['what is wished for', {}, 4, 'wish'],
    ['what the amplifier’s input takes', { outputVolt: 6 }, 5, 'amplifier'],
    ['what the processor gives', { outputVolt: 6, mostOutputVolt: 3 }, 3, 'processor'],
  ])('have %s as the target', (_, changes, fullScaleVoltRms, limitedBy) => {
    expect(output('l', withProcessor(changes)).target).toMatchObject({ fullScaleVoltRms, settingVolt: fullScaleVoltRms, limitedBy });
  });
  it('have a lower target for a tone recorded lower', () => {
    const { target } = stepOfKind('output', CHAIN, { ...DEFAULT_RULES, toneLevelDbfs: -10 });
    expect(target.settingVolt).toBeCloseTo(4 * 10 ** -0.5, 9);
  });
  it('are refused where a channel or an input leads nowhere', () => {
    expect(chainFaults(CHAIN)).toEqual([]);
    expect(chainFaults(withProcessor({ outputs: [{ id: 'l', name: 'Left' }] }))[0]).toMatchObject({
      pointer: '/channels/1/processorOutputId',
    });
    expect(chainFaults(withProcessor({ inputs: [{ id: 's', name: 'Sub', output: 'preamp-sub' }] }))[0]).toMatchObject({
      pointer: '/processor/inputs/0/output',
      message: expect.stringContaining('preamp sub is not in use') as string,
    });
  });
});

describe('a processor’s input', () => {
  const { items, basis } = checksOf();
  const ticked = (checks = items.map(({ id }) => id)): StepMark => ({
    stepId: 'input:front',
    checks,
    basis: basis!.key,
    basisWords: basis!.words,
  });
  const capture = (verdict: TraceVerdict): TraceRecord => {
    const channel = { clipping: { verdict, positiveFlatFraction: 0, negativeFlatFraction: 0 }, warnings: [] } as unknown as ChannelAnalysis;
    return {
      id: 't',
      stepId: 'input:front',
      fileName: 'x.csv',
      channelIndex: 0,
      analysis: { sampleRateHz: 1, channels: [channel], between: [] },
      conditions: lineConditionsIn(input(), CHAIN, SETTINGS),
      takenAt: takenAt(),
    };
  };
  it('is done once its light came on and went out again', () => {
    expect(state(input(), { marks: [ticked(['start', 'light-on'])] }).status).toBe('open');
    expect(state(input(), { marks: [ticked()] }).status).toBe('done');
  });
  it('is stale at another volume', () => {
    const chain = { ...CHAIN, source: { ...CHAIN.source, workingVolume: 28 } };
    const stale = state(input(chain), { marks: [ticked()] }, chain);
    expect(stale.status).toBe('stale');
    expect(words(stale)).toContain('ticked for Unit at 30');
    expect(words(stale)).toContain('it is now Unit at 28');
  });
  it('without a light asks for a capture', () => {
    const chain = withProcessor({ hasClipLight: false });
    expect(checksOf(chain).items.map(({ id }) => id)).toEqual(['start']);
    expect(state(input(chain), { marks: [ticked(['start'])] }, chain).status).toBe('open');
    expect(state(input(chain), { traces: [capture('clean')] }, chain).status).toBe('done');
  });
  it.each<[TraceVerdict, string]>([
    ['clipped', 'clips at the working volume'],
    ['onset', 'clips at the working volume'],
    ['over-range', 'cannot be judged'],
  ])('with a capture that is %s is out of tolerance', (verdict, message) => {
    const judged = state(input(), { traces: [capture(verdict)], marks: [ticked()] });
    expect(judged.status).toBe('out-of-tolerance');
    expect(words(judged)).toContain(message);
  });
  it('stands by fresh ticks, whatever an older capture said at another volume', () => {
    const old = capture('clipped');
    const trace = { ...old, conditions: { ...old.conditions, sourceVolume: 25 } };
    expect(state(input(), { traces: [trace] }).status).toBe('stale');
    expect(state(input(), { traces: [trace], marks: [ticked()] }).status).toBe('done');
  });
  it('is set with a full-scale tone, whatever level the house plays elsewhere', () => {
    const settings = { ...SETTINGS, rules: { ...SETTINGS.rules, toneLevelDbfs: -5 } };
    expect(inputConditions(input(), situation(CHAIN, settings)).toneLevelDbfs).toBe(0);
  });
  it('of a factory unit is set with a tone that it plays in full', () => {
    const chain = { ...CHAIN, source: { ...CHAIN.source, isFactory: true } };
    expect(input(chain).toneHz).toBe(1000);
  });
});

describe('a knob at its end', () => {
  it('of an output that gives no more is told, and the amplifier’s gain makes up for it', () => {
    const at = (volts: readonly number[]): Judgement => state(output('l'), { readings: volts.map((volt) => reading('l', volt)) });
    expect(at([3.01, 3.01])).toMatchObject({ status: 'out-of-tolerance', action: { kind: 'turn-output' } });
    // Read three times and never turned looks the same: only the tuner can say, by a tick.
    const ended = at([3.01, 3.01, 3.0]);
    expect(ended).toMatchObject({ status: 'out-of-tolerance', action: { kind: 'tick', checks: ['output-at-end-3.0'] } });
    const readings = [3.01, 3.01, 3.0].map((volt) => reading('l', volt));
    const marks = [{ stepId: 'output:l', checks: ['output-at-end-3.0'] }];
    expect(state(output('l'), { readings, marks })).toMatchObject({ status: 'done' });
    // Ticked for another voltage it stands for nothing.
    const softer = [1.01, 1.01, 1.0].map((volt) => reading('l', volt));
    expect(state(output('l'), { readings: softer, marks }).status).toBe('out-of-tolerance');
    // Still rising: it goes on.
    expect(at([2.6, 2.8, 3.01])).toMatchObject({ status: 'out-of-tolerance', action: { kind: 'turn-output' } });
  });

  const captured = (at: 'input:front' | 'output:l', verdict: string, volt: number, overDb: number, toneLevelDbfs = 0): LineTrace => {
    const chain = withProcessor({ hasClipLight: false });
    const shown = {
      voltageRms: volt,
      peakPositiveVolt: volt * Math.SQRT2,
      peakNegativeVolt: -volt * Math.SQRT2,
      clipping: { verdict, estimatedOverdriveDb: overDb },
      warnings: [],
      fit: {},
    };
    const conditions = { ...lineConditionsIn({ id: at }, chain, SETTINGS), toneLevelDbfs };
    const analysis = { sampleRateHz: 48_000, channels: [shown], between: [] };
    return {
      id: `k${clock}`,
      stepId: at,
      fileName: 'x.csv',
      channelIndex: 0,
      analysis,
      conditions,
      takenAt: takenAt(),
    } as unknown as LineTrace;
  };

  it('of an input that clips alike three times wants less before it', () => {
    const at = (overs: readonly number[]): Judgement =>
      state(input(), { traces: overs.map((over) => captured('input:front', 'clipped', 2, over)) }, withProcessor({ hasClipLight: false }));
    expect(at([2, 1, 0.5])).toMatchObject({ action: { kind: 'turn-input' } });
    const ended = at([0.5, 0.5, 0.52]);
    expect(ended.findings[0]).toMatchObject({ code: 'input-at-lowest' });
    expect(ended.action).toEqual({ kind: 'describe', what: 'level-before-processor' });
  });

  it('proves no more of an output than a softer tone reached', () => {
    const targetWith = (traces: LineTrace[]): number =>
      stepsInNow(traces).find((each): each is StepOf<'output'> & AnyStep => each.id === 'output:l')!.target.fullScaleVoltRms;
    const flat = captured('output:l', 'clipped', 2, 1, -5);
    // Clean at 1.1 V with a tone of −5 dBFS is no 2 V of a full-scale one.
    expect(targetWith([flat])).toBeCloseTo(2, 1);
    expect(targetWith([flat, captured('output:l', 'clean', 1.15, 0, -5)])).toBeCloseTo(2, 1);
    expect(targetWith([flat, captured('output:l', 'clean', 2.4, 0)])).toBe(4);
  });
});

const stepsInNow = (traces: LineTrace[]): AnyStep[] =>
  runOf(situation(CHAIN, SETTINGS, { traces })).map(({ step }) => step as unknown as AnyStep);

describe('a processor’s output', () => {
  it.each([
    [3.99, 'done', /On target/],
    [3.5, 'out-of-tolerance', /Turn this output up 1\.2\sdB/],
    [4.6, 'out-of-tolerance', /Turn this output down 1\.2\sdB/],
    [0, 'out-of-tolerance', /reads nothing/],
  ])('at %d V is %s', (volt, status, message) => {
    const judged = state(output('l'), { readings: [reading('l', volt)] });
    expect(judged.status).toBe(status);
    expect(words(judged)).toMatch(message);
  });
  it('is matched where the meter cannot tell', () => {
    const judged = state(output('r'), { readings: [reading('l', 4), reading('r', 3.98)] });
    expect(judged.status).toBe('done');
    expect(words(judged)).toMatch(/3\.98\sV against 4\sV of Left is no difference with this meter/);
  });
  it('is not matched where both are on target but apart', () => {
    const judged = state(output('r'), { readings: [reading('l', 4.04), reading('r', 3.96)] });
    expect(judged.status).toBe('out-of-tolerance');
    expect(words(judged)).toMatch(/3\.96\sV against 4\.04\sV of Left: −0\.2\sdB apart/);
  });
  it('is stale at another volume, and does not match against what is stale', () => {
    const chain = { ...CHAIN, source: { ...CHAIN.source, workingVolume: 28 } };
    expect(state(output('l', chain), { readings: [reading('l', 4)] }, chain).status).toBe('stale');
    const judged = state(output('r', chain), { readings: [reading('l', 4.5), reading('r', 4, chain)] }, chain);
    expect(judged.status).toBe('done');
  });
  it('says when the wish cannot be had', () => {
    const chain = withProcessor({ outputVolt: 6 });
    expect(words(state(output('l', chain), {}, chain))).toMatch(/You asked for 6\sV, but the amplifier input accepts 5\sV at most/);
  });
  it('stands on the level path, under what the amplifier’s input takes', () => {
    const now = situation(CHAIN, SETTINGS, { readings: [reading('l', 4)] });
    const path = levelPath(now, channelsNow(now)[0]!);
    expect(path.map(({ id }) => id)).toEqual(['source', 'processor', 'amplifier', 'drivers']);
    expect(path[1]).toMatchObject({ name: 'Line processor, Left', nowVolt: 4, ceilingVolt: 5, ceilingBasis: 'rated' });
    expect(path[1]!.headroomDb).toBeCloseTo(20 * Math.log10(5 / 4), 9);
  });
});

describe('two figures compared', () => {
  const figure = (value: number, percent = 1) => ({ value, resolution: 0.01, meter: { percent, digits: 3 } });
  it.each([
    // 3 digits of 0.01 V each: 0.06 V of room.
    [4, 3.95, true, true],
    [4, 3.93, true, false],
    // Two meters of 1 %: 0.04 + 0.039 + 0.06 V of room.
    [4, 3.87, false, true],
    [4, 3.85, false, false],
  ])('%d against %d V, one meter: %s, the same: %s', (a, b, sameMeter, same) => {
    expect(compareFigures(figure(a), figure(b), sameMeter).same).toBe(same);
  });
});
