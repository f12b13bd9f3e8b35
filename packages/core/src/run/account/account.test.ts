import { describe, expect, it } from 'vitest';
import type { Finding } from '../../findings.ts';
import { DEFAULT_RULES, type Chain, type Channel } from '../../job/chain.ts';
import type { LineReading, LineTrace, LoadReading, LoadTrace, OhmReading, RunRecords, TuneSettings } from '../../job/records.ts';
import { seededRandom } from '../../numerics/random.ts';
import { quantitiesOf } from '../frame/quantities.ts';
import { runOf, type RunStep } from '../run.ts';
import { allTicked, codesOf, conditionsIn, lineConditionsIn, loadConditionsIn, runStepIn, situation } from '../testKit.fixture.ts';
import { touchedKinds, withAccount } from './account.ts';
import { subjectOf } from './doubt.ts';

const SETTINGS: TuneSettings = {
  rules: DEFAULT_RULES,
  meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true, leadOhm: 0.1 },
};

const door = (side: 'left' | 'right', changes: Partial<Channel> = {}): Channel => ({
  id: side,
  name: `Door ${side}`,
  amplifierId: 'amp',
  mode: 'stereo',
  terminals: side,
  band: 'full-range',
  loadOhm: 4,
  drivers: [{ id: `w-${side}`, name: 'Woofer', coils: 1, coilOhm: 4, ratedPowerWatt: 75, role: 'woofer' }],
  processorOutputId: side,
  ...changes,
});

const CHAIN: Chain = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  processor: {
    name: 'Processor',
    inputs: [{ id: 'in', name: 'In', output: 'preamp-front' }],
    outputs: [
      { id: 'left', name: 'Out 1' },
      { id: 'right', name: 'Out 2' },
    ],
    outputVolt: 4,
    mostOutputVolt: 4.5,
    hasClipLight: true,
  },
  amplifiers: [
    { id: 'amp', name: 'Two-channel', minimumStereoOhm: 2, channelCount: 2, ratings: [{ mode: 'stereo', loadOhm: 4, powerWatt: 75 }] },
  ],
  channels: [door('left'), door('right')],
};

let clock = 0;
const stamp = (): { id: string; takenAt: string } => {
  clock += 1;
  return { id: `x${clock}`, takenAt: new Date(clock * 60_000).toISOString() };
};
const volt = (stepId: string, value: number, chain = CHAIN): LoadReading => ({
  ...stamp(),
  stepId,
  kind: stepId.startsWith('gain') ? 'gain-voltage' : 'loaded-voltage',
  value,
  resolution: 0.01,
  conditions: loadConditionsIn({ id: stepId }, chain, SETTINGS),
});
const ohm = (stepId: string, kind: string, value: number): OhmReading => ({
  ...stamp(),
  stepId,
  kind,
  value,
  resolution: 0.1,
  conditions: conditionsIn({ id: stepId }, CHAIN, SETTINGS) as OhmReading['conditions'],
});
const line = (stepId: string, kind: string, value: number, changes: Partial<LineReading['conditions']> = {}): LineReading => ({
  ...stamp(),
  stepId,
  kind,
  value,
  resolution: 0.001,
  conditions: { ...lineConditionsIn({ id: stepId }, CHAIN, SETTINGS), ...changes },
});
interface Shown {
  verdict?: string;
  dcOffsetVolt?: number;
  warnings?: string[];
  cycles?: number;
  sha256?: string;
}
const capture = (stepId: string, voltageRms: number, shown: Shown = {}): LoadTrace => {
  const { verdict = 'clean', dcOffsetVolt = 0, warnings = [], cycles = 20, sha256 } = shown;
  const peak = voltageRms * Math.SQRT2;
  const channel = {
    name: 'CH1',
    samples: cycles * 100,
    fundamentalHz: 1000,
    voltageRms,
    peakPositiveVolt: peak,
    peakNegativeVolt: -peak,
    dcOffsetVolt,
    thdPercent: verdict === 'clean' ? 0.1 : 5,
    fit: {},
    clipping: { verdict, estimatedOverdriveDb: 2 },
    warnings,
  };
  return {
    ...stamp(),
    stepId,
    fileName: 'scope.csv',
    channelIndex: 0,
    ...(sha256 === undefined ? {} : { sha256 }),
    analysis: { sampleRateHz: 100_000, channels: [channel], between: [] },
    conditions: loadConditionsIn({ id: stepId }, CHAIN, SETTINGS),
  } as unknown as LoadTrace;
};

/** 75 W into 4 ohm. */
const TARGET = Math.sqrt(300);

const stepAt = (id: string, records: Partial<RunRecords>, chain = CHAIN): RunStep =>
  runStepIn(id, situation(chain, SETTINGS, { marks: allTicked(chain, SETTINGS), ...records }));

/** What a sound door has: its wiring metered, outputs and gain on target, proved. */
function finished(): { readings: (LoadReading | OhmReading | LineReading)[]; traces: LoadTrace[] } {
  return {
    readings: [
      ohm('whole:left', 'whole-resistance', 3.5),
      line('output:left', 'output-voltage', 4),
      line('output:right', 'output-voltage', 4),
      volt('gain:left', TARGET),
      volt('proof:left', TARGET),
    ],
    traces: [capture('proof:left', TARGET)],
  };
}

describe('a sound channel', () => {
  it('is done, and nothing contradicts it', () => {
    const records = finished();
    for (const id of ['whole:left', 'hookup:left', 'output:left', 'gain:left', 'proof:left']) {
      expect([id, stepAt(id, records).state.status]).toEqual([id, 'done']);
    }
  });
  it('stands the same in whatever order its records came', () => {
    const { readings, traces } = finished();
    const now = (list: typeof readings) => situation(CHAIN, SETTINGS, { readings: list, traces, marks: allTicked(CHAIN, SETTINGS) });
    const statuses = (list: typeof readings) => runOf(now(list)).map(({ id, state }) => [id, state.status]);
    expect(statuses([...readings].reverse())).toEqual(statuses(readings));
  });
});

describe('one contradicting piece', () => {
  const cases: readonly (readonly [name: string, add: () => Partial<RunRecords>, touched: readonly string[], code: string])[] = [
    [
      'a short across the wiring',
      () => ({ readings: [ohm('whole:left', 'whole-resistance', 0.4)] }),
      ['hookup:left', 'gain:left', 'proof:left'],
      'contradicted',
    ],
    [
      '6.8 ohm on a 4 ohm plate',
      () => ({ readings: [ohm('whole:left', 'whole-resistance', 6.8)] }),
      ['hookup:left', 'gain:left', 'proof:left'],
      'contradicted',
    ],
    [
      'an output above what it can give',
      () => ({ readings: [line('output:left', 'output-voltage', 11.3)] }),
      ['output:left'],
      'above-declared',
    ],
    [
      'an output that is off',
      () => ({ readings: [line('output:left', 'output-voltage', 3)] }),
      ['gain:left', 'proof:left'],
      'contradicted',
    ],
    [
      'a clipped capture at a gain on target',
      () => ({ traces: [capture('gain:left', TARGET, { verdict: 'clipped' })] }),
      ['gain:left'],
      'capture-clipped',
    ],
    [
      'a capture of another tone',
      () => ({ traces: [capture('proof:left', TARGET, { warnings: ['other-tone'] })] }),
      ['proof:left'],
      'capture-other-tone',
    ],
    ['a capture of one cycle', () => ({ traces: [capture('proof:left', TARGET, { cycles: 1 })] }), ['proof:left'], 'capture-too-short'],
    ['DC on the terminals', () => ({ traces: [capture('proof:left', TARGET, { dcOffsetVolt: 1.5 })] }), ['proof:left'], 'dc-on-terminals'],
    [
      'a supply of 138 V',
      () => ({ readings: [{ ...volt('proof:left', 138), kind: 'supply-rest' }] }),
      ['proof:left'],
      'supply-implausible',
    ],
    [
      'a supply that rises under load',
      () => ({
        readings: [
          { ...volt('proof:left', 12.2), kind: 'supply-rest' },
          { ...volt('proof:left', 13.9), kind: 'supply-loaded' },
        ],
      }),
      ['proof:left'],
      'supply-rises',
    ],
    [
      'a clamp that makes 775 ohm',
      () => ({ readings: [{ ...volt('proof:left', TARGET / 775), kind: 'clamp-current' }] }),
      ['proof:left'],
      'clamp-implausible',
    ],
  ];
  it.each(cases)('%s leaves no touched step done', (_name, add, touched, code) => {
    const { readings, traces } = finished();
    const more = add();
    const records = { readings: [...readings, ...(more.readings ?? [])], traces: [...traces, ...(more.traces ?? [])] };
    for (const id of touched) {
      const { state } = stepAt(id, records);
      expect([id, state.status]).not.toEqual([id, 'done']);
      expect(state.action).toBeDefined();
      expect(codesOf(state)).toContain(code);
    }
  });
  it('is settled by reading it again', () => {
    const { readings, traces } = finished();
    const again = [...readings, ohm('whole:left', 'whole-resistance', 0.4), ohm('whole:left', 'whole-resistance', 3.5)];
    expect(stepAt('gain:left', { readings: again, traces }).state.status).toBe('done');
  });
  it('of a danger is not settled by skipping its step; another doubt is', () => {
    const { readings, traces } = finished();
    const skipped = (value: number) => {
      const marks = allTicked(CHAIN, SETTINGS, [{ stepId: 'whole:left', checks: [], skippedReason: 'plate is wrong' }]);
      return stepAt('gain:left', { readings: [...readings, ohm('whole:left', 'whole-resistance', value)], traces, marks }).state.status;
    };
    expect(skipped(6.8)).toBe('done');
  });
  it('of an amplifier that was exchanged says nothing of the new one', () => {
    const { readings, traces } = finished();
    const withDc = [...traces, capture('proof:left', TARGET, { dcOffsetVolt: 1.5 })];
    const other = {
      ...CHAIN,
      amplifiers: CHAIN.amplifiers.map((each) => ({ ...each, id: 'new' })),
      channels: CHAIN.channels.map((each) => ({ ...each, amplifierId: 'new' })),
    };
    expect(stepAt('proof:left', { readings, traces: withDc }).state.status).toBe('stop');
    expect(stepAt('proof:left', { readings, traces: withDc }, other).state.status).toBe('stale');
  });
  it('is told of the file that was dropped for two channels', () => {
    const { readings, traces } = finished();
    const right = [volt('gain:right', TARGET), volt('proof:right', TARGET)];
    const both = [capture('proof:left', TARGET, { sha256: 'a'.repeat(64) }), capture('proof:right', TARGET, { sha256: 'a'.repeat(64) })];
    expect(codesOf(stepAt('proof:right', { readings: [...readings, ...right], traces: [...traces, ...both] }).state)).toContain(
      'capture-twice',
    );
  });
});

describe('copper against an amplifier', () => {
  it('is a stop where it is too low for it, whatever the plate says', () => {
    const one = door('left', { loadOhm: 1, mode: 'mono', drivers: [{ ...door('left').drivers[0]!, coilOhm: 1 }] });
    const chain: Chain = {
      ...CHAIN,
      amplifiers: [{ id: 'amp', name: 'One-channel', minimumMonoOhm: 1, ratings: [{ mode: 'mono', loadOhm: 1, powerWatt: 500 }] }],
      channels: [one],
    };
    const metered = (value: number) => {
      const conditions = conditionsIn({ id: 'whole:left' }, chain, SETTINGS) as OhmReading['conditions'];
      return stepAt('hookup:left', { readings: [{ ...ohm('whole:left', 'whole-resistance', value), conditions }] }, chain).state.status;
    };
    expect([metered(0.9), metered(0.8), metered(0.6)]).toEqual(['done', 'done', 'stop']);
  });
});

describe('a chain against itself', () => {
  it('has two loads on one pair of terminals in parallel: a stop where that is too low', () => {
    const shared = {
      ...CHAIN,
      channels: [
        door('left', { loadOhm: 2, drivers: [{ ...door('left').drivers[0]!, coilOhm: 2 }] }),
        door('right', { terminals: 'LEFT' }),
      ],
    };
    const { state, gate } = stepAt('hookup:right', {}, shared);
    expect(state).toMatchObject({
      status: 'stop',
      findings: [{ code: 'terminals-shared', figures: { togetherOhm: 4 / 3 } }, expect.anything()],
    });
    expect(stepAt('gain:left', {}, shared).gate.isLocked && gate.isLocked).toBe(true);
  });
  it('has no more channels than its amplifier', () => {
    const three: Chain = { ...CHAIN, channels: [...CHAIN.channels, { ...door('right'), id: 'third', name: 'Third', terminals: 'third' }] };
    expect(codesOf(stepAt('hookup:third', {}, three).state)).toContain('too-many-channels');
  });
  it('feeds two ways with different filters from one output of the processor', () => {
    const filter = (kind: 'highpass' | 'lowpass') => ({
      id: kind,
      kind,
      family: 'linkwitz-riley' as const,
      order: 4 as const,
      cornerHz: 80,
      place: 'processor' as const,
    });
    const one: Chain = {
      ...CHAIN,
      channels: [
        door('left', { filters: [filter('highpass')] }),
        door('right', { processorOutputId: 'left', filters: [filter('lowpass')] }),
      ],
    };
    expect(codesOf(stepAt('filters:left', {}, one).state)).toContain('contradicted');
    expect(codesOf(stepAt('filters:right', {}, one).state)).toContain('output-of-two-ways');
  });
});

describe('distortion that stays when the gain falls', () => {
  const bent = (volts: number, percent: number): LoadTrace => {
    const trace = capture('proof:left', volts, { verdict: 'clipped' });
    trace.analysis.channels[0]!.thdPercent = percent;
    return trace;
  };
  const look = (place: 'source' | 'processor', verdict: string): LineTrace => {
    const at = place === 'source' ? 'ceiling:preamp-front' : 'output:left';
    const { conditions: _conditions, ...shown } = capture('proof:left', 1.9, { verdict });
    const conditions = {
      ...lineConditionsIn({ id: at }, CHAIN, SETTINGS),
      ...(place === 'source' ? { caseId: 'flat' } : {}),
      sourceVolume: 30,
    };
    return { ...shown, stepId: at, conditions };
  };
  const both = () => {
    const { readings } = finished();
    return { readings, traces: [bent(TARGET, 2.67), bent(TARGET / 1.13, 2.66)] as (LoadTrace | LineTrace)[] };
  };
  it('is looked for at the source first, and neither blamed on the amplifier nor turned down for', () => {
    const records = both();
    const proof = stepAt('proof:left', records);
    expect(proof.state.findings[0]).toMatchObject({
      code: 'distorts-upstream',
      figures: { place: 'source' },
      action: { to: 'ceiling:preamp-front' },
    });
    expect(stepAt('gain:left', records).step).not.toHaveProperty('onset');
    const source = stepAt('ceiling:preamp-front', { ...records, readings: [...records.readings, ...sourceRows()] });
    expect(source.state).toMatchObject({ status: 'out-of-tolerance', action: { kind: 'capture' } });
    expect(conditionsIn({ id: 'ceiling:preamp-front' }, CHAIN, SETTINGS)).toMatchObject({ at: 'line' });
  });
  it('then at the processor, then in the amplifier itself', () => {
    const { readings, traces } = both();
    const clean = [...traces, look('source', 'clean')];
    expect(stepAt('proof:left', { readings, traces: clean }).state.findings[0]).toMatchObject({
      figures: { place: 'processor' },
      action: { to: 'output:left' },
    });
    const last = [...clean, look('processor', 'clean')];
    expect(stepAt('proof:left', { readings, traces: last }).state.findings[0]).toMatchObject({
      figures: { place: 'amplifier' },
      action: { kind: 'describe', what: 'repair' },
    });
  });
  it('is the amplifier’s own where it goes with the level', () => {
    const { readings } = finished();
    const own = [bent(TARGET, 8), bent(TARGET / 1.13, 1.2)];
    expect(codesOf(stepAt('proof:left', { readings, traces: own }).state)).not.toContain('distorts-upstream');
  });
});

/** A volume table with its ceiling above the working volume. */
const sourceRows = (): LineReading[] =>
  [1, 1.26, 1.58, 1.99, 2.5, 2.55, 2.56].map((value, i) =>
    line('ceiling:preamp-front', 'source-voltage', value, { caseId: 'flat', sourceVolume: 27 + i }),
  );

describe('a gain at its end, or far from it', () => {
  it('that no longer falls and is clean has less to come in', () => {
    const readings = [24, 24, 24].map((value) => volt('gain:left', value));
    const seen = stepAt('gain:left', { readings: [...readings, ...sourceRows()], traces: [capture('gain:left', 24)] });
    expect(seen.state).toMatchObject({
      status: 'out-of-tolerance',
      findings: [{ code: 'gain-at-lowest' }, ...seen.state.findings.slice(1)],
    });
    expect(seen.state.action).toMatchObject({ kind: 'set-volume', to: 28 });
  });
  it('that reads millivolts is another range or a dead stage: read again, then repaired', () => {
    expect(stepAt('gain:left', { readings: [volt('gain:left', 0.002)] }).state).toMatchObject({ action: { kind: 'read' } });
    const again = [0.002, 0.002, 0.002].map((value) => volt('gain:left', value));
    expect(stepAt('gain:left', { readings: again }).state).toMatchObject({ action: { kind: 'describe', what: 'repair' } });
  });
  it('is not called broken by its first odd reading after good ones', () => {
    const good = [16, 16.5, 17, 17.2].map((value) => volt('gain:left', value));
    expect(stepAt('gain:left', { readings: [...good, volt('gain:left', 0.002)] }).state).toMatchObject({ action: { kind: 'read' } });
  });
  it('that reads a peak is told so before it is turned', () => {
    expect(codesOf(stepAt('gain:left', { readings: [volt('gain:left', TARGET * Math.SQRT2)] }).state).slice(0, 2)).toEqual([
      'reads-peak',
      'level-high',
    ]);
  });
  it('whose wave is flat without load is set below that', () => {
    const { readings } = finished();
    const flat = capture('gain:left', TARGET, { verdict: 'clipped' });
    const seen = stepAt('gain:left', { readings, traces: [flat] });
    expect(seen.kind.target?.(seen.step, situation(CHAIN, SETTINGS, { readings, traces: [flat] }))).toBeDefined();
    const target = seen.kind.target!(seen.step, situation(CHAIN, SETTINGS, { readings, traces: [flat] }))!.value;
    expect(20 * Math.log10(target / TARGET)).toBeCloseTo(-0.25, 2);
  });
});

describe('a run that does not get anywhere', () => {
  it('asks the same no more than eighteen times, whatever the answers', () => {
    const random = seededRandom('answers');
    const readings: LoadReading[] = [];
    for (let asked = 0; asked < 40; asked += 1) {
      const { state } = stepAt('gain:left', { readings });
      if (state.status === 'done' || state.action?.kind === 'describe') {
        expect(asked).toBeLessThanOrEqual(18);
        return;
      }
      // Never near the target, nor twice alike.
      readings.push(volt('gain:left', TARGET * (0.3 + 0.4 * random.uniform())));
    }
    throw new Error('asked for ever');
  });
  it('goes on where a later answer is right', () => {
    const wrong = Array.from({ length: 20 }, (_, i) => volt('gain:left', TARGET * (0.4 + i / 100)));
    expect(codesOf(stepAt('gain:left', { readings: wrong }).state)).toContain('asked-often');
    expect(stepAt('gain:left', { readings: [...wrong, volt('gain:left', TARGET)] }).state.status).toBe('done');
  });
});

describe('every kind that denies a quantity', () => {
  // From the declarations alone: a kind that is added is held to it without a line here.
  const now = situation(CHAIN, SETTINGS, { ...finished(), marks: allTicked(CHAIN, SETTINGS) });
  const steps = runOf(now).map((step): RunStep => {
    // Where it would send somebody is no part of the denial.
    const { action: _action, ...state } = step.state;
    return { ...step, isCounted: true, state: { ...state, status: 'done', findings: [] } };
  });
  const denials = steps.flatMap((step) => Object.entries(step.kind.speaksOf ?? {}).map(([code, of]) => ({ step, code, of })));
  it('leaves no step done that states it or stands on it', () => {
    expect(denials.length).toBeGreaterThan(20);
    for (const { step, code, of } of denials) {
      const denied: Finding = { code, grade: 'attention', figures: {} } as Finding;
      const run = withAccount(
        steps.map((each) => (each === step ? { ...each, state: { ...each.state, status: 'out-of-tolerance', findings: [denied] } } : each)),
        now,
      );
      const own = new Set(quantitiesOf(of, subjectOf(step)));
      for (const other of run) {
        if (other.id === step.id) continue;
        const touches = touchedKinds(other.kind).some((kind) => quantitiesOf(kind, subjectOf(other)).some((quantity) => own.has(quantity)));
        expect([code, other.id, other.state.status]).toEqual([code, other.id, touches ? 'out-of-tolerance' : 'done']);
      }
    }
  });
});
