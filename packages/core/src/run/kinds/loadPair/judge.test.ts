import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain } from '../../../job/chain.ts';
import type { LoadReading, TuneSettings } from '../../../job/records.ts';
import { codesOf, loadConditionsIn, allTicked, situation, stateIn, stepOfKind, wordsOf } from '../../testKit.fixture.ts';
import { judgeLoadPair } from './judge.ts';

const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true } };
const CHAIN: Chain = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [{ id: 'amp', name: 'Amp', ratings: [{ mode: 'mono', loadOhm: 2, powerWatt: 500 }] }],
  channels: [
    {
      id: 'bass',
      name: 'Bass',
      amplifierId: 'amp',
      mode: 'mono',
      terminals: 'SUB',
      band: 'bass',
      loadOhm: 2,
      drivers: [{ id: 'd', name: 'Bass', coils: 1, coilOhm: 2, ratedPowerWatt: 600 }],
    },
  ],
};
const STEP = stepOfKind('load-pair', CHAIN, SETTINGS.rules);
const CONDITIONS = loadConditionsIn(STEP, CHAIN, SETTINGS);
const read = (kind: 'pair-unloaded' | 'pair-loaded', value: number, minute: number): LoadReading => ({
  id: `${kind}${minute}`,
  stepId: STEP.id,
  kind,
  value,
  resolution: 0.1,
  conditions: { ...CONDITIONS, load: kind === 'pair-loaded' ? 'on' : 'off' },
  takenAt: new Date(minute * 60_000).toISOString(),
});
const pairState = (unloaded: number, loaded: number, chain = CHAIN) =>
  stateIn(STEP, chain, SETTINGS, {
    readings: [read('pair-unloaded', unloaded, 1), read('pair-loaded', loaded, 2)],
    marks: allTicked(chain, SETTINGS),
  });

describe('a load pair', () => {
  it('asks for the reading without load first, then for the one with it', () => {
    const judged = (...readings: LoadReading[]) => judgeLoadPair(STEP, situation(CHAIN, SETTINGS, { readings }));
    expect(judged()).toMatchObject({ status: 'open', action: { reading: 'pair-unloaded' } });
    expect(judged(read('pair-unloaded', 36, 1))).toMatchObject({ status: 'open', action: { reading: 'pair-loaded' } });
  });

  // 36 V falling to 30 V on 2 ohm is 0.4 ohm (R = load × (unloaded / loaded − 1)): 4 ohm would get 36 × 4 / 4.4 = 32.73 V, 267.8 W.
  it('says what other loads would get', () => {
    const { status, figures, findings } = pairState(36, 30);
    expect(status).toBe('done');
    expect(figures.sag!.sourceOhm).toBeCloseTo(0.4, 12);
    const four = figures.sag!.predictions.find(({ loadOhm }) => loadOhm === 4)!;
    expect(four.voltageRms).toBeCloseTo(32.727, 3);
    expect(four.powerWatt).toBeCloseTo(267.77, 2);
    expect(figures.sag!.predictions.map(({ loadOhm }) => loadOhm)).toEqual([8, 4, 1]);
    expect(findings[0]!.grade).toBe('note');
  });

  it.each([
    ['hardly a drop', 20, 19.8, 'done', 'pair-read', 'good'],
    ['no drop that the meter could tell', 20, 20.1, 'done', 'no-drop', 'note'],
    ['two readings alike', 15.5, 15.5, 'done', 'no-drop', 'note'],
    ['a rise', 20, 24, 'out-of-tolerance', 'loaded-above-unloaded', 'attention'],
    ['a fall that no supply makes', 20, 2, 'out-of-tolerance', 'drops-too-far', 'attention'],
    ['nothing under load', 20, 0, 'out-of-tolerance', 'reads-nothing', 'attention'],
  ])('judges %s', (_words, unloaded, loaded, status, code, grade) => {
    const state = pairState(unloaded, loaded);
    expect([state.status, ...codesOf(state)]).toEqual([status, code]);
    expect(state.findings[0]!.grade).toBe(grade);
  });

  it('is no pair while the voltage with load is older than the one without', () => {
    const readings = [read('pair-unloaded', 36, 1), read('pair-loaded', 30, 2), read('pair-unloaded', 31, 3)];
    const { status, figures } = stateIn(STEP, CHAIN, SETTINGS, { readings });
    expect(status).toBe('open');
    expect(figures.sag).toBeUndefined();
    expect(judgeLoadPair(STEP, situation(CHAIN, SETTINGS, { readings })).action).toMatchObject({ reading: 'pair-loaded' });
  });

  it('promises nothing into loads that the amplifier must not be given', () => {
    const limited: Chain = { ...CHAIN, amplifiers: CHAIN.amplifiers.map((amplifier) => ({ ...amplifier, minimumMonoOhm: 2 })) };
    expect(pairState(36, 30, limited).figures.sag!.predictions.map(({ loadOhm }) => loadOhm)).toEqual([8, 4]);
  });

  it('is stale once it stands for another load, and says so', () => {
    const other: Chain = { ...CHAIN, channels: CHAIN.channels.map((channel) => ({ ...channel, loadOhm: 4 })) };
    const state = pairState(36, 30, other);
    expect(state.status).toBe('stale');
    expect(wordsOf(state)).toContain('load');
  });
});
