import type { Chain, Conditions, HouseRules, Meter, Reading, RunSummary, StepMark, TraceRecord, TuneSettings } from '@yield/core';
import { Type, type Static } from 'typebox';
import { HookupMode } from './calculations.ts';
import { hertz, instant, name, number, ohm, percent, strict, text, uuid, version, volt, watt } from './fields.ts';

const key = Type.String({ title: 'id', minLength: 1, maxLength: 64, pattern: '^[A-Za-z0-9-]+$' });
const volumeStep = (title: string): ReturnType<typeof Type.Integer> => Type.Integer({ title, minimum: 1, maximum: 1000 });

export const SourceSchema = strict({
  name: name('source'),
  volumeSteps: volumeStep('highest volume step'),
  workingVolume: volumeStep('working volume'),
  volumeBasis: Type.Enum(['measured', 'assumed'], { title: 'basis of the working volume' }),
  outputVolt: Type.Optional(volt('output voltage')),
  ceilingVolt: Type.Optional(volt('clean ceiling')),
});
export const AmplifierSchema = strict({
  id: key,
  name: name('amplifier'),
  ratings: Type.Array(strict({ mode: HookupMode, loadOhm: ohm('load'), powerWatt: watt('rated power') }), {
    title: 'rated power',
    maxItems: 20,
  }),
  minimumStereoOhm: Type.Optional(ohm('lowest stereo load')),
  minimumBridgedOhm: Type.Optional(ohm('lowest bridged load')),
  minimumMonoOhm: Type.Optional(ohm('lowest mono load')),
  inputMinVolt: Type.Optional(volt('most sensitive input voltage')),
  inputMaxVolt: Type.Optional(volt('least sensitive input voltage')),
  fuseAmpere: Type.Optional(number('fuses', 'A', { exclusiveMinimum: 0, maximum: 1000 })),
});
export const DriverSchema = strict({
  id: key,
  name: name('driver'),
  coils: Type.Enum([1, 2, 4], { title: 'coils' }),
  coilOhm: ohm('coil impedance'),
  ratedPowerWatt: watt('rated power'),
});
export const ChannelSchema = strict({
  id: key,
  name: name('channel'),
  amplifierId: key,
  mode: HookupMode,
  terminals: name('terminals'),
  band: Type.Enum(['bass', 'full-range'], { title: 'band' }),
  loadOhm: ohm('load'),
  drivers: Type.Array(DriverSchema, { title: 'drivers', maxItems: 16 }),
});
export const ChainSchema = strict({
  source: SourceSchema,
  amplifiers: Type.Array(AmplifierSchema, { title: 'amplifiers', maxItems: 8 }),
  channels: Type.Array(ChannelSchema, { title: 'channels', maxItems: 32 }),
});

export const HouseRulesSchema = strict({
  bassToneHz: hertz('bass tone'),
  otherToneHz: hertz('other tone'),
  toneLevelDbfs: number('recorded level of the tone', 'dBFS', { minimum: -60, maximum: 0 }),
  overlapDb: number('gain overlap', 'dB', { minimum: 0, maximum: 20 }),
  headroomDb: number('headroom', 'dB', { minimum: 0, maximum: 20 }),
  limitThdPercent: percent('distortion limit'),
  toleranceDb: number('tolerance', 'dB', { exclusiveMinimum: 0, maximum: 6 }),
  loadWhileSetting: Type.Enum(['off', 'on'], { title: 'load while setting' }),
});
export const MeterSchema = strict({
  percent: number('meter accuracy', '%', { minimum: 0, maximum: 20 }),
  digits: Type.Integer({ title: 'meter accuracy in digits', minimum: 0, maximum: 100 }),
  highestHz: hertz('highest frequency of the meter'),
  trueRms: Type.Boolean({ title: 'true RMS' }),
});
export const SettingsSchema = strict({ rules: HouseRulesSchema, meter: MeterSchema });

export const ConditionsSchema = strict({
  toneHz: hertz('tone'),
  toneLevelDbfs: number('recorded level of the tone', 'dBFS', { minimum: -120, maximum: 0 }),
  sourceName: name('source'),
  sourceVolume: volumeStep('source volume'),
  load: Type.Enum(['on', 'off'], { title: 'load' }),
  loadOhm: ohm('load'),
  mode: HookupMode,
  amplifierName: name('amplifier'),
  targetVolt: Type.Optional(volt('target')),
  supplyVolt: Type.Optional(volt('supply voltage')),
});
const stepKey = Type.String({ title: 'step', pattern: '^(gain|proof):[A-Za-z0-9-]{1,64}$' });

export const ReadingSchema = strict({
  id: uuid,
  stepId: stepKey,
  kind: Type.Enum(['gain-voltage', 'loaded-voltage', 'clamp-current'], { title: 'kind of reading' }),
  value: number('reading', '', { minimum: 0, maximum: 1e6 }),
  resolution: number('resolution', '', { exclusiveMinimum: 0, maximum: 1e6 }),
  conditions: ConditionsSchema,
  takenAt: instant,
  voidedReason: Type.Optional(text('reason')),
});
export const NewReadingSchema = Type.Omit(ReadingSchema, ['voidedReason', 'id'], { additionalProperties: false });
export const VoidSchema = strict({ reason: name('reason') });

export const StepMarkSchema = strict({
  stepId: stepKey,
  version,
  checks: Type.Array(Type.String({ maxLength: 64 }), { title: 'checks', maxItems: 32 }),
  skippedReason: Type.Optional(name('reason')),
});
/** Version 0 says: there was no mark yet. */
export const SaveMarkSchema = strict({
  version: Type.Integer({ title: 'version', minimum: 0 }),
  checks: StepMarkSchema.properties.checks,
  skippedReason: Type.Optional(name('reason')),
});

export const TraceUploadQuery = strict({
  stepId: stepKey,
  fileName: name('file name'),
  takenAt: instant,
  channelIndex: Type.Optional(Type.Integer({ title: 'channel', minimum: 0, maximum: 31 })),
  fullScaleVolt: Type.Optional(volt('full scale')),
  probe: Type.Optional(number('probe factor', '', { exclusiveMinimum: 0, maximum: 1e6 })),
  /** JSON text of the conditions */
  conditions: Type.String({ title: 'conditions', maxLength: 4000 }),
});

export const NewTuneSchema = strict({ id: uuid, name: name('name'), vehicle: text('vehicle') });
export const SaveTuneSchema = strict({ version, name: name('name'), vehicle: text('vehicle'), settings: SettingsSchema });
export const SaveChainSchema = strict({ version, chain: ChainSchema });

/** A trace as a tune's answer holds it: all but the original bytes. */
export interface TraceInfo extends TraceRecord {
  sha256: string;
  byteLength: number;
  analysisVersion: number;
  fullScaleVolt?: number;
  probe?: number;
}

export interface SavedMark extends StepMark {
  version: number;
}

export interface TuneHead {
  id: string;
  name: string;
  vehicle: string;
  version: number;
  updatedAt: string;
}

export interface TuneListRow extends TuneHead {
  summary: RunSummary;
}

export interface TuneDetail extends TuneHead {
  settings: TuneSettings;
  chain: { version: number; body: Chain };
  readings: Reading[];
  traces: TraceInfo[];
  marks: SavedMark[];
}

export type NewReading = Static<typeof NewReadingSchema>;
export type NewTune = Static<typeof NewTuneSchema>;
export type SaveTune = Static<typeof SaveTuneSchema>;
export type SaveChain = Static<typeof SaveChainSchema>;
export type SaveMark = Static<typeof SaveMarkSchema>;
export type TraceUpload = Static<typeof TraceUploadQuery>;

// What the schemas let in must be what the core computes with, field by field: a difference does not compile.
type Same<A, B> = [A] extends [B] ? ([B] extends [A] ? true : never) : never;
export const SCHEMAS_MATCH_CORE: [
  Same<Static<typeof ChainSchema>, Chain>,
  Same<Static<typeof HouseRulesSchema>, HouseRules>,
  Same<Static<typeof MeterSchema>, Meter>,
  Same<Static<typeof ConditionsSchema>, Conditions>,
  Same<Static<typeof ReadingSchema>, Reading>,
] = [true, true, true, true, true];
