import * as contract from '@yield/contract';
import { validateBody, validateWith, type Validation } from '@yield/contract/validate';
import * as core from '@yield/core';
import type { Static, TSchema } from 'typebox';

/** A calculation over HTTP: its body's schema, and what works it out. */
export interface Calculation {
  check: (body: unknown) => Validation<unknown>;
  /** @throws {CoreError} for what the schema cannot see */
  run: (body: never) => unknown;
}

/** @param faults - what the schema cannot see, told together with what it sees */
const calculation = <T extends TSchema>(
  schema: T,
  run: (body: Static<T>) => unknown,
  faults?: (body: Static<T>) => readonly core.Fault[],
): Calculation => ({
  check: (body) => (faults === undefined ? validateBody(schema, body) : validateWith(schema, faults, body)),
  run,
});

/** Every calculation that takes JSON and answers soon, by its address below /api/v1/calc. */
export const CALCULATIONS = {
  hookup: calculation(contract.HookupRequest, core.hookup),
  'load-network': calculation(contract.LoadNetworkRequest, core.loadNetwork),
  'load-options': calculation(contract.LoadOptionsRequest, core.loadOptions),
  'meter-diagnosis': calculation(contract.MeterDiagnosisRequest, core.meterDiagnosis),
  'source-ceiling': calculation(contract.SourceCeilingRequest, core.sourceCeiling),
  'crossover-response': calculation(contract.CrossoverResponseRequest, core.crossoverResponse),
  'crossover-fit': calculation(contract.CrossoverFitRequest, core.crossoverFit),
  capacitor: calculation(contract.CapacitorRequest, core.capacitor),
  spl: calculation(contract.SplRequest, core.spl),
  'target-voltage': calculation(contract.TargetVoltageRequest, core.targetVoltage),
  'delivered-power': calculation(contract.DeliveredPowerRequest, (body) => core.deliveredPower(core.deliveredPowerForm(body))),
  sag: calculation(contract.SagRequest, core.sag),
  'power-limit': calculation(contract.PowerLimitRequest, core.powerLimit),
  overdrive: calculation(contract.OverdriveRequest, core.overdrive),
  impedance: calculation(contract.ImpedanceRequest, core.driverImpedance),
  'relative-phase': calculation(contract.RelativePhaseRequest, core.relativePhase),
  delay: calculation(contract.DelayRequest, core.delays),
  'crossover-sum': calculation(contract.CrossoverSumRequest, core.crossoverSum),
  'polarity-by-ear': calculation(contract.PolarityByEarRequest, core.polarityByEar),
  'response-average': calculation(contract.ResponseAverageRequest, core.responseAverage),
  'equaliser-response': calculation(contract.EqualiserResponseRequest, core.equaliserResponse, core.equaliserResponseFaults),
} satisfies Record<string, Calculation>;

export type CalculationName = keyof typeof CALCULATIONS;
