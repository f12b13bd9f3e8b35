import type { Validation } from '@yield/contract/validate';
import { CoreError, type CoreErrorCode, type Fault } from '@yield/core';
import { BODIES, type BodyName } from './bodies.ts';
import { CALCULATIONS, type CalculationName } from './calculations.ts';
import { NotJson, parseJson } from './parseJson.ts';
import { standBack } from '../standBack.ts';

standBack();

/** A body to be read and checked, or a calculation to be worked out from it. */
export type JsonTask = { bytes: Uint8Array } & ({ body: BodyName } | { calculation: CalculationName });

/** A body comes back as its value, a calculation as the text of its answer. */
export type JsonResult =
  | { kind: 'done'; value: unknown }
  | { kind: 'not-json'; why: string }
  | { kind: 'refused'; code: CoreErrorCode; faults: readonly Fault[] };

/** Reads, checks and works out, on whichever thread it is called. */
export default function runJsonTask(task: JsonTask): JsonResult {
  try {
    const value = parseJson(task.bytes);
    if ('body' in task) return checked(BODIES[task.body](value));
    const { check, run } = CALCULATIONS[task.calculation];
    const body = checked(check(value));
    return body.kind === 'done' ? { kind: 'done', value: JSON.stringify(run(body.value as never)) } : body;
  } catch (error) {
    if (error instanceof NotJson) return { kind: 'not-json', why: error.message };
    if (error instanceof CoreError) return { kind: 'refused', code: error.code, faults: error.faults };
    throw error;
  }
}

const checked = (validation: Validation<unknown>): JsonResult =>
  validation.kind === 'valid'
    ? { kind: 'done', value: validation.value }
    : { kind: 'refused', code: 'INPUT_INVALID', faults: validation.faults };
