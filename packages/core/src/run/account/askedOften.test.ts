// Every question ends: alike three times, or eighteen times of any kind; and ticks that stand are part of the next tick.
import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain } from '../../job/chain.ts';
import type { LoadReading, OhmReading, RunRecords, TuneSettings } from '../../job/records.ts';
import { runOf } from '../run.ts';
import { allTicked, conditionsIn, situation } from '../testKit.fixture.ts';

const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true } };
const CHAIN: Chain = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [{ id: 'amp', name: 'Amp', ratings: [{ mode: 'mono', loadOhm: 4, powerWatt: 100 }], minimumMonoOhm: 2 }],
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
      filters: [{ id: 'lp', place: 'amplifier', kind: 'lowpass', family: 'butterworth', order: 4, cornerHz: 80 }],
    },
  ],
};
const ohms = (values: readonly number[]): OhmReading[] =>
  values.map((value, i) => ({
    id: `r${i}`,
    stepId: 'whole:sub',
    kind: 'whole-resistance',
    value,
    resolution: 0.1,
    conditions: conditionsIn({ id: 'whole:sub' }, CHAIN, SETTINGS) as OhmReading['conditions'],
    takenAt: new Date(i * 60_000).toISOString(),
  }));
const stepAt = (id: string, records: Partial<RunRecords>) => runOf(situation(CHAIN, SETTINGS, records)).find((step) => step.id === id)!;

describe('a question whose answers are alike', () => {
  it.each([
    ['a short, three times', [0.1, 0.1, 0.2], 'describe'],
    ['a short, twice', [0.1, 0.1], 'read'],
    ['open, then short, then short', [1e6, 0.1, 0.1], 'read'],
    ['a wire that was mended', [0.1, 0.1, 3.4], undefined],
  ])('%s', (_, values, kind) => {
    expect(stepAt('whole:sub', { readings: ohms(values) }).state.action?.kind).toBe(kind);
  });

  it('asks for a repair, and not for more of the same', () => {
    const { state } = stepAt('whole:sub', { readings: ohms([0.1, 0.1, 0.1]) });
    expect(state.action).toEqual({ kind: 'describe', what: 'repair' });
    expect(state.findings[0]).toMatchObject({ code: 'asked-often', figures: { times: 3, isStill: true } });
  });
});

describe('what went stale', () => {
  it('is asked for again, however alike it was before', () => {
    const gain = (id: number): LoadReading => ({
      id: `g${id}`,
      stepId: 'gain:sub',
      kind: 'gain-voltage',
      value: 20,
      resolution: 0.01,
      conditions: { ...(conditionsIn({ id: 'gain:sub' }, CHAIN, SETTINGS) as LoadReading['conditions']), sourceId: 'former' },
      takenAt: new Date(id * 60_000).toISOString(),
    });
    const { state } = stepAt('gain:sub', { readings: [gain(1), gain(2), gain(3)], marks: allTicked(CHAIN, SETTINGS) });
    expect(state).toMatchObject({ status: 'stale', action: { kind: 'read' } });
  });
});

describe('a tick beside those that stand', () => {
  it('takes none of them back, whoever sends just what the action names', () => {
    const marks = allTicked(CHAIN, SETTINGS).map((mark) =>
      mark.stepId === 'gain:sub' ? { ...mark, checks: mark.checks.slice(0, 1) } : mark,
    );
    const gain = stepAt('gain:sub', { marks });
    const [first] = marks.find(({ stepId }) => stepId === 'gain:sub')!.checks;
    expect(gain.checks!.items.length).toBeGreaterThan(1);
    expect(first).toBeDefined();
    // Whatever step asks for a tick: what counts there already is part of it.
    for (const step of runOf(situation(CHAIN, SETTINGS, { marks }))) {
      const { action } = step.state;
      if (action?.kind !== 'tick' || step.checks === undefined) continue;
      const mark = marks.find(({ stepId }) => stepId === step.id);
      const counts = mark?.basis === undefined || step.checks.basis === undefined || mark.basis === step.checks.basis.key;
      for (const id of counts ? (mark?.checks ?? []) : []) expect(action.checks, step.id).toContain(id);
    }
  });
});
