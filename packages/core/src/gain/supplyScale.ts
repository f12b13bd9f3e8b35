import { checkNumbers } from '../coreError.ts';
import { voltageRatioDb } from '../levels/decibels.ts';

export interface SupplyScaleInput {
  /** RMS of the largest clean sine at `atSupplyVolt` */
  cleanVolt: number;
  /** at the amplifier's terminals, when that was so */
  atSupplyVolt: number;
  /** what is asked after */
  supplyVolt: number;
  /** holds its rails by itself */
  isRegulated: boolean;
  /** RMS of a full-scale tone at the gain as it stands */
  gainVolt?: number;
}

export interface SupplyScale {
  cleanVolt: number;
  /** how far the gain as it stands lies above that, in dB; below 0 it is clean */
  overDb?: number;
}

/**
 * The largest clean voltage at another supply.
 *
 * An unregulated supply transforms the car's voltage by a fixed ratio, so its rails follow it; a regulated one holds them.
 * Common practice, no source; what wires and transistors lose besides is left out.
 *
 * @throws {CoreError} `INPUT_INVALID` for voltages not above 0
 */
export function cleanAtSupply(input: SupplyScaleInput): SupplyScale {
  checkNumbers(input, {
    cleanVolt: { name: 'clean voltage', unit: 'V', above: 0 },
    atSupplyVolt: { name: 'supply', unit: 'V', above: 0 },
    supplyVolt: { name: 'other supply', unit: 'V', above: 0 },
  });
  const { atSupplyVolt, supplyVolt, isRegulated, gainVolt } = input;
  const cleanVolt = isRegulated ? input.cleanVolt : (input.cleanVolt * supplyVolt) / atSupplyVolt;
  return { cleanVolt, ...(gainVolt === undefined || gainVolt <= 0 ? {} : { overDb: voltageRatioDb(gainVolt, cleanVolt) }) };
}
