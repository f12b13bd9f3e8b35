// What once was green and wrong: each of these was seen at a vehicle, and is held here.
import { findingOf } from '../findings.ts';
import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain, type Channel } from '../job/chain.ts';
import { chainFaults } from '../job/chainFaults.ts';
import type { LineReading, LoadReading, LoadTrace, RunRecords, TuneSettings } from '../job/records.ts';
import { planLoads } from '../loads/planLoads.ts';
import { seriesResistor } from '../loads/seriesResistor.ts';
import { sourceCeiling } from '../source/sourceCeiling.ts';
import { crossoverFindings } from '../ways/crossoverFindings.ts';
import { planCrossovers } from '../ways/crossoverPlan.ts';
import type { Judgement } from './frame/judgement.ts';
import { levelPath } from './levelPath.ts';
import { runOf } from './run.ts';
import { tonesOfRun } from './tonesOfRun.ts';
import { codesOf, conditionsIn, lineConditionsIn, loadConditionsIn, runStepIn, allTicked, situation, wordsOf } from './testKit.fixture.ts';

const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true } };
const door = (side: 'left' | 'right', changes: Partial<Channel> = {}): Channel => ({
  id: side,
  name: `Door ${side}`,
  amplifierId: 'amp',
  mode: 'stereo',
  terminals: side,
  band: 'full-range',
  loadOhm: 4,
  drivers: [{ id: `w-${side}`, name: 'Woofer', coils: 1, coilOhm: 4, ratedPowerWatt: 75, role: 'woofer' }],
  ...changes,
});
const chainOf = (...channels: Channel[]): Chain => ({
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [
    {
      id: 'amp',
      name: 'Four-channel',
      minimumStereoOhm: 2,
      ratings: [
        { mode: 'stereo', loadOhm: 4, powerWatt: 75 },
        { mode: 'stereo', loadOhm: 2, powerWatt: 110 },
      ],
    },
  ],
  channels,
});
const DOORS = chainOf(door('left'), door('right'));

let clock = 0;
function reading(stepId: string, value: number, chain = DOORS, changes: Partial<LoadReading> = {}): LoadReading {
  clock += 1;
  return {
    id: `r${clock}`,
    stepId,
    kind: stepId.startsWith('gain') ? 'gain-voltage' : 'loaded-voltage',
    value,
    resolution: 0.01,
    conditions: loadConditionsIn({ id: stepId }, chain, SETTINGS),
    takenAt: new Date(clock * 60_000).toISOString(),
    ...changes,
  };
}
function capture(stepId: string, voltageRms: number, chain = DOORS): LoadTrace {
  clock += 1;
  const channel = { name: 'CH1', voltageRms, thdPercent: 0.1, fit: {}, clipping: { verdict: 'clean' }, warnings: [] };
  return {
    id: `t${clock}`,
    stepId,
    fileName: 'x.csv',
    channelIndex: 0,
    analysis: { sampleRateHz: 1, channels: [channel], between: [] },
    conditions: loadConditionsIn({ id: stepId }, chain, SETTINGS),
    takenAt: new Date(clock * 60_000).toISOString(),
  } as unknown as LoadTrace;
}
/** Where a step stands once everything is ticked. */
const state = (id: string, records: Partial<RunRecords>, chain = DOORS): Judgement =>
  runStepIn(id, situation(chain, SETTINGS, { marks: allTicked(chain, SETTINGS), ...records })).state;

describe('a figure that is typed', () => {
  // 75 W into 4 ohm is 17.32 V.
  it.each([
    [20, 1, 'level-high'],
    [15, 1, 'level-low'],
    [17, 1, 'too-coarse'],
    [17.3, 0.1, 'on-target'],
  ])('%d V to the nearest %d: %s', (value, resolution, code) => {
    const judged = state('gain:left', { readings: [reading('gain:left', value, DOORS, { resolution })] });
    expect(codesOf(judged)[0]).toBe(code);
    expect(judged.status).toBe(code === 'on-target' ? 'done' : 'out-of-tolerance');
  });
  it('agrees with the level path', () => {
    const now = situation(DOORS, SETTINGS, { readings: [reading('gain:left', 20, DOORS, { resolution: 1 })] });
    const [, amplifier] = levelPath(now, runStepIn('gain:left', now).channels[0]!);
    expect(amplifier!.headroomDb).toBeCloseTo(20 * Math.log10(Math.sqrt(300) / 20), 9);
  });
});

describe('left and right', () => {
  it('are held against each other, and the step of the one that is right names the other', () => {
    const readings = [reading('gain:left', 17.3), reading('gain:right', 14)];
    expect(state('gain:left', { readings })).toMatchObject({ status: 'done' });
    expect(codesOf(state('gain:left', { readings }))).toContain('pair-off');
    expect(wordsOf(state('gain:left', { readings }))).toContain('Door right is the one to correct');
    expect(codesOf(state('gain:right', { readings }))).toContain('pair-apart');
  });
  const tweeter = { id: 't', name: 'Tweeter', coils: 1 as const, coilOhm: 4, ratedPowerWatt: 40, role: 'woofer' as const };
  const unlike = chainOf(
    door('left'),
    door('right', { loadOhm: 2, drivers: [...door('right').drivers, tweeter], wiring: { network: 'A1|B1' } }),
  );
  it('are no pair of greens with targets of 12.6 V and 17.3 V', () => {
    const readings = [reading('gain:left', 17.32, unlike), reading('gain:right', 12.65, unlike)];
    for (const id of ['gain:left', 'gain:right']) {
      const judged = state(id, { readings }, unlike);
      expect(judged.status).toBe('out-of-tolerance');
      expect(codesOf(judged)).toContain('pair-targets-apart');
    }
    const meant = { ...unlike, channels: unlike.channels.map((channel) => ({ ...channel, differsFromPair: true })) };
    expect(state('gain:left', { readings }, meant).status).toBe('done');
  });
  it('are compared under load too, more loosely', () => {
    const loaded = (right: number) => [reading('proof:left', 17), reading('proof:right', right)];
    expect(codesOf(state('proof:right', { readings: loaded(16.5) }))).toContain('pair-alike');
    expect(codesOf(state('proof:right', { readings: loaded(14) }))).toContain('pair-apart');
  });
});

describe('a capture and a meter on the same terminals', () => {
  it.each([
    [17.1, undefined, undefined],
    [1.71, 'capture-level-apart', 10],
    [0.96, 'capture-level-apart', undefined],
  ])('17.1 V on the meter, %d V captured', (captured, code, probeFactor) => {
    const judged = state('proof:left', { readings: [reading('proof:left', 17.1)], traces: [capture('proof:left', captured)] });
    expect(judged.status).toBe(code === undefined ? 'done' : 'out-of-tolerance');
    const finding = judged.findings.find((each) => each.code === 'capture-level-apart');
    expect([finding?.code, finding?.figures.probeFactor]).toEqual([code, probeFactor]);
  });
});

describe('what is behind a proof', () => {
  const drivers = [
    { id: 'd', name: 'Dual', coils: 2 as const, coilOhm: 4, ratedPowerWatt: 150, role: 'woofer' as const },
    { id: 'e', name: 'Dual', coils: 2 as const, coilOhm: 4, ratedPowerWatt: 150, role: 'woofer' as const },
  ];
  const wired = (network: string): Chain => chainOf(door('left', { drivers, wiring: { network } }));
  const [before, after] = [wired('(A1+A2)|(B1+B2)'), wired('(A1|A2)+(B1|B2)')];
  it('is the wires that were on: other wires of the same load make it stale', () => {
    const records = { readings: [reading('proof:left', 17.1, before)], traces: [capture('proof:left', 17.1, before)] };
    expect(state('proof:left', records, before).status).toBe('done');
    const judged = state('proof:left', records, after);
    expect(judged.status).toBe('stale');
    expect(wordsOf(judged)).toContain('coils in series, drivers in parallel');
  });
  it('is what was seen to: without ticks, and with ticks for another volume, it is not done', () => {
    const records = { readings: [reading('proof:left', 17.1)], traces: [capture('proof:left', 17.1)] };
    const filters = allTicked(DOORS, SETTINGS).filter(({ stepId }) => stepId.startsWith('filters'));
    expect(codesOf(state('proof:left', { ...records, marks: filters }))[0]).toBe('not-seen-to');
    const old = allTicked({ ...DOORS, source: { ...DOORS.source, workingVolume: 28 } }, SETTINGS);
    const judged = state('proof:left', { ...records, marks: old });
    expect([judged.status, codesOf(judged)[0]]).toEqual(['open', 'not-seen-to']);
  });
});

describe('a gain without load', () => {
  // 110 W into 2 ohm and 55 W into 4 are both 14.8 V: the voltage is right whatever hangs there afterwards.
  it('stands when the load changes and its target does not', () => {
    const of = (loadOhm: number, watt: number) =>
      chainOf(door('left', { loadOhm, drivers: [{ ...door('left').drivers[0]!, coilOhm: loadOhm, ratedPowerWatt: watt }] }));
    const [two, four] = [of(2, 100), of(4, 50)];
    const volt = Math.sqrt(200);
    const readings = [reading('gain:left', Number(volt.toFixed(2)), two)];
    expect(state('gain:left', { readings }, two).status).toBe('done');
    expect(state('gain:left', { readings }, four).status).toBe('done');
  });
});

describe('coils as they are', () => {
  const subs = chainOf(
    door('left', {
      drivers: ['A', 'B'].map((name) => ({
        id: name,
        name,
        coils: 2 as const,
        coilOhm: 4,
        ratedPowerWatt: 150,
        role: 'subwoofer' as const,
      })),
      band: 'bass',
      wiring: { network: '(A1+A2)|(B1+B2)' },
    }),
  );
  const coil = (driverId: string, number: number, value: number) => ({
    id: `${driverId}${number}`,
    stepId: 'coils:left',
    kind: 'coil-resistance',
    value,
    resolution: 0.1,
    conditions: { at: 'ohm' as const, nominalOhm: 4, leadOhm: 0, meterPercent: 1, meterDigitsOhm: 0.1, driverId, coil: number },
    takenAt: new Date(number * 60_000).toISOString(),
  });
  const all = (...values: number[]) => values.map((value, i) => coil(i < 2 ? 'A' : 'B', (i % 2) + 1, value));
  it('are a winding where all read alike, and the whole is predicted from it', () => {
    const judged = state('coils:left', { readings: all(4.2, 4.2, 4.25, 4.2) }, subs);
    expect(codesOf(judged)).toEqual(['coils-winding']);
    const action = judged.action as { channel: Partial<Channel> };
    const taken = chainOf({ ...subs.channels[0]!, ...action.channel });
    expect(taken.channels[0]!.drivers.map(({ coilOhm }) => coilOhm)).toEqual([4, 4]);
    expect(state('coils:left', { readings: all(4.2, 4.2, 4.25, 4.2) }, taken).status).toBe('done');
  });
  it('are no winding where one of them is another', () => {
    expect(codesOf(state('coils:left', { readings: all(4.2, 4.2, 3.0, 4.2) }, subs))).not.toContain('coils-winding');
  });
});

describe('a chain that cannot be', () => {
  const faultsOf = (chain: Chain): string[] => chainFaults(chain).map(({ pointer, message }) => `${pointer} ${message}`);
  it('has two powers for one load, or one below the lowest', () => {
    const [amplifier] = DOORS.amplifiers;
    const rated = (...ratings: NonNullable<typeof amplifier>['ratings']): Chain => ({
      ...DOORS,
      amplifiers: [{ ...amplifier!, minimumBridgedOhm: 4, ratings }],
    });
    expect(faultsOf(rated({ mode: 'stereo', loadOhm: 4, powerWatt: 75 }, { mode: 'stereo', loadOhm: 4, powerWatt: 100 }))[0]).toContain(
      '/amplifiers/0/ratings/1/powerWatt Four-channel: two powers into 4 ohm stereo',
    );
    expect(faultsOf(rated({ mode: 'bridged', loadOhm: 2, powerWatt: 300 }))[0]).toContain('/amplifiers/0/ratings/0/loadOhm');
  });
  it('has a load that no wiring of its coils gives', () => {
    const two = [1, 2].map((n) => ({ id: `d${n}`, name: 'x', coils: 1 as const, coilOhm: 4, ratedPowerWatt: 50 }));
    expect(faultsOf(chainOf(door('left', { loadOhm: 3, drivers: two })))[0]).toContain('they give 2, 8 ohm');
    expect(faultsOf(chainOf(door('left', { loadOhm: 2, drivers: two })))).toEqual([]);
  });
});

describe('a settings case that is likely', () => {
  const source: Chain['source'] = {
    ...DOORS.source,
    cases: [
      { id: 'flat', name: 'Flat', used: true },
      { id: 'bass', name: 'Bass +6', used: true, bassRaised: true },
    ],
  };
  const chain: Chain = {
    ...DOORS,
    source,
    processor: {
      name: 'Processor',
      inputs: [{ id: 'in', name: 'Front', output: 'preamp-front' }],
      outputs: [{ id: 'out', name: 'Front' }],
      outputVolt: 4,
      hasClipLight: true,
    },
  };
  const row = (caseId: string, step: number, value: number): LineReading => ({
    id: `${caseId}${step}`,
    stepId: 'ceiling:preamp-front',
    kind: 'source-voltage',
    value,
    resolution: 0.001,
    conditions: { ...lineConditionsIn({ id: 'ceiling:preamp-front' }, chain, SETTINGS), caseId, sourceVolume: step },
    takenAt: new Date(step * 60_000).toISOString(),
  });
  const rows = [28, 29, 30].flatMap((step) => [row('flat', step, 1.122 ** (step - 28)), row('bass', step, 1.778 * 1.122 ** (step - 28))]);
  it('goes down the chain: the input is set with it, and ticks made flat no longer count', () => {
    const flat = allTicked({ ...chain, source: { ...source, cases: [source.cases![0]!] } }, SETTINGS);
    const judged = state('input:in', { readings: rows, marks: flat }, chain);
    expect(judged.status).toBe('stale');
    const now = situation(chain, SETTINGS, { readings: rows });
    expect(runStepIn('input:in', now).checks!.items.map(({ id }) => id)).toEqual(['start', 'case', 'light-on', 'light-off', 'flat-again']);
    expect(wordsOf(runStepIn('input:in', now).state)).toContain('boosts this output by 5.0');
    expect(conditionsIn({ id: 'input:in' }, chain, SETTINGS)).toMatchObject({ caseId: 'bass' });
  });
  it('is told at the gains, with the volume that is clean with it', () => {
    const judged = state('gain:left', { readings: [...rows, reading('gain:left', 17.3, chain)] }, chain);
    expect(judged.findings.find(({ code }) => code === 'case-overdrives')?.figures).toMatchObject({ caseId: 'bass' });
  });
});

describe('figures of the tools', () => {
  // 2 dB steps of a volume control that gives way: 0.4 dB behind at 30, 1.7 dB at 31.
  it('allow the decibel that was asked for', () => {
    const steps = [0.88, 1.108, 1.395, 1.756, 2.21, 2.66, 2.89].map((voltageRms, i) => ({ step: 25 + i, voltageRms }));
    expect(sourceCeiling({ steps, compressionDb: 1 }).maxCleanStep).toBe(30);
    expect(sourceCeiling({ steps }).maxCleanStep).toBe(29);
  });
  it('take the impedance at the tone for what a resistor costs', () => {
    const cost = seriesResistor({ loadOhm: 2, impedanceOhm: 4.4, resistorOhm: 2, voltageRms: 9 });
    expect(cost.levelChangeDb).toBeCloseTo(20 * Math.log10(4.4 / 6.4), 9);
    expect(cost.loadOhm).toBe(4);
    expect(seriesResistor({ loadOhm: 2, resistorOhm: 2, voltageRms: 9 }).levelChangeDb).toBeCloseTo(-6.02, 2);
  });
  it('call 4 ohm no hard work for an amplifier that is good to 2', () => {
    const { wirings } = planLoads({
      drivers: [{ name: 'A', coils: 1, coilOhm: 4, ratedPowerWatt: 75 }],
      amplifier: { mode: 'stereo', minimumStereoOhm: 2, ratings: [{ mode: 'stereo', loadOhm: 4, powerWatt: 75 }] },
    });
    expect(wirings[0]!.tradeOff).toContain('well within an amplifier that is good to');
  });
  it('do not warn against their own proposal', () => {
    const tweeter = { id: 't', name: 'Tweeter', coils: 1 as const, coilOhm: 4, ratedPowerWatt: 40, role: 'tweeter' as const };
    const shared = ['left', 'right'].map((side) =>
      door(side as 'left', { loadOhm: 2, drivers: [...door('left').drivers, { ...tweeter, id: `t-${side}` }] }),
    );
    const planned = planCrossovers(chainOf(...shared)).chain;
    expect(crossoverFindings(planned).filter(({ code }) => code === 'highpass-too-low')).toEqual([]);
  });
});

describe('what the simulated bench showed', () => {
  const readings = [
    reading('gain:left', 17.3, DOORS, {
      conditions: { ...loadConditionsIn({ id: 'gain:left' }, DOORS, SETTINGS), isSimulated: true },
    }),
  ];
  const judged = (settings: TuneSettings): Judgement =>
    runStepIn('gain:left', situation(DOORS, settings, { readings, marks: allTicked(DOORS, settings) })).state;
  it('is no evidence of a real car, and says so', () => {
    expect([judged(SETTINGS).status, codesOf(judged(SETTINGS)).at(-1)]).toEqual(['open', 'simulated-only']);
  });
  it('counts in a tune that is for practice', () => {
    expect(judged({ ...SETTINGS, isPractice: true }).status).toBe('done');
  });
});

describe('a run asks for its own tones', () => {
  it('at the recorded level of the house, the row of every filter proof too, each once with its steps', () => {
    const filters = [
      {
        id: 'hp',
        place: 'amplifier' as const,
        kind: 'highpass' as const,
        family: 'butterworth' as const,
        order: 2 as const,
        cornerHz: 100,
      },
    ];
    const chain = chainOf(door('left', { filters }), door('right'));
    const now = situation(chain, { ...SETTINGS, rules: { ...DEFAULT_RULES, toneLevelDbfs: -3 } });
    const tones = tonesOfRun(runOf(now), now);
    expect(new Set(tones.map(({ track }) => track.name)).size).toBe(tones.length);
    // What is proved over the whole range, or sets a line input, is played in full.
    const inFull = (title: string): boolean => /^(Bandwidth check|Input level)/.test(title);
    const ofHouse = tones.filter(({ track, steps }) => track.shape.kind === 'sine' && !steps.every(inFull));
    expect(ofHouse.every(({ track }) => track.levelDbfs === -3)).toBe(true);
    const ofGain = tones.find(({ steps }) => steps.includes('Gain: Door left'));
    expect(ofGain!.steps).toContain('Gain: Door right');
    expect(tones.filter(({ steps }) => steps.some((title) => title.startsWith('Filter proof'))).length).toBeGreaterThanOrEqual(5);
  });
});

describe('the recorded level of a stage', () => {
  const processor = {
    name: 'Processor',
    inputs: [{ id: 'in', name: 'Front', output: 'preamp-front' as const }],
    outputs: [{ id: 'out', name: 'Front' }],
    outputVolt: 4,
    hasClipLight: true,
  };
  const chain: Chain = { ...DOORS, processor };
  const targetWith = (outputsWith?: 'full-scale' | 'tone'): number => {
    const rules = { ...DEFAULT_RULES, toneLevelDbfs: -3, ...(outputsWith === undefined ? {} : { outputsWith }) };
    const now = situation(chain, { ...SETTINGS, rules });
    const { kind, step } = runStepIn('output:out', now);
    return kind.target!(step, now)!.value;
  };
  it('is a school of its own: 4 V of full scale, or 4 V of the tone', () => {
    expect(targetWith()).toBeCloseTo(4 * 10 ** (-3 / 20), 9);
    expect(targetWith('tone')).toBeCloseTo(4, 9);
  });
});

describe('a source with an amplifier of its own', () => {
  const own: Chain = {
    ...DOORS,
    source: { ...DOORS.source, speakerLoadOhm: 4, volumeSteps: 30, workingVolume: 20, volumeBasis: 'assumed' },
    amplifiers: DOORS.amplifiers.map((amplifier) => ({ ...amplifier, isInSource: true })),
  };
  it('has loads, a ceiling at its speaker outputs and a proof, and neither gain nor line side', () => {
    const steps = runOf(situation(own, SETTINGS));
    const kinds = steps.map(({ kind }) => kind.kind);
    for (const kind of ['gain', 'feed', 'input']) expect(kinds).not.toContain(kind);
    for (const kind of ['hookup', 'flat', 'ceiling', 'proof']) expect(kinds).toContain(kind);
    expect(steps.filter(({ kind }) => kind.kind === 'ceiling').map(({ id }) => id)).toEqual(['ceiling:speakers']);
  });
  it('keeps the ceilings of its preamp outputs where those feed another amplifier', () => {
    const more: Chain = { ...own, amplifiers: [...own.amplifiers, { id: 'box', name: 'Box', ratings: [] }] };
    const ids = runOf(situation(more, SETTINGS)).map(({ id }) => id);
    expect(ids).toContain('ceiling:preamp-front');
    expect(ids).toContain('ceiling:speakers');
  });
  it('has its power told from its own clean voltage', () => {
    // 6 V a step on, then held at 8 V: 8 V into 4 ohm are 16 W.
    const rows = [4, 5.04, 6.35, 8, 8.05, 8.05].map((value, i): LineReading => ({
      id: `w${i}`,
      stepId: 'ceiling:speakers',
      kind: 'source-voltage',
      value,
      resolution: 0.01,
      conditions: { ...lineConditionsIn({ id: 'ceiling:speakers' }, own, SETTINGS), caseId: 'flat', sourceVolume: 20 + i },
      takenAt: new Date(i * 60_000).toISOString(),
    }));
    const { findings } = state('ceiling:speakers', { readings: rows }, own);
    const power = findingOf(findings, 'source-power');
    expect(power?.figures.powerWatt).toBeCloseTo(16, 0);
  });
});

describe('a volume table at its end', () => {
  const source = { ...DOORS.source, volumeSteps: 30, workingVolume: 30 };
  const chain: Chain = { ...DOORS, source };
  it('asks nobody to go further up than the scale goes', () => {
    const rows = [27, 28, 29, 30].map((step): LineReading => ({
      id: `s${step}`,
      stepId: 'ceiling:preamp-front',
      kind: 'source-voltage',
      value: 1.122 ** (step - 27),
      resolution: 0.001,
      conditions: { ...lineConditionsIn({ id: 'ceiling:preamp-front' }, chain, SETTINGS), caseId: 'flat', sourceVolume: step },
      takenAt: new Date(step * 60_000).toISOString(),
    }));
    const judged = state('ceiling:preamp-front', { readings: rows }, chain) as Judgement<{
      curves: { sureness?: string; fullScaleStep?: number }[];
    }>;
    // One reading at the very end has none below it either: no ceiling comes of it.
    const alone = state('ceiling:preamp-front', { readings: rows.slice(-1) }, chain);
    expect([alone.status, alone.findings.some(({ grade }) => grade === 'good')]).toEqual(['open', false]);
    // Nothing above confirms the last step: the one below is taken, and the table has its ceiling.
    expect(judged.figures.curves[0]!.sureness).toContain('One step below the end of the scale');
    expect(judged.figures.curves[0]!).toMatchObject({ fullScaleStep: 29 });
  });
});

describe('an impedance that was entered', () => {
  const table = (...rows: [number, number][]): Channel['impedance'] => ({
    kind: 'table',
    rows: rows.map(([frequencyHz, ohm]) => ({ frequencyHz, ohm })),
  });
  const proofOf = (impedance: Channel['impedance']): Judgement => {
    const chain = chainOf(door('left', impedance === undefined ? {} : { impedance }), door('right'));
    const records: RunRecords = {
      readings: [reading('proof:left', 17.3, chain)],
      traces: [capture('proof:left', 17.3, chain)],
      marks: allTicked(chain, SETTINGS),
    };
    return runStepIn('proof:left', situation(chain, SETTINGS, records)).state;
  };
  it('says what the load really takes at the tone, and lifts no target', () => {
    const risen = proofOf(table([500, 4], [1000, 8], [2000, 12]));
    const rise = findingOf(risen.findings, 'impedance-rise')!;
    // 17.3 V into 8 ohm instead of 4: half of the power.
    expect(rise.figures.riseRatio).toBe(2);
    expect(rise.figures.powerWatt).toBeCloseTo(17.3 ** 2 / 8, 9);
    expect(risen.status).toBe(proofOf(undefined).status);
  });
  it('that falls below what the amplifier takes is said; one that dips a little, as every load does, is not', () => {
    expect(codesOf(proofOf(table([100, 4], [1000, 1.4], [4000, 4])))).toContain('impedance-low');
    expect(codesOf(proofOf(table([100, 4], [1000, 1.7], [4000, 4])))).not.toContain('impedance-low');
    expect(codesOf(proofOf(table([20, 4], [50, 9], [90, 4])))).toContain('impedance-unknown');
  });
});
