import type { Meter } from '../gain/meter.ts';
import type { TraceAnalysis } from '../traces/analyseTrace.ts';
import type { CurvePoint, HouseRules } from './chain.ts';
import type { AirConditions, Conditions, LineConditions, LoadConditions, OhmConditions } from './conditions.ts';

/** One measured figure: never changed, only voided with a reason. */
export interface Reading<C extends Conditions = Conditions> {
  id: string;
  stepId: string;
  /** what was read, as the step's kind names it: "gain-voltage" */
  kind: string;
  /** volts or amperes RMS, or ohms as shown, leads and all */
  value: number;
  /** place value of the last digit typed */
  resolution: number;
  conditions: C;
  /** ISO 8601 */
  takenAt: string;
  voidedReason?: string;
}

/** A figure read at an amplifier's terminals while a tone played. */
export type LoadReading = Reading<LoadConditions>;
export type OhmReading = Reading<OhmConditions>;
/** A voltage at line level, while a tone played. */
export type LineReading = Reading<LineConditions>;

export const isOhmReading = (reading: Reading): reading is OhmReading => reading.conditions.at === 'ohm';
export const isLineReading = (reading: Reading): reading is LineReading => reading.conditions.at === 'line';
export const isLoadReading = (reading: Reading): reading is LoadReading => reading.conditions.at === 'load';

/** What a capture can be taken under. */
export type CaptureConditions = LoadConditions | LineConditions | AirConditions;

export interface TraceRecord<C extends CaptureConditions = CaptureConditions> {
  id: string;
  stepId: string;
  fileName: string;
  /** which channel of the capture the verdict speaks of */
  channelIndex: number;
  /** of its bytes, where they are stored: the same file is the same capture */
  sha256?: string;
  analysis: TraceAnalysis;
  conditions: C;
  takenAt: string;
  voidedReason?: string;
}

/** A capture at the amplifier's terminals. */
export type LoadTrace = TraceRecord<LoadConditions>;
/** A capture at the source's or the processor's output. */
export type LineTrace = TraceRecord<LineConditions>;

export const isLoadTrace = (trace: TraceRecord): trace is LoadTrace => trace.conditions.at === 'load';
export const isLineTrace = (trace: TraceRecord): trace is LineTrace => trace.conditions.at === 'line';

/** What the tuner ticked or decided at a step. */
export interface StepMark {
  stepId: string;
  checks: string[];
  /** canonical key of what the ticks were made for; ticks for something else no longer count */
  basis?: string;
  /** the same as it was told then */
  basisWords?: string;
  /** what a ticked control stands at */
  values?: Record<string, string>;
  skippedReason?: string;
}

export interface TuneSettings {
  /** what is read off the simulated bench counts: nothing here speaks of a real car */
  isPractice?: boolean;
  rules: HouseRules;
  meter: Meter;
  microphone?: Microphone;
  /** what a response is wanted to be where its channel says nothing; level where nothing is said */
  houseCurve?: CurvePoint[];
}

/** The measuring microphone, as its calibration says. */
export interface Microphone {
  /** what it shows above the truth, frequencies rising: taken off every recorded response */
  calibration?: CurvePoint[];
}

/** Everything that was written down at a vehicle. */
export interface RunRecords {
  readings: readonly Reading[];
  traces: readonly TraceRecord[];
  marks: readonly StepMark[];
}

/** The newest of what counts; of two taken at one time the later in the list. */
export function newest<T extends { takenAt: string; voidedReason?: string }>(
  items: readonly T[],
  keep: (item: T) => boolean = () => true,
): T | undefined {
  let best: T | undefined;
  for (const item of items)
    if (item.voidedReason === undefined && (best === undefined || item.takenAt >= best.takenAt) && keep(item)) best = item;
  return best;
}

/** Oldest first; what was taken at one time keeps its order. */
export const byTime = (a: { takenAt: string }, b: { takenAt: string }): number =>
  a.takenAt < b.takenAt ? -1 : a.takenAt > b.takenAt ? 1 : 0;
