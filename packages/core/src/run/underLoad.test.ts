// What is measured under load and how: a dummy load in the drivers' place, captures without and with it, another supply.
import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, connectedLoadOhm, type Amplifier, type Chain, type Channel } from '../job/chain.ts';
import type { LoadReading, LoadTrace, TuneSettings } from '../job/records.ts';
import type { Judgement } from './frame/judgement.ts';
import type { FiguresOf } from './kinds/index.ts';
import type { ProofFigures } from './kinds/proof/judge.ts';
import { codesOf, loadConditionsIn, runStepIn, allTicked, situation, stateIn, stepOfKind } from './testKit.fixture.ts';

const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true } };
/** 100 W into 4 ohm: 20 V. */
const AMPLIFIER: Amplifier = {
  id: 'amp',
  name: 'Amp',
  ratings: [{ mode: 'mono', loadOhm: 4, powerWatt: 100 }],
  minimumMonoOhm: 2,
  ratedAtVolt: 14.4,
};
const CHANNEL: Channel = {
  id: 'bass',
  name: 'Bass',
  amplifierId: 'amp',
  mode: 'mono',
  terminals: 'SUB',
  band: 'bass',
  loadOhm: 4,
  drivers: [{ id: 'd', name: 'Bass', coils: 1, coilOhm: 4, ratedPowerWatt: 300 }],
  wiring: { network: 'A1' },
};
const chainWith = (channel: Partial<Channel> = {}, amplifier: Partial<Amplifier> = {}): Chain => ({
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [{ ...AMPLIFIER, ...amplifier }],
  channels: [{ ...CHANNEL, ...channel }],
});

type Taken = Pick<LoadReading, 'stepId' | 'conditions' | 'takenAt' | 'id'>;
const at = (stepId: string, chain: Chain, load: 'on' | 'off', minute: number): Taken => ({
  id: `${stepId}${minute}`,
  stepId,
  takenAt: new Date(minute * 60_000).toISOString(),
  conditions: {
    ...loadConditionsIn({ id: stepId }, chain, SETTINGS),
    ...(load === 'off' ? { loadOhm: CHANNEL.loadOhm } : { loadOhm: connectedLoadOhm(chain.channels[0]!) }),
    load,
  },
});
const read = (stepId: string, kind: string, value: number, minute: number, chain: Chain, load: 'on' | 'off' = 'on'): LoadReading => ({
  ...at(stepId, chain, load, minute),
  kind,
  value,
  resolution: 0.001,
});
function capture(stepId: string, verdict: string, volt: number, minute: number, chain: Chain, load: 'on' | 'off' = 'on'): LoadTrace {
  const peak = volt * Math.SQRT2;
  const clipping = { verdict, ...(verdict === 'clipped' ? { estimatedOverdriveDb: 1.4 } : {}) };
  const channel = { voltageRms: volt, peakPositiveVolt: peak, peakNegativeVolt: -peak, warnings: [], clipping, fit: {} };
  return {
    ...at(stepId, chain, load, minute),
    fileName: 'x.csv',
    channelIndex: 0,
    analysis: { channels: [channel] },
  } as unknown as LoadTrace;
}
const stateOf = <K extends 'proof' | 'load-pair'>(
  kind: K,
  chain: Chain,
  readings: LoadReading[],
  traces: LoadTrace[] = [],
): Judgement<FiguresOf<K>> =>
  stateIn<K>(stepOfKind(kind, chain, SETTINGS.rules) as { id: string; kind: K }, chain, SETTINGS, {
    readings,
    traces,
    marks: allTicked(chain, SETTINGS),
  });

describe('a dummy load', () => {
  const proved = (channel: Partial<Channel>, clamp?: number): Judgement<ProofFigures> => {
    const chain = chainWith(channel);
    return stateOf(
      'proof',
      chain,
      [
        read('proof:bass', 'loaded-voltage', 20, 1, chain),
        ...(clamp === undefined ? [] : [read('proof:bass', 'clamp-current', clamp, 2, chain)]),
      ],
      [capture('proof:bass', 'clean', 20, 3, chain)],
    );
  };

  it('proves a channel where it is as large as the drivers', () => {
    const state = proved({ dummyOhm: 4.1, dummyWatt: 50 });
    expect(state.status).toBe('done');
    // 20² / 4.1 = 97.6 W, twice its rating: five seconds on, as long off.
    expect(state.findings.find(({ code }) => code === 'dummy-heat')!.figures).toMatchObject({ burstSecond: 5, pauseSecond: 5 });
    // What the drivers get is reckoned with the drivers.
    expect(state.figures.powerWatt).toBeCloseTo(100, 9);
  });

  it.each([8, 2.5])('of %f ohm says nothing of drivers of 4', (dummyOhm) => {
    const state = proved({ dummyOhm });
    expect(state.status).toBe('out-of-tolerance');
    expect(codesOf(state)).toContain('dummy-apart');
  });

  it('is not half burnt out unnoticed, nor overloaded', () => {
    expect(codesOf(proved({ dummyOhm: 4 }, 2.5))).toContain('dummy-current-apart');
    expect(codesOf(proved({ dummyOhm: 4 }, 4.9))).not.toContain('dummy-current-apart');
    expect(proved({ dummyOhm: 4, dummyWatt: 9 }).status).toBe('out-of-tolerance');
  });

  it('locks the tone where the amplifier must not have it', () => {
    const chain = chainWith({ dummyOhm: 1 });
    const { gate } = runStepIn('proof:bass', situation(chain, SETTINGS, { marks: allTicked(chain, SETTINGS) }));
    expect(gate).toMatchObject({ isLocked: true, stop: { code: 'dummy-too-low' } });
  });

  it('taken instead of the drivers makes stale what was measured on another load', () => {
    const [drivers, dummy] = [chainWith(), chainWith({ dummyOhm: 8 })];
    const readings = [read('proof:bass', 'loaded-voltage', 20, 1, drivers)];
    expect(stateOf('proof', dummy, readings, [capture('proof:bass', 'clean', 20, 2, drivers)]).status).toBe('stale');
  });

  it('makes a pair, and tells what the drivers would get', () => {
    const chain = chainWith({ dummyOhm: 8 });
    const readings = [read('load-pair:bass', 'pair-unloaded', 21, 1, chain, 'off'), read('load-pair:bass', 'pair-loaded', 20, 2, chain)];
    const { figures } = stateOf('load-pair', chain, readings);
    expect(figures.connectedLoadOhm).toBe(8);
    // 21 V falling to 20 V on 8 ohm is 0.4 ohm: 4 ohm get 21 × 4 / 4.4 = 19.09 V.
    expect(figures.sag!.predictions.find(({ loadOhm }) => loadOhm === 4)!.voltageRms).toBeCloseTo(19.0909, 4);
  });
});

describe('captures without and with the load', () => {
  const pair = (off: string, on: string) => {
    const chain = chainWith();
    return stateOf(
      'load-pair',
      chain,
      [read('load-pair:bass', 'pair-unloaded', 20.5, 1, chain, 'off'), read('load-pair:bass', 'pair-loaded', 20, 2, chain)],
      [capture('load-pair:bass', off, 20.5, 3, chain, 'off'), capture('load-pair:bass', on, 20, 4, chain)],
    );
  };

  it.each([
    ['clean', 'clean', 'done', 'clean-both-ways', undefined],
    ['clean', 'clipped', 'out-of-tolerance', 'flat-under-load-only', -1.4],
    ['clean', 'onset', 'out-of-tolerance', 'flat-under-load-only', -0.25],
    ['clipped', 'clipped', 'out-of-tolerance', 'flat-without-load', -1.4],
    ['clean', 'distorted', 'done', 'pair-captures-unclear', undefined],
  ])('%s without, %s with it', (off, on, status, code, byDb) => {
    const state = pair(off, on);
    expect(state.status).toBe(status);
    const finding = state.findings.find((each) => each.code === code)!;
    expect(finding.action?.kind === 'turn-gain' ? finding.action.byDb : undefined).toBe(byDb);
    // Where the rails took the voltage, it says nothing of the output resistance.
    expect(state.figures.sag === undefined).toBe(status !== 'done');
  });
});

describe('captures of a load pair at another level than the meter', () => {
  it('say nothing of it, whatever they look like', () => {
    const chain = chainWith();
    const readings = [read('load-pair:bass', 'pair-unloaded', 20.5, 1, chain, 'off'), read('load-pair:bass', 'pair-loaded', 20, 2, chain)];
    const traces = [capture('load-pair:bass', 'clean', 10, 3, chain, 'off'), capture('load-pair:bass', 'clean', 10, 4, chain)];
    const state = stateOf('load-pair', chain, readings, traces);
    expect([state.status, ...codesOf(state)]).toEqual(['out-of-tolerance', 'capture-level-apart']);
  });
});

describe('another supply', () => {
  const proofAt = (amplifier: Partial<Amplifier>) => {
    const chain = chainWith({}, amplifier);
    return stateOf(
      'proof',
      chain,
      [
        read('proof:bass', 'loaded-voltage', 18.9, 1, chain),
        read('proof:bass', 'supply-rest', 14.2, 2, chain),
        read('proof:bass', 'supply-loaded', 13.8, 3, chain),
      ],
      [capture('proof:bass', 'onset', 19, 4, chain), capture('proof:bass', 'clean', 18.9, 5, chain)],
    );
  };

  it('moves the clean voltage of an unregulated amplifier with it', () => {
    const { figures, findings } = proofAt({});
    // 19 V at 13.8 V is 19 × 12.6 / 13.8 = 17.35 V on the battery alone: 18.9 V lies 0.74 dB above that.
    const battery = figures.otherSupplies!.find(({ supplyVolt }) => supplyVolt === 12.6)!;
    expect(battery.cleanVolt).toBeCloseTo(17.348, 3);
    expect(battery.overDb).toBeCloseTo(0.744, 3);
    expect(findings.find(({ code }) => code === 'clips-at-lower-supply')).toMatchObject({ grade: 'note', figures: { supplyVolt: 12.6 } });
  });

  it('leaves a regulated one as it is', () => {
    const { figures, findings } = proofAt({ isRegulated: true });
    expect(new Set(figures.otherSupplies!.map(({ cleanVolt }) => cleanVolt))).toEqual(new Set([19]));
    expect(findings.some(({ code }) => code === 'clips-at-lower-supply')).toBe(false);
  });

  it('is not told where nothing says what holds at which supply', () => {
    const { ratedAtVolt: _unknown, ...amplifier } = AMPLIFIER;
    const chain: Chain = { ...chainWith(), amplifiers: [amplifier] };
    const state = stateOf('proof', chain, [read('proof:bass', 'loaded-voltage', 18.9, 1, chain)], []);
    expect(state.figures.otherSupplies).toBeUndefined();
  });
});
