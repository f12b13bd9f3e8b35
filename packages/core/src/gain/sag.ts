import { checkNumbers, CoreError } from '../coreError.ts';
import { voltageRatioDb } from '../levels/decibels.ts';

export interface SagInput {
  unloadedVoltage: number;
  loadedVoltage: number;
  loadOhm: number;
  predictLoadsOhm?: readonly number[];
}

export interface Sag {
  /** output resistance that explains the drop, in ohms */
  sourceOhm: number;
  /** 20 log10(unloaded / loaded), never negative */
  dropDb: number;
  predictions: { loadOhm: number; voltageRms: number; powerWatt: number }[];
}

/**
 * How far an amplifier sags under load, and what it would put into other loads.
 *
 * @throws {CoreError} `INPUT_INVALID` for a voltage or load not above 0, or a loaded voltage above the unloaded one
 * @see Thévenin source: R = load × (unloaded / loaded − 1). Linear: an amplifier that runs into a limit drops more.
 * @example sag({ unloadedVoltage: 36, loadedVoltage: 30, loadOhm: 2 }).sourceOhm // 0.4
 */
export function sag(input: SagInput): Sag {
  checkNumbers(input, {
    unloadedVoltage: { name: 'voltage without load', unit: 'V', above: 0 },
    loadedVoltage: { name: 'voltage with load', unit: 'V', above: 0 },
    loadOhm: { name: 'load', unit: 'ohm', above: 0 },
  });
  const { unloadedVoltage, loadedVoltage, loadOhm, predictLoadsOhm = [] } = input;
  predictLoadsOhm.forEach((ohm, index) => {
    if (Number.isFinite(ohm) && ohm > 0) return;
    throw new CoreError('INPUT_INVALID', [{ pointer: `/predictLoadsOhm/${index}`, message: 'load must be above 0 ohm' }]);
  });
  if (loadedVoltage > unloadedVoltage) {
    throw new CoreError('INPUT_INVALID', [
      {
        pointer: '/loadedVoltage',
        message: 'voltage with load must not be above the voltage without load: check that the gain and the tone stayed as they were',
      },
    ]);
  }
  const sourceOhm = loadOhm * (unloadedVoltage / loadedVoltage - 1);
  return {
    sourceOhm,
    dropDb: Math.max(0, voltageRatioDb(unloadedVoltage, loadedVoltage)),
    predictions: predictLoadsOhm.map((ohm) => {
      const voltageRms = (unloadedVoltage * ohm) / (ohm + sourceOhm);
      return { loadOhm: ohm, voltageRms, powerWatt: voltageRms ** 2 / ohm };
    }),
  };
}
