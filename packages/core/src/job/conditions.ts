import type { Filter } from '../crossovers/filters.ts';
import { DEFAULT_METER_DIGITS_OHM, DEFAULT_METER_PERCENT } from '../loads/meterDiagnosis.ts';
import type { HookupMode } from '../loads/hookup.ts';
import type { Meter } from '../gain/meter.ts';
import type { EyeVerdict } from '../source/sourceCeiling.ts';
import type { SourceControl, SourceInput } from '../source/sourceControls.ts';
import type { SweepSpec } from '../tones/sweepSpec.ts';

/** Where something was measured: with everything off, at line level, at an amplifier's terminals, or through the air. */
export type At = Conditions['at'];

/** What held when something was measured. Gear is known by its id; names stand beside for people. */
export type Conditions = OhmConditions | LineConditions | LoadConditions | AirConditions;

/** What held of the tone and of the source that played it. */
export interface PlayedConditions {
  /** read off the simulated bench: no evidence of a real car */
  isSimulated?: true;
  toneHz: number;
  toneLevelDbfs: number;
  sourceId: string;
  sourceName: string;
  sourceVolume: number;
  sourceInput?: SourceInput;
  /** how the source's controls stood, by the Flat list; left out where that was not ticked */
  sourceSettings?: SourceSettings;
}

/** At the terminals of an amplifier's channel. */
export interface LoadConditions extends PlayedConditions {
  at: 'load';
  load: 'on' | 'off';
  loadOhm: number;
  /** how the coils were joined, where it was known */
  network?: string;
  mode: HookupMode;
  amplifierId: string;
  amplifierName: string;
  /** RMS voltage that was wanted then */
  targetVolt?: number;
  supplyVolt?: number;
  /** what the processor's output that feeds it was last read to give, RMS of a full-scale tone */
  fedVolt?: number;
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

/** At the source's or the processor's own output: line level, no load. */
export interface LineConditions extends PlayedConditions {
  at: 'line';
  /** how the source was set on purpose, for its ceiling */
  caseId?: string;
  /** what the scope's picture looked like, where no capture was judged */
  eye?: EyeVerdict;
  processorId?: string;
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

/** Across coils or wires, with everything switched off. */
export interface OhmConditions {
  at: 'ohm';
  /** nominal impedance of what the probes sat on, when it was read */
  nominalOhm: number;
  isSimulated?: true;
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

/** Two neighbours at their crossover: delay of the lower less that of the upper one, polarity against each other, filters. */
export interface MeetingConditions {
  delaySecond: number;
  isReversed: boolean;
  filters: string;
}

/** In front of the drivers, by a microphone, a sound meter or an ear. */
export interface AirConditions extends PlayedConditions {
  at: 'air';
  /** where it stood: "driver’s head" */
  position: string;
  /** where one channel played alone, and its filters as they were set then */
  channelId?: string;
  channelFilters?: string;
  /** where a sweep was captured */
  sweep?: SweepConditions;
  /** where a response was measured elsewhere and brought as a table */
  curve?: true;
  /** where the polarity pulse was recorded */
  pulse?: true;
  /** where two neighbours were measured: how they stood to each other */
  meeting?: MeetingConditions;
}

/** A meter's accuracy on its ohms range, or what handheld meters usually have. */
export function ohmAccuracy({ ohmPercent, ohmDigitsOhm }: Meter): Pick<OhmConditions, 'meterPercent' | 'meterDigitsOhm'> {
  return { meterPercent: ohmPercent ?? DEFAULT_METER_PERCENT, meterDigitsOhm: ohmDigitsOhm ?? DEFAULT_METER_DIGITS_OHM };
}
