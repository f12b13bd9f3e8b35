import { CoreError, parseOwnNetwork, type Fault } from '@yield/core';
import { Ajv, type ErrorObject, type ValidateFunction } from 'ajv';
import addFormatsModule from 'ajv-formats';
import type { Static, TSchema } from 'typebox';

type FormatsPlugin = (ajv: Ajv) => unknown;

/** `hasShape`: every field is of the right kind, and figures alone are out of their bounds. */
export type Validation<T> = { kind: 'valid'; value: T } | { kind: 'faulty'; faults: Fault[]; hasShape?: true };

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

/**
 * Checks a JSON body against its schema and, wherever its shape is right, against what no schema can say: all faults are named at once.
 *
 * @param further - further faults of a body whose fields are all of the right kind, though a figure may lie out of its bounds
 */
export function validateWith<T extends TSchema>(
  schema: T,
  further: (value: Static<T>) => readonly Fault[],
  value: unknown,
): Validation<Static<T>> {
  const validation = validateBody(schema, value);
  if (validation.kind === 'faulty' && validation.hasShape !== true) return validation;
  const known = validation.kind === 'faulty' ? validation.faults : [];
  const faults = [
    ...known,
    ...further(value as Static<T>).filter(({ pointer }) => known.every((fault) => fault.pointer !== pointer)),
  ].slice(0, MAX_FAULTS);
  return faults.length === 0 ? validation : { kind: 'faulty', faults };
}

const BOUNDS = new Set(['minimum', 'maximum', 'exclusiveMinimum', 'exclusiveMaximum']);

/** Whether every error is a figure out of its bounds. */
const areBounds = (errors: readonly ErrorObject[]): boolean =>
  errors.every(({ keyword, data }) => BOUNDS.has(keyword) && typeof data === 'number');

/** Checks query parameters, with text turned into numbers where the schema wants numbers. */
export function validateQuery<T extends TSchema>(schema: T, value: Record<string, unknown>): Validation<Static<T>> {
  const validation = run<T>(queries, schema, { ...value });
  if (validation.kind === 'faulty') return validation;
  // "1e999" becomes a number that no limit is held against.
  const endless = Object.entries(validation.value as object).filter(([, each]) => typeof each === 'number' && !Number.isFinite(each));
  if (endless.length === 0) return validation;
  return { kind: 'faulty', faults: endless.map(([name]) => ({ pointer: `/${name}`, message: `${name} must be a finite number` })) };
}

function newAjv(coerceTypes: boolean): Ajv {
  const ajv = new Ajv({ allErrors: true, verbose: true, strict: true, coerceTypes });
  addFormats(ajv);
  ajv.addKeyword('unit');
  ajv.addKeyword({ keyword: 'maxData', type: 'object', validate: isWithin, errors: false });
  // Stricter than the package: "urn:uuid:" is no id of ours.
  ajv.addFormat('uuid', /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/i);
  ajv.addFormat('date-time', isInstant);
  // Ids are looked up in plain objects, which have fields of their own.
  ajv.addFormat('own-key', (text: string) => !(text in Object.prototype));
  ajv.addFormat('network', (text: string) => networkFault(text) === undefined);
  return ajv;
}

const INSTANT = /^(?<year>\d{4})-(?<month>\d\d)-(?<day>\d\d)T\d\d:\d\d:\d\d(\.\d{1,9})?(Z|[+-](?<hours>\d\d):(?<minutes>[0-5]\d))$/i;
/** Before it there were no clocks that a browser reads. */
const FIRST_YEAR = 1970;
/** No place on earth is further from UTC. @see RFC 9557, and the tz database: −12:00 to +14:00 */
const MAX_OFFSET_HOURS = 14;

/** Whether a text is a time that a Date, PostgreSQL and people agree on: a leap second is not, nor is the year 0. */
export function isInstant(text: string): boolean {
  const parts = INSTANT.exec(text);
  if (parts === null || Number.isNaN(Date.parse(text))) return false;
  const { year, month, day, hours = '0', minutes = '0' } = parts.groups ?? {};
  // A Date takes the 30th of February for the 2nd of March.
  const isDay = new Date(Date.UTC(Number(year), Number(month) - 1, Number(day))).getUTCDate() === Number(day);
  return isDay && Number(year) >= FIRST_YEAR && 60 * Number(hours) + Number(minutes) <= 60 * MAX_OFFSET_HOURS;
}

function networkFault(text: string): string | undefined {
  try {
    parseOwnNetwork(text);
    return undefined;
  } catch (error) {
    if (error instanceof CoreError) return error.faults[0]?.message ?? 'not a network';
    throw error;
  }
}

/** Holds data of any shape against how much of it there may be. */
function isWithin({ nodes, characters }: { nodes: number; characters: number }, data: unknown): boolean {
  const waiting: unknown[] = [data];
  let [seen, text] = [0, 0];
  while (waiting.length > 0) {
    const node = waiting.pop();
    seen += 1;
    if (typeof node === 'string') text += node.length;
    else if (typeof node === 'object' && node !== null) {
      for (const [key, value] of Object.entries(node)) {
        text += Array.isArray(node) ? 0 : key.length;
        waiting.push(value);
      }
    }
    if (seen > nodes || text > characters) return false;
  }
  return true;
}

function run<T extends TSchema>(ajv: Ajv, schema: T, value: unknown): Validation<Static<T>> {
  let validate = compiled.get(schema);
  if (validate === undefined) {
    validate = ajv.compile(schema);
    compiled.set(schema, validate);
  }
  const unstorable = dataFaults(value);
  if (unstorable.length > 0) return { kind: 'faulty', faults: unstorable };
  if (validate(value)) return { kind: 'valid', value: value as Static<T> };
  const errors = validate.errors ?? [];
  const faults = errors.slice(0, MAX_FAULTS).map(faultOf);
  return areBounds(errors) ? { kind: 'faulty', faults, hasShape: true } : { kind: 'faulty', faults };
}

/** More of them help nobody, and would make an answer larger than the question. */
export const MAX_FAULTS = 50;

/** Text that no database keeps as it came: a NUL, or half of a character. */
// eslint-disable-next-line no-control-regex -- this is the character that is looked for
const UNSTORABLE = /\u0000|\p{Surrogate}/u;

/** Nothing that Yield takes in is nested so deeply; what reads it may then go down by recursion. */
export const MAX_DEPTH = 40;
/** Beyond these a figure is no measurement, and its squares are no numbers. */
const FIGURE = { least: 1e-30, most: 1e30 };

interface Node {
  value: unknown;
  key: string;
  depth: number;
  parent?: Node;
}

/** The pointer of a node: made where a fault is told, since of a deep tree all pointers together would be far larger than the tree. */
function pointerOf(node: Node): string {
  const segments: string[] = [];
  for (let at = node; at.parent !== undefined; at = at.parent) segments.unshift(escapePointer(shortened(at.key)));
  return segments.map((segment) => `/${segment}`).join('');
}

/** Faults of what no schema sees to: text that cannot be stored, names of fields included, data nested without end, figures beyond measure. */
function dataFaults(value: unknown): Fault[] {
  const faults: Fault[] = [];
  const root: Node = { value, key: '', depth: 0 };
  const waiting: Node[] = [];
  const tell = (node: Node, message: string): unknown => faults.push({ pointer: pointerOf(node), message });
  /** Most of what comes in is figures and texts: those have no node of their own. */
  const look = (own: unknown, node: () => Node): void => {
    if (typeof own === 'string') {
      if (UNSTORABLE.test(own))
        tell(node(), 'this text contains a character that cannot be stored (a NUL, or half a character): type it again');
    } else if (typeof own === 'number') {
      const size = Math.abs(own);
      if (size > FIGURE.most && size < Infinity) tell(node(), 'this figure is too large to be a measurement');
      else if (size > 0 && size < FIGURE.least) tell(node(), 'this figure is too small to be a measurement');
    } else if (typeof own === 'object' && own !== null) waiting.push(node());
  };
  look(value, () => root);
  while (waiting.length > 0 && faults.length < MAX_FAULTS) {
    const node = waiting.pop()!;
    if (node.depth >= MAX_DEPTH) {
      tell(node, `this is nested more than ${MAX_DEPTH} levels deep`);
      continue;
    }
    for (const [key, field] of Object.entries(node.value as object)) {
      if (key in Object.prototype) tell(node, `“${key}” cannot be the name of a field here`);
      else if (UNSTORABLE.test(key)) tell(node, 'the name of a field here holds a character that cannot be stored');
      else look(field, () => ({ value: field, key, depth: node.depth + 1, parent: node }));
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
      return { pointer: instancePath, message: `${what} must not be empty, and must be in the expected form` };
    case 'maxLength':
    case 'maxItems':
    case 'maxProperties':
      return { pointer: instancePath, message: `${what} is too long: at most ${String(params.limit)}` };
    case 'maxData':
      return { pointer: instancePath, message: `${what} is larger than anything measured` };
    case 'format':
      return { pointer: instancePath, message: formatFault(String(params.format), what, error.data) };
    case 'uniqueItems':
      return { pointer: instancePath, message: `${what} name one thing twice` };
    default:
      return { pointer: instancePath, message: `${what} ${error.message ?? 'is not valid'}` };
  }
}

function formatFault(format: string, what: string, data: unknown): string {
  if (format === 'network') return `${what}: ${networkFault(String(data)) ?? 'not a network'}`;
  if (format === 'own-key') return `“${shortened(String(data))}” cannot be an id`;
  if (format === 'uuid') return `${what} must be a UUID`;
  if (format === 'date-time') return `${what} must be a time in the form of 2026-01-31T12:00:00Z, from the year ${FIRST_YEAR} on`;
  return `${what} must match the format “${format}”`;
}

const article = (type: string): string =>
  type === 'object' ? 'an object' : type === 'array' ? 'a list' : type === 'integer' ? 'a whole number' : `a ${type}`;

/** A name that somebody else chose may be as long as the whole body. */
const shortened = (text: string): string => (text.length > 60 ? `${text.slice(0, 60)}…` : text);

const escapePointer = (segment: string): string => segment.replaceAll('~', '~0').replaceAll('/', '~1');
