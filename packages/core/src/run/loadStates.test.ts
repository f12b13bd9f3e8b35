import { say } from '@yield/words';
import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain, type Channel } from '../job/chain.ts';
import { chainFaults } from '../job/chainFaults.ts';
import { wiredLoadOhm } from '../job/channelWiring.ts';
import type { OhmConditions } from '../job/conditions.ts';
import type { OhmReading, StepMark, TuneSettings } from '../job/records.ts';
import { targetPower } from '../job/targetPower.ts';
import type { Judgement } from './frame/judgement.ts';
import type { Checks } from './frame/stepKind.ts';
import { meteredCoils } from './kinds/coils/judge.ts';
import { coilConditions } from './kinds/coils/kind.ts';
import type { FiguresOf, StepOf } from './kinds/index.ts';
import { codesOf, conditionsIn, runStepIn, situation, stateIn, stepOfKind, stepsIn, wordsOf } from './testKit.fixture.ts';

type LoadKind = 'coils' | 'whole' | 'hookup';

const SETTINGS: TuneSettings = {
  rules: DEFAULT_RULES,
  meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true, leadOhm: 0.2, ohmPercent: 1, ohmDigitsOhm: 0.1 },
};
const BASS: Channel = {
  id: 'bass',
  name: 'Bass',
  amplifierId: 'amp',
  mode: 'mono',
  terminals: 'Sub',
  band: 'bass',
  loadOhm: 2,
  drivers: [{ id: 'sub', name: 'Subwoofer', coils: 2, coilOhm: 4, ratedPowerWatt: 300 }],
  wiring: { network: 'A1|A2' },
};
const chainWith = (changes: Partial<Channel> = {}): Chain => ({
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [
    {
      id: 'amp',
      name: 'Mono',
      minimumMonoOhm: 2,
      ratings: [
        { mode: 'mono', loadOhm: 2, powerWatt: 250 },
        { mode: 'mono', loadOhm: 4, powerWatt: 140 },
      ],
    },
  ],
  channels: [{ ...BASS, ...changes }],
});
const stepOf = <K extends LoadKind>(kind: K, chain: Chain): StepOf<K> => stepOfKind(kind, chain, SETTINGS.rules);
const checksOf = (chain: Chain): Checks => runStepIn('hookup:bass', situation(chain, SETTINGS)).checks!;

let clock = 0;
function ohms(kind: 'coils' | 'whole', value: number, coil = 1, chain = chainWith()): OhmReading {
  clock += 1;
  const step = stepOf(kind, chain);
  const now = situation(chain, SETTINGS);
  return {
    id: `o${clock}`,
    stepId: step.id,
    kind: kind === 'coils' ? 'coil-resistance' : 'whole-resistance',
    value,
    resolution: 0.1,
    conditions:
      kind === 'coils'
        ? coilConditions(meteredCoils(now, step.channel)[coil - 1]!, now)
        : (conditionsIn(step, chain, SETTINGS) as OhmConditions),
    takenAt: new Date(clock * 60_000).toISOString(),
  };
}
const state = <K extends LoadKind>(kind: K, readings: OhmReading[], chain = chainWith(), marks: StepMark[] = []): Judgement<FiguresOf<K>> =>
  stateIn({ id: `${kind}:bass`, kind }, chain, SETTINGS, { readings, marks });

describe('metering the coils', () => {
  it('is done when every coil is sound', () => {
    expect(state('coils', [ohms('coils', 3.6)]).status).toBe('open');
    expect(state('coils', [ohms('coils', 3.6), ohms('coils', 3.5, 2)]).status).toBe('done');
  });
  it.each([
    ['another coil', 1.9, 'It looks like a coil of 2'],
    ['an open one', 1e6, 'A coil 2: No path'],
    ['too far from its twin', 3.0, 'too different for one driver'],
  ])('finds %s', (_, value, words) => {
    const judged = state('coils', [ohms('coils', 3.8), ohms('coils', value, 2)]);
    expect(judged.status).toBe('out-of-tolerance');
    expect(wordsOf(judged)).toContain(words);
  });
  it('forgets a reading of a coil that is another one now', () => {
    const eight = chainWith({ drivers: [{ ...BASS.drivers[0]!, coilOhm: 8 }], loadOhm: 4 });
    const { coils } = state('coils', [ohms('coils', 3.6), ohms('coils', 3.6, 2)], eight).figures;
    expect(coils.every(({ reading }) => reading === undefined)).toBe(true);
  });
  it('takes no other impedance over: coils whose jumpers were left on read the same', () => {
    const judged = state('coils', [ohms('coils', 1.9), ohms('coils', 1.8, 2)]);
    expect(judged).toMatchObject({ status: 'out-of-tolerance', action: { kind: 'read' } });
  });
  it('is no step of its own for a single coil', () => {
    const one = chainWith({ drivers: [{ ...BASS.drivers[0]!, coils: 1 }], loadOhm: 4, wiring: { network: 'A1' } });
    const kinds = stepsIn(one, DEFAULT_RULES).map(({ kind }) => kind);
    expect(kinds).not.toContain('coils');
    expect(kinds).toContain('whole');
  });
});

describe('metering the whole', () => {
  const coils = [ohms('coils', 3.6), ohms('coils', 3.6, 2)];
  it('asks for a wiring first', () => {
    const { wiring, ...unwired } = BASS;
    const chain = { ...chainWith(), channels: [unwired] };
    expect(wiring).toBeDefined();
    expect(state('whole', [], chain)).toMatchObject({
      status: 'open',
      findings: [{ code: 'wiring-unknown' }],
      action: { kind: 'rewire', channelId: 'bass', channel: { wiring: { network: 'A1|A2' }, loadOhm: 2 } },
    });
  });
  it.each([
    ['as intended', 1.9, 'done', 'As intended'],
    ['one coil only', 3.6, 'out-of-tolerance', 'Only one coil is in the circuit'],
    ['in series', 7.0, 'out-of-tolerance', 'Wired as A1+A2 instead'],
    ['open', 1e6, 'out-of-tolerance', 'No path'],
    ['shorted', 0.3, 'stop', 'touch'],
  ] as const)('%s', (_, value, status, words) => {
    const result = state('whole', [...coils, ohms('whole', value)]);
    expect(result.status).toBe(status);
    expect(wordsOf(result)).toContain(words);
  });
  it.each([
    [5.0, 'whole-unexplained'],
    [2.9, 'whole-unexplained'],
  ])('says of %f Ω that no one mistake gives it, before it names the nearest', (value, code) => {
    const result = state('whole', [...coils, ohms('whole', value)]);
    expect(result.status).toBe('out-of-tolerance');
    expect(result.findings[0]).toMatchObject({ code, grade: 'attention' });
    expect(result.findings.slice(1).every(({ grade }) => grade === 'note')).toBe(true);
  });
  it.each([
    [4, 6.4, 8],
    [4, 1.6, 2],
    [8, 3.5, 4],
    [2, 3.5, 4],
  ])('calls a single coil entered as %d Ω that reads %f Ω one of %d Ω, and takes it over with one key', (entered, value, nominal) => {
    const driver = { ...BASS.drivers[0]!, coils: 1 as const, coilOhm: entered };
    const chain = chainWith({ drivers: [driver], loadOhm: entered, wiring: { network: 'A1' } });
    const reading = ohms('whole', value + 0.2, 1, chain);
    // Once, it may be a bad contact: it is read again.
    expect(state('whole', [reading], chain)).toMatchObject({ action: { kind: 'read' } });
    expect(state('whole', [ohms('whole', 1.4 * value, 1, chain), reading], chain).action).toMatchObject({ kind: 'read' });
    const result = state('whole', [reading, ohms('whole', value + 0.2, 1, chain)], chain);
    expect(result.findings[0]).toMatchObject({ code: 'whole-other-nominal', figures: { likelyOhm: nominal } });
    expect(result.action).toMatchObject({ kind: 'take-winding', channel: { drivers: [{ coilOhm: nominal }], loadOhm: nominal } });
    const { drivers, loadOhm } = (result.action as unknown as { channel: Pick<Channel, 'drivers' | 'loadOhm'> }).channel;
    const taken = chainWith({ drivers, loadOhm, wiring: { network: 'A1' } });
    expect(chainFaults(taken)).toEqual([]);
    // Read once more, it is as intended.
    expect(state('whole', [ohms('whole', value + 0.2, 1, taken)], taken).status).toBe('done');
  });
  it('predicts from the measured coils, closer than from nominal', () => {
    const width = (readings: OhmReading[]): number => {
      const { low, high } = state('whole', [...readings, ohms('whole', 1.9)]).figures.diagnosis!.expectedOhm;
      return high - low;
    };
    expect(width(coils)).toBeLessThan(width([]) / 1.5);
  });
  it('goes stale when the wiring changes', () => {
    const series = chainWith({ wiring: { network: 'A1+A2' }, loadOhm: 8 });
    const { status, findings } = state('whole', [ohms('whole', 1.9)], series);
    expect(status).toBe('stale');
    expect(say(findings[0]!).text).toContain('the wiring was coils in parallel and is now coils in series');
  });
  it('counts a series resistor in', () => {
    const withResistor = chainWith({ wiring: { network: 'A1|A2', seriesResistorOhm: 2 }, loadOhm: 4 });
    expect(state('whole', [...coils, ohms('whole', 3.9, 1, withResistor)], withResistor).status).toBe('done');
  });
});

describe('the hook-up', () => {
  const chain = chainWith();
  const { items, basis } = checksOf(chain);
  const ticks = (key = basis!.key): StepMark => ({
    stepId: 'hookup:bass',
    checks: items.map(({ id }) => id),
    basis: key,
    basisWords: basis!.words,
  });
  it('is done with every tick, for exactly this load', () => {
    expect(state('hookup', []).status).toBe('open');
    expect(state('hookup', [], chain, [ticks()]).status).toBe('done');
    expect(state('hookup', [], chain, [ticks('4 Ω on Mono, Sub, mono')]).status).toBe('stale');
    const otherWires = chainWith({ loadOhm: 2, wiring: { network: 'A2|A1' } });
    const { status, findings } = state('hookup', [], otherWires, [ticks()]);
    expect(status).toBe('stale');
    expect(say(findings[0]!).text).toContain('wiring has changed since this was ticked');
  });
  it('does not mind a new name', () => {
    const renamed = { ...chain, amplifiers: chain.amplifiers.map((amplifier) => ({ ...amplifier, name: 'Under the seat' })) };
    expect(state('hookup', [], renamed, [ticks()]).status).toBe('done');
  });
  it('stops at a load below the minimum, while metering goes on', () => {
    const low = chainWith({ drivers: [{ ...BASS.drivers[0]!, coilOhm: 2 }], loadOhm: 1 });
    const stopped = state('hookup', [], low);
    expect(stopped.status).toBe('stop');
    expect(codesOf(stopped)).toEqual(['load-too-low']);
    expect(stopped.action).toEqual({ kind: 'rewire', channelId: 'bass', channel: { wiring: { network: 'A1+A2' }, loadOhm: 4 } });
    expect(state('whole', [], low).status).toBe('open');
  });
  it('asks of a bridged channel whether the manual shows it', () => {
    const bridged = chainWith({ mode: 'bridged' });
    expect(checksOf(bridged).items.map(({ id }) => id)).toContain('bridging');
  });
});

describe('a chosen wiring in the chain', () => {
  it('sets the power that the drivers take, coil by coil, the resistor counted in', () => {
    const power = (channel: Partial<Channel>) => targetPower(chainWith().amplifiers[0]!, { ...BASS, ...channel });
    expect(power({})).toMatchObject({ driversWatt: 300, powerWatt: 250 });
    // Half of all the power ends in 2 ohm before 2 ohm: the drivers are full at twice their rating.
    expect(power({ loadOhm: 4, wiring: { network: 'A1|A2', seriesResistorOhm: 2 } })).toMatchObject({ driversWatt: 600 });
    // One coil of two carries half of the driver's rating.
    expect(power({ loadOhm: 4, wiring: { network: 'A1' } })).toMatchObject({ driversWatt: 150 });
  });
  it('presents its load with the resistor', () => {
    expect(wiredLoadOhm({ ...BASS, wiring: { network: 'A1+A2', seriesResistorOhm: 1 } })).toBe(9);
    expect(wiredLoadOhm({ drivers: BASS.drivers })).toBeUndefined();
  });
  it.each<[string, Partial<Channel>, string, string]>([
    ['a load that is not the wiring’s', { loadOhm: 8 }, '/channels/0/loadOhm', 'presents 2 ohm, not 8 ohm'],
    ['a coil that is not there', { wiring: { network: 'A1|B1' } }, '/channels/0/wiring/network', 'B1, which is not described'],
    ['coils against each other', { wiring: { network: 'A1|-A2' } }, '/channels/0/wiring/network', 'work against each other'],
    [
      'wires that make another wiring',
      {
        wiring: {
          network: 'A1|A2',
          joins: [
            ['amp+', 'A1+'],
            ['A1-', 'amp-'],
          ],
        },
      },
      '/channels/0/wiring/joins',
      'do not match the saved wiring',
    ],
  ])('is refused for %s', (_, changes, pointer, message) => {
    expect(chainFaults(chainWith(changes))).toMatchObject([{ pointer, message: expect.stringContaining(message) as string }]);
  });
  it('is taken with the tuner’s own wires', () => {
    const joins: [string, string][] = [
      ['amp+', 'A1+'],
      ['amp+', 'A2+'],
      ['A1-', 'amp-'],
      ['A2-', 'amp-'],
    ];
    expect(chainFaults(chainWith({ wiring: { network: 'A1|A2', joins } }))).toEqual([]);
  });
});
