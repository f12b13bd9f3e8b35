import {
  channelCoils,
  judgeCoil,
  likelyDcOhm,
  wholeDiagnosis,
  type Channel,
  type CauseKind,
  DEFAULT_RULES,
  newSituation,
} from '@yield/core';
import { describe, expect, it } from 'vitest';
import { CAMPER_TRAILER, LIBRARY_BUS, SCHOOL_CAR, WORKSHOP_METER } from './demo/demoChains.ts';
import { simulatedOhmmeter } from './instruments.ts';
import { coilResistances, LOAD_FAULTS, probedOhm, type LoadFault } from './load.ts';
import { seededRandom } from '@yield/core';

const BASS: Channel = {
  id: 'bass',
  name: 'Bass',
  amplifierId: 'amp',
  mode: 'mono',
  terminals: 'Sub',
  band: 'bass',
  loadOhm: 1,
  drivers: ['one', 'two'].map((id) => ({ id, name: id, coils: 2, coilOhm: 4, ratedPowerWatt: 300 })),
  wiring: { network: 'A1|A2|B1|B2' },
};
const reads = async (ohm: number): Promise<{ display: string; ohm: number }> =>
  simulatedOhmmeter(() => ohm, WORKSHOP_METER, seededRandom('meter')).read();

describe('the coils of a made-up vehicle', () => {
  it('are sound for their nominal impedance, and alike within a driver', () => {
    for (const channel of [...LIBRARY_BUS.channels, ...SCHOOL_CAR.channels, ...CAMPER_TRAILER.channels, BASS]) {
      const dc = coilResistances(channel, 'seed');
      for (const { name, nominalOhm } of channelCoils(channel)) {
        expect(judgeCoil(dc.get(name)!, { nominalOhm }, 0, { meterPercent: 0, meterDigitsOhm: 0 }).verdict).toBe('sound');
      }
    }
    const dc = coilResistances(BASS, 'seed');
    expect(Math.abs(dc.get('A1')! / dc.get('A2')! - 1)).toBeLessThan(0.021);
  });
  it('are the same for the same seed, and others for another', () => {
    expect([...coilResistances(BASS, 'a').values()]).toEqual([...coilResistances(BASS, 'a').values()]);
    expect([...coilResistances(BASS, 'a').values()]).not.toEqual([...coilResistances(BASS, 'b').values()]);
  });
});

describe('the simulated ohmmeter', () => {
  it('has its leads in every figure, in steps of a tenth', async () => {
    expect((await reads(0)).display).toBe('0.2');
    expect((await reads(3.4)).display).toBe('3.6');
  });
  it('shows overload in letters', async () => {
    expect(await reads(Infinity)).toEqual({ display: 'OL', ohm: Infinity });
  });
  it('drops its tenths above its lowest range', async () => {
    expect((await reads(180)).display).toMatch(/^18\d$/);
  });
});

describe('mistakes on the bench', () => {
  // What the diagnosis should call each of them, most likely first.
  const CAUSE: Record<LoadFault, CauseKind> = {
    none: 'as-intended',
    'one-coil-only': 'one-coil-only',
    'driver-missing': 'driver-missing',
    open: 'open',
    short: 'short',
  };
  it.each(LOAD_FAULTS)('%s is what the diagnosis finds', async (fault) => {
    const { ohm } = await reads(probedOhm(BASS, 'seed', { kind: 'whole', fault }));
    const chain = {
      source: { name: 'x', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' as const },
      amplifiers: [],
      channels: [BASS],
    };
    const settings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true } };
    const now = newSituation(chain, settings, { readings: [], traces: [], marks: [] });
    const meterOhm = Number.isFinite(ohm) ? ohm : 1e6;
    const diagnosis = wholeDiagnosis(BASS, now, meterOhm, { leadOhm: 0.2, meterPercent: 1, meterDigitsOhm: 0.1 });
    expect(diagnosis!.causes[0]!.kind).toBe(CAUSE[fault]);
  });
  it('puts a series resistor into the whole, and not into a coil', () => {
    const withResistor: Channel = { ...BASS, wiring: { network: 'A1|A2|B1|B2', seriesResistorOhm: 2 } };
    const whole = (channel: Channel): number => probedOhm(channel, 'seed', { kind: 'whole', fault: 'none' });
    expect(whole(withResistor) - whole(BASS)).toBeCloseTo(2, 12);
    expect(probedOhm(withResistor, 'seed', { kind: 'coil', name: 'A1' })).toBeLessThan(4);
  });
  it('reads nothing where there is no such coil or no wiring yet', () => {
    const { wiring, ...unwired } = BASS;
    expect(wiring).toBeDefined();
    expect(probedOhm(BASS, 'seed', { kind: 'coil', name: 'Z9' })).toBe(Infinity);
    expect(probedOhm(unwired, 'seed', { kind: 'whole', fault: 'none' })).toBe(Infinity);
  });
  it('lies near what the usual ratio of DC resistance says', () => {
    for (const coil of channelCoils(BASS)) {
      expect(coilResistances(BASS, 'x').get(coil.name)! / likelyDcOhm(coil)).toBeGreaterThan(0.95);
      expect(coilResistances(BASS, 'x').get(coil.name)! / likelyDcOhm(coil)).toBeLessThan(1.15);
    }
  });
});
