import type { Fault } from '@yield/core';
import { Ajv, type ErrorObject, type ValidateFunction } from 'ajv';
import addFormatsModule from 'ajv-formats';
import type { Static, TSchema } from 'typebox';

type FormatsPlugin = (ajv: Ajv) => unknown;

export type Validation<T> = { kind: 'valid'; value: T } | { kind: 'faulty'; faults: Fault[] };

// The package is CommonJS: depending on who loads it, its function is the module or its default.
const addFormats = ((addFormatsModule as unknown as { default?: FormatsPlugin }).default ?? addFormatsModule) as FormatsPlugin;

const bodies = newAjv(false);
/** Query values arrive as text: "50" is let in as 50, "x" is not. */
const queries = newAjv(true);
const compiled = new Map<TSchema, ValidateFunction>();

/** Checks a JSON body against its schema; faults speak in a tuner's words and point at the faulty field itself. */
export function validateBody<T extends TSchema>(schema: T, value: unknown): Validation<Static<T>> {
  return run<T>(bodies, schema, value);
}

/** Checks query parameters, with text turned into numbers where the schema wants numbers. */
export function validateQuery<T extends TSchema>(schema: T, value: Record<string, unknown>): Validation<Static<T>> {
  const validation = run<T>(queries, schema, { ...value });
  if (validation.kind === 'faulty') return validation;
  // "1e999" becomes a number that no limit is held against.
  const endless = Object.entries(validation.value as object).filter(([, each]) => typeof each === 'number' && !Number.isFinite(each));
  if (endless.length === 0) return validation;
  return { kind: 'faulty', faults: endless.map(([name]) => ({ pointer: `/${name}`, message: `${name} is no number that can be` })) };
}

function newAjv(coerceTypes: boolean): Ajv {
  const ajv = new Ajv({ allErrors: true, verbose: true, strict: true, coerceTypes });
  addFormats(ajv);
  ajv.addKeyword('unit');
  // Stricter than the package: "urn:uuid:" is no id of ours, and a leap second is no time that a Date knows.
  ajv.addFormat('uuid', /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/i);
  ajv.addFormat('date-time', (text: string) => INSTANT.test(text) && !Number.isNaN(Date.parse(text)));
  return ajv;
}

const INSTANT = /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?(Z|[+-]\d\d:\d\d)$/i;

function run<T extends TSchema>(ajv: Ajv, schema: T, value: unknown): Validation<Static<T>> {
  let validate = compiled.get(schema);
  if (validate === undefined) {
    validate = ajv.compile(schema);
    compiled.set(schema, validate);
  }
  const unstorable = textFaults(value);
  if (unstorable.length > 0) return { kind: 'faulty', faults: unstorable };
  if (validate(value)) return { kind: 'valid', value: value as Static<T> };
  return { kind: 'faulty', faults: (validate.errors ?? []).slice(0, MOST_FAULTS).map(faultOf) };
}

/** More of them help nobody, and would make an answer larger than the question. */
export const MOST_FAULTS = 50;

/** Text that no database keeps as it came: a NUL, or half of a character. */
// eslint-disable-next-line no-control-regex -- this is the character that is looked for
const UNSTORABLE = /\u0000|\p{Surrogate}/u;

/** Faults for every text in a value, names of fields included, that cannot be stored. */
function textFaults(value: unknown, pointer = '', faults: Fault[] = []): Fault[] {
  if (faults.length >= MOST_FAULTS) return faults;
  if (typeof value === 'string') {
    if (UNSTORABLE.test(value))
      faults.push({ pointer, message: 'this text holds a sign that cannot be stored (a NUL, or half of a character): type it again' });
  } else if (Array.isArray(value)) {
    value.forEach((item, i) => textFaults(item, `${pointer}/${i}`, faults));
  } else if (typeof value === 'object' && value !== null) {
    for (const [key, field] of Object.entries(value)) {
      if (UNSTORABLE.test(key)) faults.push({ pointer, message: 'the name of a field here holds a character that cannot be stored' });
      else textFaults(field, `${pointer}/${escapePointer(key)}`, faults);
    }
  }
  return faults;
}

interface Words {
  title?: string;
  unit?: string;
  properties?: Record<string, Words>;
}

function faultOf(error: ErrorObject): Fault {
  const { instancePath, keyword } = error;
  const params = error.params as Record<string, unknown>;
  const parent = (error.parentSchema ?? {}) as Words;
  const what = parent.title ?? 'this field';
  const bound = `${String(params.limit)}${parent.unit === undefined || parent.unit === '' ? '' : ` ${parent.unit}`}`;
  switch (keyword) {
    case 'required': {
      const missing = String(params.missingProperty);
      return { pointer: `${instancePath}/${missing}`, message: `${parent.properties?.[missing]?.title ?? missing} is missing` };
    }
    case 'additionalProperties': {
      const extra = shortened(String(params.additionalProperty));
      const known = Object.keys(parent.properties ?? {}).join(', ');
      return {
        pointer: `${instancePath}/${escapePointer(extra)}`,
        message:
          known === ''
            ? `“${extra}” cannot be a name here: a letter first, then letters, digits and underscores`
            : `“${extra}” is not a field here; the fields are ${known}`,
      };
    }
    case 'type':
      return { pointer: instancePath, message: `${what} must be ${article(String(params.type))}` };
    case 'exclusiveMinimum':
      return { pointer: instancePath, message: `${what} must be above ${bound}` };
    case 'minimum':
      return { pointer: instancePath, message: `${what} must be at least ${bound}` };
    case 'maximum':
      return { pointer: instancePath, message: `${what} must be at most ${bound}` };
    case 'enum':
      return { pointer: instancePath, message: `${what} must be one of ${(params.allowedValues as unknown[]).join(', ')}` };
    case 'minItems':
    case 'minProperties':
      return { pointer: instancePath, message: `${what} must not be empty` };
    case 'minLength':
    case 'pattern':
      return { pointer: instancePath, message: `${what} must not be empty or oddly formed` };
    case 'maxLength':
    case 'maxItems':
    case 'maxProperties':
      return { pointer: instancePath, message: `${what} is too long: at most ${String(params.limit)}` };
    case 'uniqueItems':
      return { pointer: instancePath, message: `${what} name one thing twice` };
    default:
      return { pointer: instancePath, message: `${what} ${error.message ?? 'is not valid'}` };
  }
}

const article = (type: string): string =>
  type === 'object' ? 'an object' : type === 'array' ? 'a list' : type === 'integer' ? 'a whole number' : `a ${type}`;

/** A name that somebody else chose may be as long as the whole body. */
const shortened = (text: string): string => (text.length > 60 ? `${text.slice(0, 60)}…` : text);

const escapePointer = (segment: string): string => segment.replaceAll('~', '~0').replaceAll('/', '~1');
