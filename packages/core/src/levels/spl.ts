import { checkNumbers, CoreError } from '../coreError.ts';
import { voltageRatioDb, powerRatioDb } from './decibels.ts';

export interface SplInput {
  sensitivityDb: number;
  /** at one watt or at 2.83 V, each at one metre */
  sensitivityAt: '1W' | '2.83V';
  /** of one driver; wanted with 2.83 V and with a voltage */
  nominalOhm?: number;
  /** shared by all drivers */
  powerWatt?: number;
  /** what each driver sees, wired in parallel */
  voltageRms?: number;
  drivers?: number;
  distanceMetre?: number;
}

export interface Spl {
  splDb: number;
  perDriverWatt: number;
}

/** RMS volts into 8 ohm for one watt; sqrt(8), written 2.83 on data sheets and taken as written. */
const SENSITIVITY_VOLT = 2.83;

/**
 * Sound pressure of identical drivers working together in phase in the open, as the data sheet's sensitivity promises it.
 *
 * @returns decibels at the distance, and the power in each driver
 * @throws {CoreError} `INPUT_INVALID` for figures out of bounds, a nominal impedance that is wanted and missing, no power or both kinds
 * @see in-phase pressures add, so n drivers give 20 log n at the same voltage, which is 10 log n at the same total power; 20 log r with distance
 */
export function spl(input: SplInput): Spl {
  checkNumbers(input, {
    sensitivityDb: { name: 'sensitivity', unit: 'dB', atLeast: 0, atMost: 200 },
    nominalOhm: { name: 'nominal impedance', unit: 'ohm', above: 0 },
    powerWatt: { name: 'power', unit: 'W', above: 0 },
    voltageRms: { name: 'voltage', unit: 'V', above: 0 },
    drivers: { name: 'number of drivers', atLeast: 1, atMost: 1000 },
    distanceMetre: { name: 'distance', unit: 'm', above: 0 },
  });
  const { sensitivityDb, sensitivityAt, nominalOhm, drivers = 1, distanceMetre = 1 } = input;
  const totalWatt = totalPower(input);
  // At 2.83 V a driver of 4 ohm takes 2 W: its figure for one watt lies 3 dB lower.
  const oneWattDb = sensitivityAt === '1W' ? sensitivityDb : sensitivityDb - powerRatioDb(SENSITIVITY_VOLT ** 2 / ohmOf(nominalOhm), 1);
  return {
    splDb: oneWattDb + powerRatioDb(totalWatt, 1) + powerRatioDb(drivers, 1) - voltageRatioDb(distanceMetre, 1),
    perDriverWatt: totalWatt / drivers,
  };
}

function totalPower({ powerWatt, voltageRms, nominalOhm, drivers = 1 }: SplInput): number {
  if (powerWatt !== undefined && voltageRms !== undefined) throw fault('/voltageRms', 'give the power or the voltage, not both');
  if (powerWatt !== undefined) return powerWatt;
  if (voltageRms === undefined) throw fault('/powerWatt', 'power is missing: give it, or the voltage that each driver sees');
  return (drivers * voltageRms ** 2) / ohmOf(nominalOhm);
}

function ohmOf(nominalOhm: number | undefined): number {
  if (nominalOhm === undefined) throw fault('/nominalOhm', 'nominal impedance is missing: 2.83 V or a voltage says nothing without it');
  return nominalOhm;
}

const fault = (pointer: string, message: string): CoreError => new CoreError('INPUT_INVALID', [{ pointer, message }]);
