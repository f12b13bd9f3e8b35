/** One fault in what was given: where it is (a JSON Pointer into the input, '' for the whole) and what is wrong, in a tuner's words. */
export interface Fault {
  pointer: string;
  message: string;
}

export type CoreErrorCode =
  | 'INPUT_INVALID'
  | 'CAPTURE_EMPTY'
  | 'CAPTURE_NOT_TEXT'
  | 'CAPTURE_NO_DATA'
  | 'CAPTURE_NO_TIME'
  | 'CAPTURE_TIME_BACKWARDS'
  | 'CAPTURE_TIME_UNEVEN'
  | 'CAPTURE_VALUE_MISSING'
  | 'CAPTURE_VALUE_UNREADABLE'
  | 'CAPTURE_FORMAT_UNKNOWN';

/** The one error that the core throws: a code for programs, faults in words for people. */
export class CoreError extends Error {
  readonly code: CoreErrorCode;
  readonly faults: readonly Fault[];

  constructor(code: CoreErrorCode, faults: readonly Fault[]) {
    super(faults.map((fault) => fault.message).join('; '));
    this.name = 'CoreError';
    this.code = code;
    this.faults = faults;
  }
}

/** The error for one fault in a capture file as a whole. */
export function captureError(code: CoreErrorCode, message: string): CoreError {
  return new CoreError(code, [{ pointer: '', message }]);
}

/** What a number has to satisfy, with the words for a tuner. */
export interface NumberRule {
  name: string;
  unit?: string;
  above?: number;
  atLeast?: number;
  atMost?: number;
}

/**
 * Checks every given number of a calculation's input and reports all faults together.
 *
 * @param input - plain input; fields that are left out (undefined) are not checked
 * @param rules - per field its words and bounds
 * @throws {CoreError} `INPUT_INVALID` with one fault for each field out of bounds
 */
export function checkNumbers<T extends object>(input: T, rules: { [K in keyof T]?: NumberRule }): void {
  const faults: Fault[] = [];
  for (const key of Object.keys(rules) as (keyof T & string)[]) {
    const rule = rules[key];
    const value = input[key];
    if (rule === undefined || value === undefined) continue;
    const message = faultOf(value, rule);
    if (message !== null) faults.push({ pointer: `/${key}`, message });
  }
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);
}

function faultOf(value: unknown, { name, unit, above, atLeast, atMost }: NumberRule): string | null {
  const withUnit = (bound: number): string => (unit === undefined ? `${bound}` : `${bound} ${unit}`);
  if (typeof value !== 'number' || !Number.isFinite(value)) return `${name} must be a number`;
  if (above !== undefined && !(value > above)) return `${name} must be above ${withUnit(above)}`;
  if (atLeast !== undefined && !(value >= atLeast)) return `${name} must be at least ${withUnit(atLeast)}`;
  if (atMost !== undefined && !(value <= atMost)) return `${name} must be at most ${withUnit(atMost)}`;
  return null;
}
