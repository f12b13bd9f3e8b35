// Power by a measured impedance, as a rule of the house; and a nominal load below the amplifier's lowest, on the tuner's word.
import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain, type HouseRules } from '../job/chain.ts';
import type { TuneSettings } from '../job/records.ts';
import { channelsNow } from './frame/channels.ts';
import { codesOf, runStepIn, allTicked, situation, stateIn } from './testKit.fixture.ts';

const settingsWith = (plannedLoad?: HouseRules['plannedLoad']): TuneSettings => ({
  rules: { ...DEFAULT_RULES, ...(plannedLoad === undefined ? {} : { plannedLoad }) },
  meter: { percent: 0.5, digits: 1, highestHz: 1000, trueRms: true },
});
/** 400 W into 1 ohm and 200 W into 2; a box that lies at 2 ohm at 40 Hz and nowhere under 1.5. */
const chainOf = (loadOhm: number, minimumMonoOhm = 1): Chain => ({
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [
    {
      id: 'amp',
      name: 'Amp',
      minimumMonoOhm,
      ratings: [
        { mode: 'mono', loadOhm: 1, powerWatt: 400 },
        { mode: 'mono', loadOhm: 2, powerWatt: 200 },
      ],
    },
  ],
  channels: [
    {
      id: 'sub',
      name: 'Bass',
      amplifierId: 'amp',
      mode: 'mono',
      terminals: 'out',
      band: 'bass',
      loadOhm,
      drivers: [{ id: 'd', name: 'Sub', coils: 1, coilOhm: loadOhm, ratedPowerWatt: 1000 }],
      wiring: { network: 'A1' },
      impedance: {
        kind: 'table',
        rows: [
          { frequencyHz: 20, ohm: 3 },
          { frequencyHz: 40, ohm: 2 },
          { frequencyHz: 80, ohm: 1.5 },
          { frequencyHz: 250, ohm: 3 },
        ],
      },
    },
  ],
});

describe('the load that power is reckoned with', () => {
  it.each([
    // Nominal: 400 W into 1 ohm are 20 V.
    [undefined, 1, 20],
    ['nominal', 1, 20],
    // At 40 Hz 2 ohm: 200 W there are 20 V again, by a plate that halves with the load.
    ['tone', 2, 20],
    // 1.5 ohm lies between two rated loads of one voltage.
    ['lowest', 1.5, 20],
  ] as const)('by the rule %s is %f ohm', (rule, ohm, volt) => {
    const step = channelsNow(situation(chainOf(1), settingsWith(rule)))[0]!;
    expect(step.plannedOhm).toBe(ohm);
    expect(step.target?.fullScaleVoltage).toBeCloseTo(volt, 6);
  });
  it('is the nominal one where the curve leaves a part of the range out', () => {
    const chain = chainOf(1);
    const impedance = {
      kind: 'table' as const,
      rows: [
        { frequencyHz: 35, ohm: 8 },
        { frequencyHz: 45, ohm: 8 },
      ],
    };
    const part = { ...chain, channels: [{ ...chain.channels[0]!, impedance }] };
    expect(channelsNow(situation(part, settingsWith('lowest')))[0]!.plannedOhm).toBe(1);
  });
  it('never lies below the nominal one', () => {
    expect(channelsNow(situation(chainOf(4), settingsWith('lowest')))[0]!.plannedOhm).toBe(4);
  });
});

describe('a nominal load below the amplifier’s lowest', () => {
  const chain = chainOf(0.5);
  const isStoppedIn = (rule: HouseRules['plannedLoad'], isTicked: boolean): boolean => {
    const settings = settingsWith(rule);
    const marks = isTicked ? allTicked(chain, settings) : [];
    return runStepIn('gain:sub', situation(chain, settings, { marks })).state.status === 'stop';
  };
  it.each([
    ['stops everything by the nominal rule, whatever was ticked', 'nominal', true, true],
    ['stops everything by another rule too, without the tuner’s word', 'lowest', false, true],
    ['goes on with it', 'lowest', true, false],
  ] as const)('%s', (_, rule, isTicked, isStopped) => {
    expect(isStoppedIn(rule, isTicked)).toBe(isStopped);
  });
  it('stays on the record as a finding', () => {
    const settings = settingsWith('lowest');
    const state = stateIn({ id: 'hookup:sub', kind: 'hookup' }, chain, settings, { marks: allTicked(chain, settings) });
    expect(state.status).toBe('done');
    expect(codesOf(state)).toContain('below-lowest');
  });
  it('wants the word again when the curve changes', () => {
    const settings = settingsWith('lowest');
    const marks = allTicked(chain, settings);
    const lower = {
      ...chain.channels[0]!,
      impedance: {
        kind: 'table' as const,
        rows: [
          { frequencyHz: 20, ohm: 1.2 },
          { frequencyHz: 250, ohm: 1.2 },
        ],
      },
    };
    const now = situation({ ...chain, channels: [lower] }, settings, { marks });
    expect(codesOf(runStepIn('gain:sub', now).state)).toContain('load-too-low');
  });
});
