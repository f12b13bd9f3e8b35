import type { Filter } from '../crossovers/filters.ts';
import type { Meter } from '../gain/meter.ts';
import type { TraceAnalysis } from '../traces/analyseTrace.ts';
import { DEFAULT_METER_DIGITS_OHM, DEFAULT_METER_PERCENT } from '../loads/meterDiagnosis.ts';
import type { HookupMode } from '../loads/hookup.ts';
import type { EyeVerdict } from '../source/sourceCeiling.ts';
import type { SourceControl, SourceInput } from '../source/sourceControls.ts';
import type { SweepSpec } from '../sweeps/sweepResponse.ts';
import type { HouseRules } from './chain.ts';

/** What held when a voltage, a current or a trace was taken. */
export interface Conditions {
  toneHz: number;
  toneLevelDbfs: number;
  sourceName: string;
  sourceVolume: number;
  load: 'on' | 'off';
  loadOhm: number;
  mode: HookupMode;
  amplifierName: string;
  /** RMS voltage that was wanted then */
  targetVolt?: number;
  supplyVolt?: number;
  sourceInput?: SourceInput;
  /** how the source's controls stood, by the Flat list; left out where that was not ticked */
  sourceSettings?: SourceSettings;
  /** the channel's active filters, and what they take off this tone */
  filters?: FilterConditions;
  /** where one filter was being proved: which, and how it was set */
  filter?: ProvedSetting;
}

export interface FilterConditions {
  words: string;
  /** as they are set, in decibels */
  setDb: number;
  /** as they were measured, where every one that is to be proved was */
  provedDb?: number;
}

/** A filter's setting while its voltages were read. */
export interface ProvedSetting extends Filter {
  /** counts up when the dial was touched and everything is read anew */
  series: number;
}

export type SourceSettings = Partial<Record<SourceControl, string>>;

/** What held when the source's or the processor's own output was looked at: line level, no load. */
export interface LineConditions {
  toneHz: number;
  toneLevelDbfs: number;
  sourceName: string;
  sourceVolume: number;
  sourceInput?: SourceInput;
  sourceSettings?: SourceSettings;
  /** how the source was set on purpose, for its ceiling */
  caseId?: string;
  /** what the scope's picture looked like, where no capture was judged */
  eye?: EyeVerdict;
  processorName?: string;
  targetVolt?: number;
  /** where a sweep was captured instead of a tone */
  sweep?: SweepConditions;
  filter?: ProvedSetting;
}

export interface SweepConditions extends SweepSpec {
  /** what each channel of the capture hangs on, such as "Front left" */
  labels: string[];
}

/** What held when a resistance was read, with everything switched off. */
export interface OhmConditions {
  /** nominal impedance of what the probes sat on, when it was read */
  nominalOhm: number;
  /** of the test leads */
  leadOhm: number;
  meterPercent: number;
  meterDigitsOhm: number;
  /** for one coil: whose it is, and which, from 1 */
  driverId?: string;
  coil?: number;
  /** for the whole wiring */
  network?: string;
}

export type ToneReadingKind = 'gain-voltage' | 'loaded-voltage' | 'clamp-current' | 'filter-voltage';
export type OhmReadingKind = 'coil-resistance' | 'whole-resistance';
export type LineReadingKind = 'source-voltage' | 'output-voltage';
export type ReadingKind = ToneReadingKind | OhmReadingKind | LineReadingKind;

interface ReadingBase {
  id: string;
  stepId: string;
  /** volts or amperes RMS, or ohms as shown, leads and all */
  value: number;
  /** place value of the last digit typed */
  resolution: number;
  /** ISO 8601 */
  takenAt: string;
  voidedReason?: string;
}

/** A figure read while a tone played. */
export interface ToneReading extends ReadingBase {
  kind: ToneReadingKind;
  conditions: Conditions;
}

export interface OhmReading extends ReadingBase {
  kind: OhmReadingKind;
  conditions: OhmConditions;
}

/** A voltage at line level, while a tone played. */
export interface LineReading extends ReadingBase {
  kind: LineReadingKind;
  conditions: LineConditions;
}

/** One measured figure: never changed, only voided with a reason. */
export type Reading = ToneReading | OhmReading | LineReading;

export const OHM_READING_KINDS: readonly OhmReadingKind[] = ['coil-resistance', 'whole-resistance'];
export const LINE_READING_KINDS: readonly LineReadingKind[] = ['source-voltage', 'output-voltage'];

export const isOhmReading = (reading: Reading): reading is OhmReading =>
  (OHM_READING_KINDS as readonly ReadingKind[]).includes(reading.kind);
export const isLineReading = (reading: Reading): reading is LineReading =>
  (LINE_READING_KINDS as readonly ReadingKind[]).includes(reading.kind);
export const isToneReading = (reading: Reading): reading is ToneReading => !isOhmReading(reading) && !isLineReading(reading);

export interface TraceRecord {
  id: string;
  stepId: string;
  fileName: string;
  /** which channel of the capture the verdict speaks of */
  channelIndex: number;
  analysis: TraceAnalysis;
  conditions: Conditions | LineConditions;
  takenAt: string;
  voidedReason?: string;
}

/** A capture at the amplifier's terminals. */
export type LoadTrace = TraceRecord & { conditions: Conditions };
/** A capture at the source's or the processor's output. */
export type LineTrace = TraceRecord & { conditions: LineConditions };

export const isLoadTrace = (trace: TraceRecord): trace is LoadTrace => 'load' in trace.conditions;
export const isLineTrace = (trace: TraceRecord): trace is LineTrace => !isLoadTrace(trace);

/** What the tuner ticked or decided at a step. */
export interface StepMark {
  stepId: string;
  checks: string[];
  /** what the ticks were made for; ticks for something else no longer count */
  basis?: string;
  /** what a ticked control stands at */
  values?: Record<string, string>;
  skippedReason?: string;
}

export interface TuneSettings {
  rules: HouseRules;
  meter: Meter;
}

/** A meter's accuracy on its ohms range, or what handheld meters usually have. */
export function ohmAccuracy({ ohmPercent, ohmDigitsOhm }: Meter): Pick<OhmConditions, 'meterPercent' | 'meterDigitsOhm'> {
  return { meterPercent: ohmPercent ?? DEFAULT_METER_PERCENT, meterDigitsOhm: ohmDigitsOhm ?? DEFAULT_METER_DIGITS_OHM };
}
