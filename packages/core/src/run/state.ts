import type { GainAdvice } from '../gain/meter.ts';
import type { Sag } from '../gain/sag.ts';
import type { Finding } from '../findings.ts';
import type { CoilJudgement } from '../loads/judgeCoil.ts';
import type { MeterDiagnosis } from '../loads/meterDiagnosis.ts';
import type { CeilingFigures } from './ceilingState.ts';
import type { FactoryFigures } from './factoryState.ts';
import type { LineReading, LineTrace, LoadTrace, OhmReading, Reading, StepMark, ToneReading, TraceRecord } from './records.ts';

export type StepStatus = 'open' | 'done' | 'stale' | 'out-of-tolerance' | 'stop' | 'skipped';

/** Worst first. */
export const STATUSES_BY_GRAVITY: readonly StepStatus[] = ['stop', 'out-of-tolerance', 'stale', 'open', 'done', 'skipped'];

export interface StepState {
  status: StepStatus;
  findings: Finding[];
  /** the newest valid reading of each kind */
  gain?: { reading: ToneReading; advice?: GainAdvice };
  proof?: ProofFigures;
  /** every coil of the channel, with its newest valid reading */
  coils?: MeteredCoil[];
  whole?: { reading: OhmReading; diagnosis?: MeterDiagnosis };
  ceiling?: CeilingFigures;
  factory?: FactoryFigures;
  /** at the processor */
  line?: { reading?: LineReading; advice?: GainAdvice; trace?: LineTrace };
}

export interface MeteredCoil {
  /** such as A1 */
  name: string;
  /** its letter */
  driver: string;
  driverId: string;
  driverName: string;
  /** from 1 */
  number: number;
  nominalOhm: number;
  reading?: OhmReading;
  judgement?: CoilJudgement;
}

export interface ProofFigures {
  loadedVolt?: number;
  /** at the load, with the tone as played */
  powerWatt?: number;
  /** with a full-scale tone at this gain */
  fullScaleWatt?: number;
  impedanceOhm?: number;
  impedanceRiseRatio?: number;
  sag?: Sag;
  trace?: LoadTrace;
}

export interface RunRecords {
  readings: readonly Reading[];
  traces: readonly TraceRecord[];
  marks: readonly StepMark[];
}

/** The newest of what counts. */
export function newest<T extends { takenAt: string; voidedReason?: string }>(
  items: readonly T[],
  keep: (item: T) => boolean,
): T | undefined {
  return items
    .filter((item) => item.voidedReason === undefined && keep(item))
    .reduce<T | undefined>((best, item) => (best === undefined || item.takenAt >= best.takenAt ? item : best), undefined);
}
