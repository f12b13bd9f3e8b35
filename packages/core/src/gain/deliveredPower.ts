import { checkNumbers } from '../coreError.ts';

/** One of three forms: voltage into a resistive load; voltage and clamp current; voltage and impedance with phase. */
export type DeliveredPowerInput = { voltageRms: number; nominalOhm?: number } & (
  { loadOhm: number } | { currentRms: number; phaseDeg?: number } | { impedanceOhm: number; phaseDeg: number }
);

export interface DeliveredPower {
  /** true power, voltage × current × cos(phase); below 0 where the phase exceeds 90 degrees (a clamp the wrong way round) */
  powerWatt: number;
  apparentVoltAmpere: number;
  impedanceOhm: number;
  /** impedance over nominal impedance, where the latter is given */
  impedanceRiseRatio?: number;
}

/**
 * Power that reaches the load.
 *
 * @throws {CoreError} `INPUT_INVALID` for a load, impedance or current not above 0, a negative voltage, a phase outside ±180 degrees
 * @see P = V I cos(phi), |Z| = V / I (AC circuit theory)
 * @example deliveredPower({ voltageRms: 20, loadOhm: 4 }).powerWatt // 100
 */
export function deliveredPower(input: DeliveredPowerInput): DeliveredPower {
  checkNumbers<Record<string, unknown>>(
    { ...input },
    {
      voltageRms: { name: 'voltage', unit: 'V', atLeast: 0 },
      loadOhm: { name: 'load', unit: 'ohm', above: 0 },
      currentRms: { name: 'current', unit: 'A', above: 0 },
      impedanceOhm: { name: 'impedance', unit: 'ohm', above: 0 },
      nominalOhm: { name: 'nominal impedance', unit: 'ohm', above: 0 },
      phaseDeg: { name: 'phase', unit: 'degrees', atLeast: -180, atMost: 180 },
    },
  );
  const { voltageRms, nominalOhm } = input;
  const impedanceOhm = 'loadOhm' in input ? input.loadOhm : 'currentRms' in input ? voltageRms / input.currentRms : input.impedanceOhm;
  const currentRms = 'currentRms' in input ? input.currentRms : voltageRms / impedanceOhm;
  const phaseDeg = 'loadOhm' in input ? 0 : (input.phaseDeg ?? 0);
  const apparentVoltAmpere = voltageRms * currentRms;
  return {
    powerWatt: apparentVoltAmpere * Math.cos((phaseDeg * Math.PI) / 180),
    apparentVoltAmpere,
    impedanceOhm,
    ...(nominalOhm === undefined ? {} : { impedanceRiseRatio: impedanceOhm / nominalOhm }),
  };
}
