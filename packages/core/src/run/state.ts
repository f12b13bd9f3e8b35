import type { CrossoverFit, CrossoverFitInput } from '../crossovers/crossoverFit.ts';
import type { SuspectSetting } from '../crossovers/explainVoltages.ts';
import type { Filter } from '../crossovers/filters.ts';
import type { ProofPoints } from '../crossovers/proofPoints.ts';
import type { GainAdvice } from '../gain/meter.ts';
import type { Sag } from '../gain/sag.ts';
import type { Finding } from '../findings.ts';
import type { CoilJudgement } from '../loads/judgeCoil.ts';
import type { MeterDiagnosis } from '../loads/meterDiagnosis.ts';
import type { EyeVerdict, SourceCeiling } from '../source/sourceCeiling.ts';
import type { SourceOutput } from '../source/sourceControls.ts';
import type { OutputComparison } from '../sweeps/compareSweeps.ts';
import type { TraceVerdict } from '../traces/analyseTrace.ts';
import type { ActiveFilter, SettingsCase } from './chain.ts';
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
  crossover?: CrossoverFigures;
}

/** Voltages of one filter over frequency, and what they say. */
export interface CrossoverFigures extends ProofPoints {
  proof: FilterProof;
  /** one more, where two filters fit alike: there they differ most */
  tellingHz?: number;
  /** the first of these that was not read yet */
  nextHz?: number;
  /** other settings that would explain the voltages */
  suspects: SuspectSetting[];
}

/** One voltage of a proof, or why it does not count. */
export interface ProofPoint {
  frequencyHz: number;
  /** as read, the other filters of the channel not taken off */
  voltageRms: number;
  readingId?: string;
  leftOut?: 'meter' | 'other-filter' | 'nothing' | 'other-level';
}

/** What was measured of one filter since its dial was last touched. */
export interface FilterProof {
  filter: ActiveFilter;
  series: number;
  from: 'voltages' | 'sweep';
  points: ProofPoint[];
  /** of the points that count, the other filters taken off */
  fit?: CrossoverFit;
  fitPoints: CrossoverFitInput['points'];
  /** the voltages that there are were read at another setting */
  outdated?: Filter;
  /** a capture without a sweep in it */
  failedSweep?: string;
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

/** One row of a volume table: the newest voltage and the newest capture of a step of the volume. */
export interface CeilingRow {
  step: number;
  voltageRms?: number;
  thdPercent?: number;
  eye?: EyeVerdict;
  /** of the capture, where there is one */
  verdict?: TraceVerdict;
  readingId?: string;
  traceId?: string;
}

/** The volume table of one settings case with one tone, and the clean ceiling in it. */
export interface CeilingCurve {
  settingsCase: SettingsCase;
  output: SourceOutput;
  toneHz: number;
  toneLevelDbfs: number;
  rows: CeilingRow[];
  /** with the tone as it is recorded; undefined while there are no rows to judge */
  ceiling?: SourceCeiling;
  /** the same for a full-scale tone: lower where the tone is recorded lower */
  fullScaleStep?: number;
  /** full-scale RMS at that step */
  fullScaleVolt?: number;
  sureness?: string;
}

export interface CeilingFigures {
  /** of this output, the used cases and those that are not */
  curves: CeilingCurve[];
  /** the lowest ceiling among the used cases of all outputs */
  working?: { step: number; limitedBy: CeilingCurve; complete: boolean };
  /** readings that no longer count, and why */
  staleReasons: string[];
}

export interface FactoryFigures {
  comparisons: OutputComparison[];
  /** captures in which no sweep was found, with the reason */
  failed: { traceId: string; fileName: string; reason: string }[];
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
