import type { Meter } from '../gain/meter.ts';
import type { TraceAnalysis } from '../traces/analyseTrace.ts';
import type { HookupMode } from '../loads/hookup.ts';
import type { HouseRules } from './chain.ts';

/** What held when a reading or a trace was taken. */
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
}

export type ReadingKind = 'gain-voltage' | 'loaded-voltage' | 'clamp-current';

/** One measured figure: never changed, only voided with a reason. */
export interface Reading {
  id: string;
  stepId: string;
  kind: ReadingKind;
  /** volts or amperes, RMS */
  value: number;
  /** place value of the last digit typed */
  resolution: number;
  conditions: Conditions;
  /** ISO 8601 */
  takenAt: string;
  voidedReason?: string;
}

export interface TraceRecord {
  id: string;
  stepId: string;
  fileName: string;
  /** which channel of the capture the verdict speaks of */
  channelIndex: number;
  analysis: TraceAnalysis;
  conditions: Conditions;
  takenAt: string;
  voidedReason?: string;
}

/** What the tuner ticked or decided at a step. */
export interface StepMark {
  stepId: string;
  checks: string[];
  skippedReason?: string;
}

export interface TuneSettings {
  rules: HouseRules;
  meter: Meter;
}
