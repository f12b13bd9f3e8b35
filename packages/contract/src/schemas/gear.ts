import type { Gear } from '@yield/core';
import { Type, type Static } from 'typebox';
import type { Same } from './same.ts';
import { MAX_VERSION, name, strict } from './fields.ts';
import {
  AmplifierSchema,
  curvePoints,
  DialSchema,
  DriverSchema,
  EqualiserAtHandSchema,
  MeterSchema,
  ProcessorSchema,
  SourceSchema,
} from './records.ts';

const version = Type.Integer({ title: 'version', minimum: 0, maximum: MAX_VERSION });
const kind = <K extends string>(value: K) => Type.Literal(value, { title: 'kind of gear' });

/** A piece of gear for the library. Version 0 says: it is new. */
export const SAVE_GEAR_SCHEMAS = {
  source: strict({ version, kind: kind('source'), body: SourceSchema }),
  processor: strict({ version, kind: kind('processor'), body: ProcessorSchema }),
  amplifier: strict({ version, kind: kind('amplifier'), body: AmplifierSchema }),
  driver: strict({ version, kind: kind('driver'), body: DriverSchema }),
  meter: strict({ version, kind: kind('meter'), body: strict({ name: name('name'), ...MeterSchema.properties }) }),
  microphone: strict({
    version,
    kind: kind('microphone'),
    body: strict({ name: name('name'), calibration: Type.Optional(curvePoints('calibration')) }),
  }),
  dial: strict({ version, kind: kind('dial'), body: DialSchema }),
  equaliser: strict({ version, kind: kind('equaliser'), body: strict({ name: name('name'), equaliser: EqualiserAtHandSchema }) }),
};
export const SaveGearSchema = Type.Union([
  SAVE_GEAR_SCHEMAS.source,
  SAVE_GEAR_SCHEMAS.processor,
  SAVE_GEAR_SCHEMAS.amplifier,
  SAVE_GEAR_SCHEMAS.driver,
  SAVE_GEAR_SCHEMAS.meter,
  SAVE_GEAR_SCHEMAS.microphone,
  SAVE_GEAR_SCHEMAS.dial,
  SAVE_GEAR_SCHEMAS.equaliser,
]);
export const GEAR_KINDS = Object.keys(SAVE_GEAR_SCHEMAS) as SaveGear['kind'][];
export type SaveGear = Static<typeof SaveGearSchema>;
type WithoutVersion<T> = T extends unknown ? Omit<T, 'version'> : never;
export const GEAR_MATCHES_CORE: Same<WithoutVersion<SaveGear>, Gear> = true;

/** What was measured on a piece of gear, and in which tune. */
export interface GearFigure {
  tuneId: string;
  tune: string;
  /** such as "highest clean volume", "under load", "each coil" */
  what: string;
  value: number;
  unit: 'V' | 'ohm' | 'step' | '%';
  /** load that it was measured into */
  loadOhm?: number;
}

/** A piece of gear of the shop: of its library, or out of a tune. */
export type GearRow = Gear & {
  id: string;
  name: string;
  /** 0 of what stands in tunes alone */
  version: number;
  /** names of the tunes that have it */
  tunes: string[];
  figures: GearFigure[];
};
