import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CoreError } from '../coreError.ts';
import { powerRatioDb, voltageFactor, voltageRatioDb } from '../levels/decibels.ts';
import { targetVoltage } from './targetVoltage.ts';

// Source: P = V² / R and the definition of the decibel. Tolerance: rounding of doubles.
describe('targetVoltage', () => {
  it.each([
    [{ powerWatt: 100, loadOhm: 4 }, 20, 20, 0],
    [{ powerWatt: 500, loadOhm: 2, toneLevelDbfs: -5 }, 31.622776602, 17.7827941, 0],
    [{ powerWatt: 200, loadOhm: 4, toneLevelDbfs: -10, overlapDb: 5 }, 28.284271247, 15.905414575, 5],
    // Shuts out an overlap that drives the tone over full scale: −3 dBFS leaves room for 3 dB.
    [{ powerWatt: 150, loadOhm: 3, toneLevelDbfs: -3, overlapDb: 10, headroomDb: 1 }, 18.906287463, 18.906287463, 3],
  ])('%j: full scale %d V, set %d V', (input, fullScale, setting, overlap) => {
    const result = targetVoltage(input);
    expect(result.fullScaleVoltage).toBeCloseTo(fullScale, 8);
    expect(result.settingVoltage).toBeCloseTo(setting, 8);
    expect(result.overlapDb).toBe(overlap);
    expect(result.powerAtSettingWatt).toBeCloseTo(result.settingVoltage ** 2 / input.loadOhm, 9);
  });

  it.each([
    ['/powerWatt', { powerWatt: 0, loadOhm: 4 }],
    ['/loadOhm', { powerWatt: 100, loadOhm: 0 }],
    ['/loadOhm', { powerWatt: 100, loadOhm: NaN }],
    ['/toneLevelDbfs', { powerWatt: 100, loadOhm: 4, toneLevelDbfs: 0.1 }],
    ['/overlapDb', { powerWatt: 100, loadOhm: 4, overlapDb: -1 }],
    ['/headroomDb', { powerWatt: 100, loadOhm: 4, headroomDb: -1 }],
  ])('refuses %s in %j', (pointer, input) => {
    expect(() => targetVoltage(input)).toThrow(CoreError);
    try {
      targetVoltage(input);
    } catch (error) {
      expect((error as CoreError).faults.map((fault) => fault.pointer)).toEqual([pointer]);
    }
  });

  it('reports every fault at once, in words', () => {
    try {
      targetVoltage({ powerWatt: -1, loadOhm: 0 });
      expect.unreachable();
    } catch (error) {
      expect((error as CoreError).faults).toEqual([
        { pointer: '/powerWatt', message: 'power must be above 0 W' },
        { pointer: '/loadOhm', message: 'load must be above 0 ohm' },
      ]);
    }
  });

  const watt = fc.double({ min: 0.1, max: 1e4, noNaN: true });
  const ohm = fc.double({ min: 0.1, max: 100, noNaN: true });
  const level = fc.double({ min: -40, max: 0, noNaN: true });

  it('never sets above full scale, and overlap raises the setting by just its decibels', () => {
    fc.assert(
      fc.property(watt, ohm, level, fc.double({ min: 0, max: 30, noNaN: true }), (powerWatt, loadOhm, toneLevelDbfs, overlapDb) => {
        const without = targetVoltage({ powerWatt, loadOhm, toneLevelDbfs });
        const overlapped = targetVoltage({ powerWatt, loadOhm, toneLevelDbfs, overlapDb });
        expect(overlapped.settingVoltage).toBeLessThanOrEqual(overlapped.fullScaleVoltage * (1 + 1e-12));
        expect(voltageRatioDb(overlapped.settingVoltage, without.settingVoltage)).toBeCloseTo(overlapped.overlapDb, 8);
      }),
      { seed: 4620 },
    );
  });

  it('doubling the power is 3.01 dB at any load', () => {
    fc.assert(
      fc.property(watt, ohm, (powerWatt, loadOhm) => {
        const once = targetVoltage({ powerWatt, loadOhm });
        const twice = targetVoltage({ powerWatt: 2 * powerWatt, loadOhm });
        expect(voltageRatioDb(twice.settingVoltage, once.settingVoltage)).toBeCloseTo(3.0103, 4);
        expect(powerRatioDb(twice.powerAtSettingWatt, once.powerAtSettingWatt)).toBeCloseTo(3.0103, 4);
      }),
      { seed: 4620 },
    );
  });

  it('knows that 6.02 dB is twice the voltage', () => {
    expect(voltageFactor(6.0205999)).toBeCloseTo(2, 6);
  });
});
