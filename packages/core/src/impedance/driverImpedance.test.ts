// Held against ngspice on the circuit drawn part by part: decks and results in ../../test/reference, made by make_reference.py.
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { driverImpedance, type DriverModel, type Enclosure, type ImpedancePoint } from './driverImpedance.ts';

interface Case {
  name: string;
  driver: DriverModel;
  enclosure?: Enclosure;
  points: (ImpedancePoint & { phaseDeg: number })[];
}
const { cases } = JSON.parse(readFileSync(new URL('../../test/reference/results/drivers.json', import.meta.url), 'utf8')) as {
  cases: Case[];
};
const DRIVER: DriverModel = { dcOhm: 3.4, resonanceHz: 34, qMechanical: 5.2, qElectrical: 0.55 };
const fault = (input: Parameters<typeof driverImpedance>[0]): string => {
  try {
    driverImpedance(input);
    return '';
  } catch (error) {
    return (error as { faults: { pointer: string }[] }).faults[0]!.pointer;
  }
};

describe('a driver’s impedance', () => {
  it.each(cases)('$name agrees with the circuit simulator to a thousandth', ({ driver, enclosure, points }) => {
    const frequenciesHz = points.map(({ frequencyHz }) => frequencyHz);
    const { magnitudeOhm, phaseDeg } = driverImpedance({ driver, ...(enclosure === undefined ? {} : { enclosure }), frequenciesHz });
    points.forEach((point, i) => {
      expect(Math.abs(magnitudeOhm[i]! / point.magnitudeOhm - 1)).toBeLessThan(1e-3);
      expect(Math.abs(phaseDeg[i]! - point.phaseDeg)).toBeLessThan(0.05);
    });
  });

  it('peaks at resonance by dcOhm (1 + Qm / Qe), where no inductance shifts it', () => {
    // R. H. Small (1972): the peak of the motional impedance lies at resonance.
    const { peaks } = driverImpedance({ driver: DRIVER, frequenciesHz: [34] });
    expect(peaks).toHaveLength(1);
    expect(peaks[0]!.frequencyHz).toBeCloseTo(34, 6);
    expect(peaks[0]!.magnitudeOhm).toBeCloseTo(3.4 * (1 + 5.2 / 0.55), 6);
  });
  it('has two peaks in a ported box and its lowest point between them at the tuning', () => {
    const enclosure: Enclosure = { kind: 'ported', complianceRatio: 2, tuningHz: 32 };
    const { peaks, minimum, magnitudeOhm, phaseDeg } = driverImpedance({ driver: DRIVER, enclosure, frequenciesHz: [32] });
    expect(peaks).toHaveLength(2);
    expect(minimum!.frequencyHz).toBeCloseTo(32, 6);
    expect([magnitudeOhm[0], phaseDeg[0]]).toEqual([3.4, 0]);
    // The product of both peaks is resonance times tuning (Small, 1973).
    expect(Math.sqrt(peaks[0]!.frequencyHz * peaks[1]!.frequencyHz)).toBeCloseTo(Math.sqrt(34 * 32), 3);
  });
  it('finds one summit or two, whatever the figures', () => {
    const q = fc.double({ min: 0.2, max: 40, noNaN: true });
    fc.assert(
      fc.property(
        q,
        fc.double({ min: 0.2, max: 2, noNaN: true }),
        fc.double({ min: 0.3, max: 8, noNaN: true }),
        fc.double({ min: 20, max: 80, noNaN: true }),
        (qMechanical, qElectrical, complianceRatio, tuningHz) => {
          const driver = { ...DRIVER, qMechanical, qElectrical };
          const count = (enclosure?: Enclosure): number =>
            driverImpedance({ driver, ...(enclosure === undefined ? {} : { enclosure }), frequenciesHz: [50] }).peaks.length;
          expect(count()).toBe(1);
          expect(count({ kind: 'sealed', complianceRatio })).toBe(1);
          expect(count({ kind: 'ported', complianceRatio, tuningHz })).toBe(2);
        },
      ),
      { seed: 4620, numRuns: 60 },
    );
  });
  it('gives power and current at a voltage, and the rise against nominal', () => {
    const { riseRatio, powerWatt, currentAmpere, magnitudeOhm, phaseDeg } = driverImpedance({
      driver: DRIVER,
      frequenciesHz: [20, 34],
      nominalOhm: 4,
      voltageRms: 20,
    });
    expect(riseRatio![1]).toBeCloseTo(magnitudeOhm[1]! / 4, 12);
    expect(currentAmpere![0]).toBeCloseTo(20 / magnitudeOhm[0]!, 12);
    expect(powerWatt![0]).toBeCloseTo(((20 * 20) / magnitudeOhm[0]!) * Math.cos((phaseDeg[0]! * Math.PI) / 180), 9);
  });
  it('leaves the lowest point out where the only peak lies above 1 kHz', () => {
    expect(driverImpedance({ driver: { ...DRIVER, resonanceHz: 1500 }, frequenciesHz: [1500] }).minimum).toBeUndefined();
  });
  it.each([
    ['/driver/dcOhm', { driver: { ...DRIVER, dcOhm: 0 }, frequenciesHz: [50] }],
    ['/enclosure/complianceRatio', { driver: DRIVER, enclosure: { kind: 'sealed', complianceRatio: -1 }, frequenciesHz: [50] } as const],
    ['/frequenciesHz/1', { driver: DRIVER, frequenciesHz: [50, 0] }],
    ['/nominalOhm', { driver: DRIVER, frequenciesHz: [50], nominalOhm: 0 }],
  ])('refuses what cannot be, at %s', (pointer, input) => {
    expect(fault(input)).toBe(pointer);
  });
});
