import { say } from '@yield/words';
import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain, type Driver } from '../job/chain.ts';
import type { StepMark, TuneSettings } from '../job/records.ts';
import { filterChecks, filtersBasis } from '../ways/filterChecks.ts';
import { KINDS, kindOfStep, readingIntakes, stepIdPattern, takesReading } from './kinds/index.ts';
import { madeUp } from './madeUpKind.fixture.ts';
import { runOf } from './run.ts';
import { runReport } from './runReport.ts';
import { runSummary } from './runSummary.ts';
import { codesOf, runStepIn, situation } from './testKit.fixture.ts';

const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true } };
const DOOR: Driver = { id: 'd', name: 'Door', coils: 1, coilOhm: 4, ratedPowerWatt: 150 };
const chainWith = (driver: Driver = DOOR, loadOhm = driver.coilOhm): Chain => ({
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [{ id: 'amp', name: 'Amp', ratings: [{ mode: 'stereo', loadOhm: 4, powerWatt: 100 }], minimumStereoOhm: 4 }],
  channels: [
    { id: 'left', name: 'Left', amplifierId: 'amp', mode: 'stereo', terminals: 'L', band: 'full-range', loadOhm, drivers: [driver] },
  ],
});
const kinds = [...KINDS, madeUp];
const confirmed = (chain: Chain): StepMark => ({
  stepId: 'filters:left',
  checks: filterChecks(chain.channels[0]!, chain).map(({ id }) => id),
  basis: filtersBasis(chain.channels[0]!).key,
});
const stepIn = (chain: Chain, marks: StepMark[] = []) => runStepIn('made-up:left', situation(chain, SETTINGS, { marks }), kinds);

describe('a kind of step that is registered and nothing else', () => {
  it('stands in the run, in its stage, after the kinds before it', () => {
    const ids = runOf(situation(chainWith(), SETTINGS), kinds).flatMap(({ id, kind }) => (kind.stage === 'proof' ? [id] : []));
    expect(ids.at(-1)).toBe('made-up:left');
    expect(ids[0]).toBe('proof:left');
    expect(stepIn(chainWith()).title).toBe('Made up: Left');
  });
  it('counts in the summary, and its ids and readings are known at the door', () => {
    const [without, withIt] = [KINDS, kinds].map((of) => runSummary(runOf(situation(chainWith(), SETTINGS), of), say).total);
    expect(withIt).toBe(without! + 1);
    expect(stepIdPattern(kinds)).toContain('made-up');
    expect(kindOfStep('made-up:left', kinds)).toBe(madeUp);
    expect(readingIntakes(kinds).at(-1)!.kind).toBe('made-up-voltage');
    expect(takesReading('made-up:left', 'made-up-voltage', kinds)).toBe(true);
    expect(takesReading('made-up:left', 'gain-voltage', kinds)).toBe(false);
  });
  it('keeps its tone locked until somebody looked at the filters', () => {
    const chain = chainWith();
    expect(stepIn(chain).gate.isLocked).toBe(true);
    expect(codesOf(stepIn(chain).state)).toEqual(['filters-not-seen']);
    expect(stepIn(chain, [confirmed(chain)]).gate.isLocked).toBe(false);
    expect(stepIn(chain, [{ ...confirmed(chain), basis: 'another setting' }]).gate.isLocked).toBe(true);
  });
  it('stops at a load that is too low, and at a tweeter with nothing before it, whatever was read', () => {
    const low = chainWith({ ...DOOR, coilOhm: 2 });
    expect(stepIn(low, [confirmed(low)])).toMatchObject({ gate: { isLocked: true }, state: { status: 'stop' } });
    expect(codesOf(stepIn(low).state)[0]).toBe('load-too-low');
    const bare = chainWith({ ...DOOR, role: 'tweeter' });
    expect(stepIn(bare, [confirmed(bare)])).toMatchObject({ gate: { isLocked: true }, state: { status: 'stop' } });
    expect(codesOf(stepIn(bare).state)[0]).toBe('bare-tweeter');
  });
  it('begins softly where a tweeter may hear it, and says what can hurt', () => {
    const tweeter = chainWith({ ...DOOR, role: 'tweeter' });
    tweeter.channels[0]!.filters = [{ id: 'hp', place: 'processor', kind: 'highpass', family: 'butterworth', order: 4, cornerHz: 3500 }];
    tweeter.channels[0]!.toneHz = 8000;
    expect(stepIn(tweeter).gate.start!.levelDb).toBeLessThan(-30);
    expect(stepIn(chainWith()).gate.start).toBeUndefined();
    expect(stepIn(chainWith()).caution).toContain('protect your ears');
  });
  it('is told over HTTP with its conditions, its lock and its next move', () => {
    const chain = chainWith();
    const now = situation(chain, SETTINGS, { marks: [confirmed(chain)] });
    expect(runReport(runOf(now, kinds), now, say).steps.find(({ kind }) => kind === 'made-up')).toMatchObject({
      id: 'made-up:left',
      stage: 'proof',
      status: 'open',
      isLocked: false,
      conditions: { at: 'load', load: 'on', sourceVolume: 30 },
      takes: [{ kind: 'made-up-voltage' }],
      findings: [{ action: { kind: 'read', reading: 'made-up-voltage' } }],
      action: { kind: 'read', reading: 'made-up-voltage' },
    });
  });
  it('is stale by what it declares, through the same words as every kind', () => {
    const chain = chainWith();
    expect(madeUp.dependsOn).toEqual(['volume']);
    expect(stepIn(chain).kind.conditions?.(stepIn(chain).step, situation(chain, SETTINGS))).toMatchObject({ at: 'load' });
  });
});
