// Loads behind passive parts held against ngspice 39 (AC analysis; decks and results in ../../test/reference, made by
// make_branches.py). Tolerance: 6e-6 of the size, the rounding of the simulator's printed figures.
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { partsAsPrinted } from '../crossovers/passive.ts';
import { magnitude } from '../numerics/complex.ts';
import { coilSharesAt, networkImpedanceAt, networkLoad, ratedVoltAt, seenByOhmmeter } from './branches.ts';
import { coilsOf, type DriverSpec, type LoadCoil } from './drivers.ts';
import { diagnoseReading } from './meterDiagnosis.ts';
import { networkText, parseNetwork, type Network } from './network.ts';
import { planLoads } from './planLoads.ts';

interface Case {
  name: string;
  network: string;
  coils: LoadCoil[];
  answers: { hertz: number; re: number; im: number; watts: number[] }[];
}
const file = new URL('../../test/reference/results/branches.json', import.meta.url);
const { cases } = JSON.parse(readFileSync(file, 'utf8')) as { cases: Case[] };
const parsed = (text: string, coils: readonly LoadCoil[]): Network => parseNetwork(text, new Set(coils.map(({ name }) => name)));

describe('drivers behind passive parts, against the circuit simulator', () => {
  it.each(cases)('$name: what the amplifier sees and what reaches each coil', ({ network, coils, answers }) => {
    const wired = parsed(network, coils);
    for (const { hertz, re, im, watts } of answers) {
      const ohm = networkImpedanceAt(wired, coils, hertz);
      expect(magnitude({ re: ohm.re - re, im: ohm.im - im })).toBeLessThan(6e-6 * Math.hypot(re, im));
      const shares = coilSharesAt(wired, coils, hertz);
      coils.forEach(({ name }, i) => expect(shares.get(name)!.wattPerSquareVolt).toBeCloseTo(watts[i]!, 6));
    }
  });
});

/** A door with a woofer of 75 W and a tweeter of 40 W behind 6.8 µF. */
const DOOR: DriverSpec[] = [
  { name: 'A', coils: 1, coilOhm: 4, ratedPowerWatt: 75 },
  { name: 'B', coils: 1, coilOhm: 4, ratedPowerWatt: 40, branch: { parts: [{ kind: 'highpass', capacitanceFarad: 6.8e-6 }] } },
];
const COILS = coilsOf(DOOR);
const WIRED = parsed('A1|B1', COILS);

describe('a woofer and a tweeter on one pair of terminals', () => {
  it('are the load of one of them, each playing where the other hardly draws', () => {
    const load = networkLoad(WIRED, COILS);
    expect(load.nominalOhm).toBe(4);
    expect(load.lowestOhm).toBeGreaterThan(0.8 * 4);
    expect(networkLoad(WIRED, coilsOf(DOOR.map(({ branch: _branch, ...plain }) => plain))).nominalOhm).toBe(2);
  });
  it.each([
    ['a tweeter behind 4.7 µF', 'A1', [{ ohm: 4, farad: 4.7e-6 }], 4],
    ['a tweeter behind 2.2 µF', 'A1', [{ ohm: 4, farad: 2.2e-6 }], 4],
    ['a tweeter of 6 ohm behind 10 µF', 'A1', [{ ohm: 6, farad: 10e-6 }], 6],
    [
      'two of them side by side, each behind its own',
      'A1|B1',
      [
        { ohm: 4, farad: 4.7e-6 },
        { ohm: 4, farad: 4.7e-6 },
      ],
      2,
    ],
    [
      'two of them in a row',
      'A1+B1',
      [
        { ohm: 4, farad: 4.7e-6 },
        { ohm: 4, farad: 4.7e-6 },
      ],
      8,
    ],
  ])('%s: no part in series makes the nominal load higher', (_, network, drivers, nominalOhm) => {
    const coils = coilsOf(
      drivers.map(({ ohm, farad }, i) => ({
        name: 'AB'[i]!,
        coils: 1,
        coilOhm: ohm,
        branch: { parts: [{ kind: 'highpass', capacitanceFarad: farad }] },
      })),
    );
    expect(networkLoad(parsed(network, coils), coils).nominalOhm).toBeCloseTo(nominalOhm, 6);
  });
  it.each([1, 2] as const)('behind a bought network of order %d are what its label says, whatever inductance they have', (order) => {
    const branch = (kind: 'lowpass' | 'highpass') => ({ parts: [partsAsPrinted(kind, 3500, order, 4)], isLabelled: true });
    const coils = coilsOf([
      { ...DOOR[0]!, inductanceHenry: 0.0005, branch: branch('lowpass') },
      { ...DOOR[1]!, branch: branch('highpass') },
    ]);
    expect(networkLoad(WIRED, coils)).toMatchObject({ nominalOhm: 4 });
    expect(networkLoad(WIRED, coils).lowestOhm).toBeGreaterThan(0.8 * 4);
  });
  it('are set by the woofer: the tone hardly reaches the tweeter', () => {
    // At the woofer's worst frequency, whatever its inductance takes off this tone.
    expect(ratedVoltAt(WIRED, COILS, 1000)).toBeCloseTo(Math.sqrt(75 * 4), 9);
    const inductive = coilsOf([{ ...DOOR[0]!, inductanceHenry: 0.0008 }, DOOR[1]!]);
    expect(ratedVoltAt(WIRED, inductive, 1000)).toBeCloseTo(Math.sqrt(75 * 4), 9);
    // Where neither plays the tone, each counts as if it got all of it.
    const tweeters = COILS.slice(1);
    expect(ratedVoltAt(parsed('B1', tweeters), tweeters, 1000)).toBeCloseTo(Math.sqrt(40 * 4), 9);
  });
  it('read as the woofer alone, and the planner says so', () => {
    const { wirings } = planLoads({
      drivers: DOOR,
      amplifier: { mode: 'stereo', ratings: [{ mode: 'stereo', loadOhm: 4, powerWatt: 75 }], minimumStereoOhm: 4 },
    });
    expect(wirings.map(({ network, loadOhm, hookup }) => [network, loadOhm, hookup.verdict])).toEqual([['A1|B1', 4, 'fits']]);
    expect(wirings[0]!.meterOhm.low).toBeCloseTo(2.6, 9);
    expect(wirings[0]!.meterOhm.high).toBeCloseTo(3.8, 9);
    // In its own range each has the whole voltage.
    expect(wirings[0]!.drivers.map(({ powerWatt }) => powerWatt)).toEqual([75, 75]);
    expect(wirings[0]!.usableWatt).toBeCloseTo(75, 6);
  });
  const diagnose = (meterOhm: number, coils = COILS, network = 'A1|B1') =>
    diagnoseReading({ coils, intendedNetwork: network, meterOhm, leadOhm: 0, otherWirings: () => [] });
  it('read 3.2 ohm, which is as intended and no driver missing', () => {
    const { verdict, causes, notes } = diagnose(3.2);
    expect([verdict, causes[0]!.kind]).toEqual(['matches', 'as-intended']);
    expect(notes.join(' ')).toContain('B sits behind a capacitor');
  });
  it('have no path through a capacitor alone, and a path there is a fault', () => {
    const tweeter = COILS.slice(1);
    expect(diagnose(1e6, tweeter, 'B1').verdict).toBe('matches');
    expect(diagnose(3.2, tweeter, 'B1')).toMatchObject({ verdict: 'short', causes: [{ kind: 'short' }] });
  });
  it('leave a row open where one of it sits behind a capacitor', () => {
    expect(seenByOhmmeter(parsed('A1+B1', COILS), COILS)).toBeUndefined();
    expect(networkText(seenByOhmmeter(WIRED, COILS)!)).toBe('A1');
  });
});
