// Held against ngspice 39, which knows nothing of these formulas: decks and results in ../../test/reference,
// made by make_reference.py. Tolerance: 2e-6, the rounding of the simulator's printed figures.
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { hookup } from '../loads/hookup.ts';
import { deliveredPower } from './deliveredPower.ts';
import { sag } from './sag.ts';

interface Circuits {
  sag: {
    unloadedVoltage: number;
    loadOhm: number;
    sourceOhm: number;
    loadedVoltage: number;
    predictLoadOhm: number;
    predictedVolt: number;
  }[];
  hookup: { loadOhm: number; perChannelOhm: number }[];
  delivered: { frequencyHz: number; voltageRms: number; currentRms: number; phaseDeg: number; powerWatt: number; nominalOhm: number }[];
}

const circuits = JSON.parse(readFileSync(new URL('../../test/reference/results/circuits.json', import.meta.url), 'utf8')) as Circuits;
const near = (got: number, wanted: number, relative = 2e-6): void => expect(Math.abs(got / wanted - 1)).toBeLessThan(relative);

describe('against the circuit simulator', () => {
  it.each(circuits.sag)('sag of $unloadedVoltage V into $loadOhm ohm', (c) => {
    const { unloadedVoltage, loadedVoltage, loadOhm, predictLoadOhm } = c;
    const result = sag({ unloadedVoltage, loadedVoltage, loadOhm, predictLoadsOhm: [predictLoadOhm] });
    // The resistance rests on a small difference of printed figures, so it is known less well.
    near(result.sourceOhm, c.sourceOhm, 1e-5);
    near(result.predictions[0]!.voltageRms, c.predictedVolt);
    near(result.predictions[0]!.powerWatt, c.predictedVolt ** 2 / predictLoadOhm, 4e-6);
  });

  it.each(circuits.hookup)('a channel bridged into $loadOhm ohm works into $perChannelOhm ohm', ({ loadOhm, perChannelOhm }) => {
    near(hookup({ mode: 'bridged', loadOhm }).perChannelOhm, perChannelOhm);
  });

  it.each(circuits.delivered)('power into a driver at $frequencyHz Hz', ({ voltageRms, currentRms, phaseDeg, powerWatt, nominalOhm }) => {
    const byClamp = deliveredPower({ voltageRms, currentRms, phaseDeg, nominalOhm });
    near(byClamp.powerWatt, powerWatt);
    near(byClamp.apparentVoltAmpere, voltageRms * currentRms);
    near(byClamp.impedanceRiseRatio!, voltageRms / currentRms / nominalOhm);
    near(deliveredPower({ voltageRms, impedanceOhm: voltageRms / currentRms, phaseDeg }).powerWatt, powerWatt);
  });
});

describe('deliveredPower', () => {
  it('takes a plain load as resistive', () => {
    expect(deliveredPower({ voltageRms: 20, loadOhm: 4 })).toEqual({ powerWatt: 100, apparentVoltAmpere: 100, impedanceOhm: 4 });
  });
  it.each([
    ['load', { voltageRms: 20, loadOhm: 0 }],
    ['current', { voltageRms: 20, currentRms: 0 }],
    ['phase', { voltageRms: 20, impedanceOhm: 4, phaseDeg: 200 }],
    ['voltage', { voltageRms: -1, loadOhm: 4 }],
  ])('refuses a %s out of bounds', (words, input) => {
    expect(() => deliveredPower(input)).toThrow(words);
  });
});

describe('sag', () => {
  it('refuses a loaded voltage above the unloaded one and points at it', () => {
    expect(() => sag({ unloadedVoltage: 20, loadedVoltage: 21, loadOhm: 4 })).toThrow('must not be above');
  });
  it('refuses a load of 0 ohm among those to predict', () => {
    expect(() => sag({ unloadedVoltage: 20, loadedVoltage: 19, loadOhm: 4, predictLoadsOhm: [2, 0] })).toThrow('above 0 ohm');
  });
  it('is 0 dB where nothing drops', () => {
    expect(sag({ unloadedVoltage: 20, loadedVoltage: 20, loadOhm: 4 })).toEqual({ sourceOhm: 0, dropDb: 0, predictions: [] });
  });
});
