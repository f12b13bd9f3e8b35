// One odd record stays alone: whatever was let in once, the run, and every other step of it, goes on.
import { say } from '@yield/words';
import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain, type Channel } from '../job/chain.ts';
import type { Reading, RunRecords, StepMark, TraceRecord, TuneSettings } from '../job/records.ts';
import { newSituation } from './frame/situation.ts';
import { runOf } from './run.ts';
import { runReport } from './runReport.ts';
import { runSummary } from './runSummary.ts';
import { countedRecords, settledSituation } from './settledSituation.ts';
import { conditionsIn } from './testKit.fixture.ts';

const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true } };
const door = (side: 'left' | 'right'): Channel => ({
  id: side,
  name: `Door ${side}`,
  amplifierId: 'amp',
  mode: 'stereo',
  terminals: side,
  band: 'full-range',
  loadOhm: 4,
  drivers: [{ id: `w-${side}`, name: 'Woofer', coils: 1, coilOhm: 4, ratedPowerWatt: 75, role: 'woofer' }],
});
const CHAIN: Chain = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [{ id: 'amp', name: 'Four-channel', ratings: [{ mode: 'stereo', loadOhm: 4, powerWatt: 75 }] }],
  channels: [door('left'), door('right')],
};
const NONE: RunRecords = { readings: [], traces: [], marks: [] };

const ohms = (id: string, network: string): Reading => ({
  id,
  stepId: 'whole:left',
  kind: 'total-resistance',
  value: 3.6,
  resolution: 0.1,
  conditions: { ...conditionsIn({ id: 'whole:left' }, CHAIN, SETTINGS), network } as Reading['conditions'],
  takenAt: '2026-01-31T12:00:00.000Z',
});
const kindOfWhole = runOf(newSituation(CHAIN, SETTINGS, NONE))
  .find(({ id }) => id === 'whole:left')!
  .kind.intakes.find(({ type }) => type === 'reading') as { kind: string };
const odd = (network: string, id = 'odd'): Reading => ({ ...ohms(id, network), kind: kindOfWhole.kind });

const statesOf = (records: RunRecords): Record<string, string> =>
  Object.fromEntries(runOf(settledSituation(CHAIN, SETTINGS, records)).map(({ id, state }) => [id, state.status]));

describe('a network that is none', () => {
  it.each(['A1 and B1', '__proto__', '((A1', '+', 'A1+A1', ''])(
    '“%s” in a stored reading is told at its step, and nowhere else',
    (network) => {
      const good = { ...odd('A1', 'good'), takenAt: '2026-01-31T11:00:00.000Z' };
      const records = { ...NONE, readings: [good, odd(network)] };
      const now = settledSituation(CHAIN, SETTINGS, records);
      expect(now.setAside).toMatchObject([{ of: 'reading', id: 'odd', stepId: 'whole:left' }]);
      const run = runOf(now);
      const step = run.find(({ id }) => id === 'whole:left')!;
      expect(step.state.status).not.toBe('done');
      expect(step.state.findings[0]).toMatchObject({ code: 'cannot-judge', figures: { of: 'reading', id: 'odd' } });
      expect(step.state.action).toEqual({ kind: 'void', of: 'reading', id: 'odd' });
      const { 'whole:left': _own, ...others } = statesOf(records);
      const { 'whole:left': _bare, ...without } = statesOf({ ...NONE, readings: [good] });
      expect(others).toEqual(without);
      // It is shown and can be voided; it counts nowhere.
      expect(now.records.readings).toHaveLength(2);
      expect(countedRecords(now).readings.map(({ id }) => id)).toEqual(['good']);
      expect(runSummary(run, say).attention.length + runReport(run, now, say).steps.length).toBeGreaterThan(0);
    },
  );

  it('that was voided is as if it were not there', () => {
    const now = settledSituation(CHAIN, SETTINGS, { ...NONE, readings: [{ ...odd('A1 and B1'), voidedReason: 'odd' }] });
    expect(now.setAside).toEqual([]);
  });
});

/** Any field that is looked at is one too many. */
const throwing = <T extends object>(plain: T): T =>
  new Proxy(plain, {
    get: (target, name) => {
      if (typeof name === 'string' && !(name in target)) throw new TypeError(`nobody foresaw ${name}`);
      return Reflect.get(target, name) as unknown;
    },
  });

describe('a record that breaks whoever looks at it', () => {
  const bare = statesOf(NONE);
  const steps = runOf(newSituation(CHAIN, SETTINGS, NONE));
  // From the declarations: a kind of step that is added later is held too.
  const records = steps.flatMap(({ id, kind }): [string, Partial<RunRecords>][] => [
    ...kind.intakes.flatMap((intake): [string, Partial<RunRecords>][] => {
      const own = { id: 'odd', stepId: id, takenAt: '2026-01-31T12:00:00.000Z', conditions: throwing({}), voidedReason: undefined };
      return intake.type === 'reading'
        ? [[`${id}: a reading of ${intake.kind}`, { readings: [throwing({ ...own, kind: intake.kind }) as unknown as Reading] }]]
        : [[`${id}: a capture`, { traces: [throwing(own) as unknown as TraceRecord] }]];
    }),
    [`${id}: a tick`, { marks: [throwing({ stepId: id }) as unknown as StepMark] }],
  ]);

  it.each(records)('%s', (_, given) => {
    const states = statesOf({ ...NONE, ...given });
    expect(Object.keys(states)).toEqual(Object.keys(bare));
    // Where it was left out its step says so, optional or not.
    const now = settledSituation(CHAIN, SETTINGS, { ...NONE, ...given });
    for (const { stepId } of now.setAside)
      expect(runOf(now).find(({ id }) => id === stepId)).toMatchObject({ isCounted: true, isSettled: false });
    for (const [id, status] of Object.entries(states)) if (bare[id] !== 'done') expect(status).not.toBe('done');
  });

  it('is one of two hundred, and found', () => {
    const many = Array.from({ length: 200 }, (_, i) => ({ ...odd('A1', `r${i}`), takenAt: new Date(i * 1000).toISOString() }));
    const readings = [...many.slice(0, 77), odd('A1 and B1'), ...many.slice(77)];
    expect(settledSituation(CHAIN, SETTINGS, { ...NONE, readings }).setAside.map(({ id }) => id)).toEqual(['odd']);
  });
});

it('a chain that no step can be judged on has steps that say so', () => {
  const broken = { ...CHAIN, channels: [{ ...door('left'), drivers: undefined as unknown as Channel['drivers'] }] };
  const run = runOf(settledSituation(broken, SETTINGS, { ...NONE, readings: [odd('A1')] }));
  expect(run.length).toBeGreaterThan(0);
  expect(run.some(({ fault, state }) => fault !== undefined && state.findings[0]?.code === 'cannot-judge')).toBe(true);
  expect(run.some(({ state }) => state.status === 'done')).toBe(false);
});
