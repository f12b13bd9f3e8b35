import { say } from '@yield/words';
import { describe, expect, it } from 'vitest';
import type { Meter } from '../gain/meter.ts';
import { DEFAULT_RULES, type Chain, type Source } from '../job/chain.ts';
import type { LineConditions } from '../job/conditions.ts';
import type { LineReading, RunRecords, StepMark, TraceRecord, TuneSettings } from '../job/records.ts';
import { casesAt } from '../job/source.ts';
import type { EyeVerdict } from '../source/sourceCeiling.ts';
import type { SourceOutput } from '../source/sourceControls.ts';
import type { ChannelAnalysis, TraceVerdict, TraceWarning } from '../traces/analyseTrace.ts';
import type { Judgement } from './frame/judgement.ts';
import { staleReasons } from './frame/staleness.ts';
import { safeVolumes } from './kinds/ceiling/caseLift.ts';
import type { CeilingFigures } from './kinds/ceiling/judge.ts';
import { assumedVolume, withWorkingVolume, workingVolume } from './kinds/ceiling/workingVolume.ts';
import { LOAD_STANDS_ON } from './kinds/gain/judge.ts';
import type { FiguresOf, StepOf } from './kinds/index.ts';
import {
  lineConditionsIn,
  loadConditionsIn,
  situation,
  stateIn,
  stepOfKind,
  stepsIn,
  wordsOf as words,
  type AnyStep,
} from './testKit.fixture.ts';

const METER: Meter = { percent: 0.5, digits: 1, highestHz: 1000, trueRms: true };
const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: METER };
const BASE: Source = { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'assumed' };

function chainWith(source: Partial<Source> = {}): Chain {
  return {
    source: { ...BASE, ...source },
    amplifiers: [{ id: 'amp', name: 'Amplifier', ratings: [{ mode: 'stereo', loadOhm: 4, powerWatt: 100 }] }],
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
}
const CASES = [
  { id: 'flat', name: 'Flat', used: true },
  { id: 'sub', name: 'Sub level +4', used: true, subNotches: 4 },
  { id: 'boost', name: 'Bass up', used: false, bassRaised: true },
];

const ceilingStep = (chain: Chain, output: SourceOutput = 'preamp-front', settings = SETTINGS): StepOf<'ceiling'> =>
  stepsIn(chain, settings.rules).find((step): step is StepOf<'ceiling'> & AnyStep => step.id === `ceiling:${output}`)!;

let clock = 0;
const now = (): string => new Date((clock += 1) * 60_000).toISOString();

interface Row {
  volume: number;
  volt: number;
  caseId?: string;
  toneHz?: number;
  eye?: EyeVerdict;
}
function reading(
  { volume, volt, caseId = 'flat', toneHz, eye }: Row,
  chain: Chain,
  output: SourceOutput = 'preamp-front',
  settings = SETTINGS,
): LineReading {
  const step = ceilingStep(chain, output, settings);
  const conditions = { ...lineConditionsIn(step, chain, settings), sourceVolume: volume, caseId };
  return {
    id: `c${clock}`,
    stepId: step.id,
    kind: 'source-voltage',
    value: volt,
    resolution: 0.001,
    conditions: { ...conditions, ...(toneHz === undefined ? {} : { toneHz }), ...(eye === undefined ? {} : { eye }) },
    takenAt: now(),
  };
}
/** 1.5 dB a step, up to a rail of 3 V RMS that lies between steps `last` and `last + 1`. */
function table(
  chain: Chain,
  last: number,
  row: Partial<Row> = {},
  output: SourceOutput = 'preamp-front',
  settings = SETTINGS,
): LineReading[] {
  return Array.from({ length: 10 }, (_, i) => {
    const volume = last - 7 + i;
    const volt = 2.9 * 10 ** ((1.5 * Math.min(0, volume - last)) / 20) + (volume > last ? 0.1 : 0);
    return reading({ volume, volt, ...row }, chain, output, settings);
  });
}
function capture(
  chain: Chain,
  volume: number,
  thdPercent: number,
  verdict: TraceVerdict = 'clean',
  warnings: TraceWarning[] = [],
  voltageRms = 2,
): TraceRecord {
  const step = ceilingStep(chain);
  const channel: ChannelAnalysis = {
    name: 'CH1',
    samples: 100,
    voltageRms,
    voltageRmsWithDc: voltageRms,
    peakPositiveVolt: 3,
    peakNegativeVolt: -3,
    crestFactor: 1.4,
    dcOffsetVolt: 0,
    thdPercent,
    harmonics: [],
    clipping: { verdict, positiveFlatFraction: 0, negativeFlatFraction: 0 },
    warnings,
  };
  return {
    id: `t${clock}`,
    stepId: step.id,
    fileName: 'x.csv',
    channelIndex: 0,
    analysis: { sampleRateHz: 1, channels: [channel], between: [] },
    conditions: { ...lineConditionsIn(step, chain, SETTINGS), sourceVolume: volume, caseId: 'flat' },
    takenAt: now(),
  };
}
function ceiling(
  chain: Chain,
  records: Partial<RunRecords>,
  output: SourceOutput = 'preamp-front',
  settings = SETTINGS,
): Judgement<CeilingFigures> {
  return stateIn(ceilingStep(chain, output, settings), chain, settings, records);
}

describe('the steps that a source calls for', () => {
  it('are one Flat list an input, one ceiling an output, and sweeps for a factory unit', () => {
    const chain = chainWith({ inputs: ['disc', 'phone'], outputs: ['preamp-front', 'preamp-sub'], isFactory: true });
    const kinds = ['flat', 'ceiling', 'factory'];
    const ids = stepsIn(chain, DEFAULT_RULES)
      .filter(({ kind }) => kinds.includes(kind))
      .map(({ id }) => id);
    expect(ids).toEqual(['flat:disc', 'flat:phone', 'ceiling:preamp-front', 'ceiling:preamp-sub', 'factory:source']);
    expect(ceilingStep(chain).toneHz).toBe(1000);
    expect(ceilingStep(chain, 'preamp-sub').toneHz).toBe(40);
  });
  it('are none for a chain without amplifiers', () => {
    expect(stepsIn({ ...chainWith(), amplifiers: [] }, DEFAULT_RULES)).toEqual([]);
  });
  it('leave a sub level alone at the front where there is a sub output', () => {
    const source = { ...BASE, cases: CASES, outputs: ['preamp-front', 'preamp-sub'] as SourceOutput[] };
    expect(casesAt(source, 'preamp-front').map(({ id }) => id)).toEqual(['flat', 'boost']);
    expect(casesAt(source, 'preamp-sub').map(({ id }) => id)).toEqual(['flat', 'sub', 'boost']);
    expect(casesAt({ ...source, outputs: ['preamp-front'] }, 'preamp-front')).toHaveLength(3);
  });
});

describe('the Flat list', () => {
  const chain = chainWith({ controls: ['bass', 'loudness', 'fader'] });
  const step = stepOfKind('flat', chain, DEFAULT_RULES);
  const mark = (checks: string[], values: Record<string, string> = {}): StepMark => ({ stepId: step.id, checks, values });
  const state = (marks: StepMark[]): Judgement<FiguresOf<'flat'>> => stateIn(step, chain, SETTINGS, { marks });

  it('asks for what this source has, and says where it hides', () => {
    expect(state([]).figures.items.map(({ id, value, ticked }) => [id, value, ticked])).toEqual([
      ['bass', '0', false],
      ['loudness', 'off', false],
      ['fader', 'centre', false],
    ]);
    expect(state([]).figures.items.every(({ where }) => where.length > 10)).toBe(true);
  });
  it.each([
    [[], {}, 'open'],
    [['bass', 'loudness'], {}, 'open'],
    [['bass', 'loudness', 'fader'], {}, 'done'],
    [['bass', 'loudness', 'fader'], { bass: '+0', fader: '0' }, 'done'],
    [['bass', 'loudness', 'fader'], { bass: '+3' }, 'out-of-tolerance'],
  ] as const)('with %j at %j is %s', (checks, values, status) => {
    expect(state([mark([...checks], values)]).status).toBe(status);
  });
  it('names what is not neutral', () => {
    expect(words(state([mark(['bass', 'loudness', 'fader'], { loudness: 'on' })]))).toContain('Loudness is at on');
  });
  it('goes into the conditions, and makes later readings stale when a control is moved', () => {
    const gain = stepOfKind('gain', chain, DEFAULT_RULES);
    const at = (marks: StepMark[]) => loadConditionsIn(gain, chain, SETTINGS, marks);
    const flat = at([mark(['bass', 'fader'])]);
    expect(flat).toMatchObject({ sourceInput: 'stick', sourceSettings: { bass: '0', fader: 'centre' } });
    const raised = at([mark(['bass', 'fader'], { bass: '+4' })]);
    expect(staleReasons(LOAD_STANDS_ON, flat, raised)).toEqual(['bass was at 0 and is now at +4']);
    // What nobody wrote down is not held against a reading while it is neutral; raised it may have been then, or not.
    expect(staleReasons(LOAD_STANDS_ON, at([]), flat)).toEqual([]);
    expect(staleReasons(LOAD_STANDS_ON, at([]), raised)).toEqual(['bass is at +4, and its earlier setting is unknown']);
    expect(staleReasons(LOAD_STANDS_ON, flat, { ...flat, sourceInput: 'phone' })).toEqual([
      'the tone came from stick and now comes from phone',
    ]);
  });
});

describe('the source’s ceiling', () => {
  it('is open while nothing was read, and says that the volume is assumed', () => {
    const state = ceiling(chainWith(), {});
    expect(state.status).toBe('open');
    expect(words(state)).toContain('30 of 40, is an assumption');
  });
  it('is found from voltages alone, within a step', () => {
    const chain = chainWith();
    const state = ceiling(chain, { readings: table(chain, 33) });
    expect(state.figures.working).toMatchObject({ step: 33, complete: true });
    expect(state.figures.curves[0]!.sureness).toContain('Within about one step');
    expect(words(state)).toContain('Clean up to 33; the working volume of 30 is still an assumption');
  });
  it('counts the newest reading of a step', () => {
    const chain = chainWith();
    const readings = [...table(chain, 33), reading({ volume: 33, volt: 2 }, chain), reading({ volume: 33, volt: 2.9 }, chain)];
    expect(ceiling(chain, { readings }).figures.working!.step).toBe(33);
    expect(
      ceiling(chain, { readings: [...readings, { ...reading({ volume: 33, volt: 9 }, chain), voidedReason: 'x' }] }).figures.working!.step,
    ).toBe(33);
  });
  it('is none where two figures contradict each other: the step is read again, and the volume is not taken down to it', () => {
    const chain = chainWith();
    const volts = [0.354, 0.421, 0.421, 0.594, 0.707];
    const readings = volts.map((volt, k) => reading({ volume: 20 + k, volt }, chain));
    const state = ceiling(chain, { readings });
    expect(state).toMatchObject({ status: 'out-of-tolerance', action: { kind: 'read' } });
    expect(state.findings[0]).toMatchObject({ code: 'steps-contradict', figures: { step: 22 } });
    expect(state.findings.map(({ code }) => code)).not.toContain('volume-over-ceiling');
    // There is nothing to be taken over, by no button.
    expect(state.figures.working).toBeUndefined();
    expect(withWorkingVolume(situation(chain, SETTINGS, { readings }))).toBeUndefined();
    const again = ceiling(chain, { readings: [...readings, reading({ volume: 22, volt: 0.501 }, chain)] });
    expect(again.findings.map(({ code }) => code)).not.toContain('steps-contradict');
  });
  it('is surer with captures, which find it sooner', () => {
    const chain = chainWith();
    const readings = table(chain, 33);
    const { curves } = ceiling(chain, { readings, traces: [capture(chain, 31, 0.1), capture(chain, 32, 1.4, 'onset')] }).figures;
    expect(curves[0]!.ceiling).toMatchObject({ maxCleanStep: 31, method: 'distortion' });
    expect(curves[0]!.sureness).toContain('captures on both sides');
  });
  it.each<[string, TraceVerdict, TraceWarning[]]>([
    ['over its range', 'over-range', []],
    ['that cannot be judged', 'unusable', []],
    ['of another tone', 'clipped', ['other-tone']],
  ])('takes nothing from a capture %s', (_, verdict, warnings) => {
    const chain = chainWith();
    const { curves } = ceiling(chain, { readings: table(chain, 33), traces: [capture(chain, 28, 30, verdict, warnings)] }).figures;
    expect(curves[0]!.ceiling).toMatchObject({ maxCleanStep: 33, method: 'compression' });
    expect(curves[0]!.rows.find(({ step }) => step === 28)).toMatchObject({ verdict });
  });
  it('takes the voltage of a calibrated capture where none was typed', () => {
    const chain = chainWith();
    const rows = (warnings: TraceWarning[]) =>
      ceiling(chain, { traces: [capture(chain, 31, 0.1, 'clean', warnings, 2.5)] }).figures.curves[0]!.rows;
    expect(rows([])[0]!.voltageRms).toBe(2.5);
    expect(rows(['uncalibrated'])[0]!.voltageRms).toBeUndefined();
  });
  it('takes fuzzy by eye as dirty', () => {
    const chain = chainWith();
    const readings = [
      ...table(chain, 33).filter(({ conditions }) => conditions.sourceVolume < 31),
      reading({ volume: 31, volt: 2.05, eye: 'fuzzy' }, chain),
    ];
    const { curves } = ceiling(chain, { readings }).figures;
    expect(curves[0]!.ceiling).toMatchObject({ firstDirtyStep: 31, method: 'eye' });
  });
  it('trusts the voltage where the eye saw too late', () => {
    const chain = chainWith();
    const readings = table(chain, 33, { eye: 'clean' });
    const found = ceiling(chain, { readings }).figures.curves[0]!.ceiling!;
    expect(found).toMatchObject({ maxCleanStep: 33, method: 'compression' });
    expect(found.warnings.join(' ')).toContain('the voltage decides');
  });
  it('is lower for full scale where the tone is recorded lower', () => {
    const chain = chainWith();
    const quiet: TuneSettings = { ...SETTINGS, rules: { ...DEFAULT_RULES, toneLevelDbfs: -3 } };
    const { curves, working } = ceiling(chain, { readings: table(chain, 33, {}, 'preamp-front', quiet) }, 'preamp-front', quiet).figures;
    expect(curves[0]!.ceiling!.maxCleanStep).toBe(33);
    // 3 dB are two steps of 1.5 dB.
    expect(working!.step).toBe(31);
    expect(curves[0]!.fullScaleVoltRms).toBeCloseTo(2.9, 6);
  });
  it('is the highest safe volume, whatever was assumed before', () => {
    const chain = chainWith({ workingVolume: 40 });
    const flatOf = (readings: LineReading[]) => safeVolumes(situation(chain, SETTINGS, { readings }))[0];
    expect(flatOf([])).toMatchObject({ step: 40, basis: 'assumed' });
    const { fullScaleStep } = ceiling(chain, { readings: table(chain, 33) }).figures.curves[0]!;
    expect(fullScaleStep).toBeLessThan(40);
    expect(flatOf(table(chain, 33))).toMatchObject({ step: fullScaleStep, basis: 'measured' });
  });
  it('lets the lowest used case of all outputs decide', () => {
    const chain = chainWith({ outputs: ['preamp-front', 'preamp-sub'], cases: CASES });
    const readings = [
      ...table(chain, 33),
      ...table(chain, 33, {}, 'preamp-sub'),
      ...table(chain, 31, { caseId: 'sub' }, 'preamp-sub'),
      // Not used: does not count.
      ...table(chain, 26, { caseId: 'boost' }, 'preamp-sub'),
    ];
    const all = situation(chain, SETTINGS, { readings });
    expect(workingVolume(all)).toMatchObject({ step: 31, complete: true, limitedBy: { settingsCase: { id: 'sub' } } });
    expect(words(ceiling(chain, { readings }, 'preamp-sub'))).toMatch(
      /“Sub level \+4” costs 2 steps of volume, 3\.0\sdB: one notch of sub level costs 0\.7\d?\sdB/,
    );
    const next = withWorkingVolume(all)!;
    expect(next.source).toMatchObject({ workingVolume: 31, volumeBasis: 'measured' });
    expect(next.source.outputVolt).toBeCloseTo(2.9 * 10 ** (-3 / 20), 6);
    expect(next.source.ceilingVolt).toBeCloseTo(2.9, 6);
    expect(ceiling(next, { readings }).status).toBe('done');
  });
  it('says nothing of one notch where the bass is up as well: nobody knows which of the two costs what', () => {
    const cases = [CASES[0]!, { id: 'sub', name: 'Sub level +4, bass +6', used: true, subNotches: 4, bassRaised: true }];
    const chain = chainWith({ outputs: ['preamp-front', 'preamp-sub'], cases });
    const readings = [...table(chain, 33), ...table(chain, 33, {}, 'preamp-sub'), ...table(chain, 31, { caseId: 'sub' }, 'preamp-sub')];
    expect(words(ceiling(chain, { readings }, 'preamp-sub'))).not.toMatch(/notch/);
  });
  it('is not found before every used case was measured', () => {
    const chain = chainWith({ cases: CASES, volumeBasis: 'measured' });
    const state = ceiling(chain, { readings: table(chain, 33) });
    expect(state.status).toBe('open');
    expect(words(state)).toContain('“Sub level +4” will probably be used but has no ceiling yet');
  });
  it('is not found while nothing was dirty, unless the scale ends there', () => {
    const chain = chainWith({ volumeBasis: 'measured' });
    const clean = table(chain, 33).filter(({ conditions }) => conditions.sourceVolume <= 33);
    expect(ceiling(chain, { readings: clean }).status).toBe('open');
    const short = chainWith({ volumeBasis: 'measured', volumeSteps: 33 });
    expect(ceiling(short, { readings: clean }).status).toBe('done');
  });
  it('says when nobody looked at the controls first', () => {
    const chain = chainWith({ controls: ['bass'] });
    const readings = table(chain, 33);
    expect(words(ceiling(chain, { readings }))).toContain('The Flat list of stick is not ticked');
    expect(words(ceiling(chain, { readings, marks: [{ stepId: 'flat:stick', checks: ['bass'] }] }))).not.toContain('is not ticked');
  });
  it('is no reproach to the working volume while the table is still being typed', () => {
    const chain = chainWith({ workingVolume: 36, volumeBasis: 'measured' });
    const begun = table(chain, 33).filter(({ conditions }) => conditions.sourceVolume <= 29);
    const state = ceiling(chain, { readings: begun });
    expect(state.status).toBe('open');
    expect(say(state.findings[0]!).text).toBe('Clean so far, up to step 29.');
  });
  it('warns of a working volume above it', () => {
    const chain = chainWith({ workingVolume: 36, volumeBasis: 'measured' });
    const state = ceiling(chain, { readings: table(chain, 33) });
    expect(state.status).toBe('out-of-tolerance');
    expect(words(state)).toContain('The working volume is 36, but the source is clean only up to 33');
  });
  it.each<[string, Partial<Source>, SourceOutput, RegExp]>([
    ['a claim that is kept', { preampClaimVolt: 3 }, 'preamp-front', /meets the claimed 3\sV/],
    ['a claim that is not', { preampClaimVolt: 5 }, 'preamp-front', /2\.90\sV clean, 4\.7\sdB below the claimed 5\sV/],
    ['the power of its own amplifier', { speakerLoadOhm: 4, outputs: ['speakers'] }, 'speakers', /makes 2\.10\sW clean into 4\sΩ/],
  ])('tells %s', (_, source, output, message) => {
    const chain = chainWith(source);
    expect(words(ceiling(chain, { readings: table(chain, 33, {}, output) }, output))).toMatch(message);
  });
  it('names a tone that clips earlier than another', () => {
    const chain = chainWith();
    const state = ceiling(chain, { readings: [...table(chain, 33), ...table(chain, 29, { toneHz: 40 })] });
    expect(words(state)).toMatch(/40\sHz clips from 30 on, 1\skHz only from 34/);
    expect(state.figures.working!.step).toBe(29);
  });
  it('counts nothing that was read with the tone at another level', () => {
    const chain = chainWith();
    const quiet: TuneSettings = { ...SETTINGS, rules: { ...DEFAULT_RULES, toneLevelDbfs: -5 } };
    const state = ceiling(chain, { readings: table(chain, 33) }, 'preamp-front', quiet);
    expect(state.status).toBe('stale');
    expect(words(state)).toMatch(/recorded level was 0\.0\sdBFS and is now −5\.0\sdBFS/);
  });
  it('is stale when a control was moved since', () => {
    const chain = chainWith({ controls: ['bass'] });
    const marks = [{ stepId: 'flat:stick', checks: ['bass'], values: { bass: '+2' } }];
    const readings = table(chain, 33).map((r) => ({ ...r, conditions: { ...r.conditions, sourceSettings: { bass: '0' } } }));
    const state = ceiling(chain, { readings, marks });
    expect(state.status).toBe('stale');
    expect(words(state)).toContain('bass was at 0 and is now at +2');
    expect(state.figures.curves[0]!.rows).toEqual([]);
  });
  it.each([
    [undefined, 30],
    [80, 32],
  ])('is a share of the scale where it cannot be measured: %s %%', (assumedVolumePercent, volume) => {
    const rules = { ...DEFAULT_RULES, ...(assumedVolumePercent === undefined ? {} : { assumedVolumePercent }) };
    expect(assumedVolume(chainWith(), rules)).toBe(volume);
  });
});

describe('staleness at line level', () => {
  const conditions: LineConditions = { at: 'line', toneHz: 100, toneLevelDbfs: 0, sourceId: 'source', sourceName: 'A', sourceVolume: 30 };
  const keys = ['source', 'volume', 'tone', 'processor'] as const;
  it.each<[Partial<LineConditions>, string]>([
    [{ sourceVolume: 28 }, 'the source volume was 30 and is now 28'],
    [{ sourceId: 'b', sourceName: 'B' }, 'the source was A and is now B'],
    [{ processorId: 'p', processorName: 'P' }, 'the processor was none and is now P'],
  ])('%j', (change, reason) => {
    expect(staleReasons(keys, conditions, { ...conditions, ...change })).toEqual([reason]);
  });
  it('lets through what the step does not stand on', () => {
    expect(staleReasons(['tone'], conditions, { ...conditions, sourceVolume: 28 })).toEqual([]);
  });
});
