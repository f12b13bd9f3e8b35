import {
  EditSchema,
  EqualiserFitRequest,
  NameKeySchema,
  NEW_READING_SCHEMAS,
  NewReadingSchema,
  NewTuneSchema,
  SAVE_GEAR_SCHEMAS,
  SaveChainSchema,
  SaveGearSchema,
  SaveMarkSchema,
  SaveShopSchema,
  SaveTuneSchema,
  SignSheetSchema,
  TraceJsonRequest,
  VoidSchema,
  type NewReading,
  type SaveGear,
} from '@yield/contract';
import { validateBody, validateWith, type Validation } from '@yield/contract/validate';
import { equaliserFitFaults } from '@yield/core';
import type { Static, TSchema } from 'typebox';

type Check<T> = (body: unknown) => Validation<T>;

const by =
  <T extends TSchema>(schema: T): Check<Static<T>> =>
  (body) =>
    validateBody(schema, body);

const kindOf = (body: unknown): unknown => (body as { kind?: unknown } | null | undefined)?.kind;

/** Checked against what its kind asks for, so that faults speak of that kind alone. */
const reading: Check<NewReading> = (body) =>
  validateBody(NEW_READING_SCHEMAS.get(String(kindOf(body))) ?? NewReadingSchema, body) as Validation<NewReading>;

const gear: Check<SaveGear> = (body) => {
  const kind = kindOf(body);
  const known = typeof kind === 'string' && Object.hasOwn(SAVE_GEAR_SCHEMAS, kind);
  const schema: TSchema = known ? SAVE_GEAR_SCHEMAS[kind as SaveGear['kind']] : SaveGearSchema;
  return validateBody(schema, body) as Validation<SaveGear>;
};

/** What is taken as JSON, by a name that a thread knows it by too. */
export const BODIES = {
  newTune: by(NewTuneSchema),
  saveTune: by(SaveTuneSchema),
  saveShop: by(SaveShopSchema),
  saveChain: by(SaveChainSchema),
  saveMark: by(SaveMarkSchema),
  edit: by(EditSchema),
  void: by(VoidSchema),
  signSheet: by(SignSheetSchema),
  equaliserFit: (body: unknown): Validation<Static<typeof EqualiserFitRequest>> =>
    validateWith(EqualiserFitRequest, equaliserFitFaults, body),
  nameKey: by(NameKeySchema),
  traceJson: by(TraceJsonRequest),
  reading,
  gear,
};

export type BodyName = keyof typeof BODIES;
export type BodyOf<N extends BodyName> = (typeof BODIES)[N] extends Check<infer T> ? T : never;

/** Makes every validator before somebody waits for it, and lets others have their turn between two: the largest takes a third of a second. */
export async function prepareValidators(): Promise<void> {
  const all = [BODIES.saveChain, ...Object.values(BODIES), ...[...NEW_READING_SCHEMAS.values()].map(by)];
  for (const check of all) {
    check(undefined);
    await new Promise((resolve) => setImmediate(resolve));
  }
}
