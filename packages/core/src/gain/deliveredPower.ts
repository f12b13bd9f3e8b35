import { checkNumbers, CoreError, type Fault } from '../coreError.ts';

/** One of three forms: voltage into a resistive load; voltage and clamp current; voltage and impedance with phase. */
export type DeliveredPowerInput = { voltageRms: number; nominalOhm?: number } & (
  | { loadOhm: number }
  | { currentRms: number; phaseDeg?: number }
  | { impedanceOhm: number; phaseDeg: number }
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

/** What was given of a measurement of power, of whichever form. */
export interface PowerMeasurement {
  voltageRms: number;
  nominalOhm?: number;
  loadOhm?: number;
  currentRms?: number;
  impedanceOhm?: number;
  phaseDeg?: number;
}

/**
 * The one of the three forms that was given; fields of two of them contradict each other.
 *
 * @throws {CoreError} `INPUT_INVALID` where none was given, or two, or a phase where none belongs or is missing
 */
export function deliveredPowerForm(given: PowerMeasurement): DeliveredPowerInput {
  const { voltageRms, loadOhm, currentRms, impedanceOhm, phaseDeg, nominalOhm } = given;
  const shared = { voltageRms, ...(nominalOhm === undefined ? {} : { nominalOhm }) };
  const faults: Fault[] = [];
  const fields = Object.entries({ loadOhm, currentRms, impedanceOhm }).filter(([, value]) => value !== undefined);
  if (fields.length === 0)
    faults.push({ pointer: '/loadOhm', message: 'give the load, or the clamp current, or the impedance with its phase' });
  for (const [field] of fields.slice(1)) faults.push({ pointer: `/${field}`, message: `give ${fields[0]?.[0]} or ${field}, not both` });
  if (loadOhm !== undefined && phaseDeg !== undefined)
    faults.push({ pointer: '/phaseDeg', message: 'a phase goes with a current or an impedance, not with a load' });
  if (impedanceOhm !== undefined && phaseDeg === undefined)
    faults.push({ pointer: '/phaseDeg', message: 'phase is missing: an impedance needs it' });
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);
  if (loadOhm !== undefined) return { ...shared, loadOhm };
  if (currentRms !== undefined) return { ...shared, currentRms, ...(phaseDeg === undefined ? {} : { phaseDeg }) };
  return { ...shared, impedanceOhm: impedanceOhm ?? 0, phaseDeg: phaseDeg ?? 0 };
}
