import { Type, type TNumber, type TObject, type TProperties } from 'typebox';

interface Bounds {
  exclusiveMinimum?: number;
  minimum?: number;
  maximum?: number;
}

/** A number with the words that a message uses: its name and its unit. */
export const number = (title: string, unit: string, bounds: Bounds = {}): TNumber => Type.Number({ title, unit, ...bounds });

// Far beyond any car, so that squares and products of two inputs stay finite.
const MOST = 1e9;

export const ohm = (title: string): TNumber => number(title, 'ohm', { exclusiveMinimum: 0, maximum: MOST });
export const watt = (title: string): TNumber => number(title, 'W', { exclusiveMinimum: 0, maximum: MOST });
export const volt = (title: string): TNumber => number(title, 'V', { exclusiveMinimum: 0, maximum: MOST });
export const hertz = (title: string): TNumber => number(title, 'Hz', { exclusiveMinimum: 0, maximum: MOST });
export const percent = (title: string): TNumber => number(title, '%', { exclusiveMinimum: 0, maximum: 100 });
/** The largest version that is stored: PostgreSQL's integer. */
export const MAX_VERSION = 2 ** 31 - 1;
export const version = Type.Integer({ title: 'version', minimum: 1, maximum: MAX_VERSION });
/** The highest count that an archive brings along: a tune goes on counting from there, and the database's integer ends. */
export const MAX_BROUGHT_COUNT = 1_000_000_000;
export const uuid = Type.String({ title: 'id', format: 'uuid' });
export const instant = Type.String({ title: 'time', format: 'date-time' });
/** A circuit such as `(A1+A2)|(B1+B2)`, as the core reads it. */
export const networkField = Type.String({ title: 'network', minLength: 1, maxLength: 2000, format: 'network' });
/** A name that a person types: never blank. */
export const name = (title: string): ReturnType<typeof Type.String> => Type.String({ title, minLength: 1, maxLength: 200, pattern: '\\S' });
export const text = (title: string): ReturnType<typeof Type.String> => Type.String({ title, maxLength: 2000 });
/**
 * Plain data of any shape, but no more of it than anything that Yield writes has: whatever reads it later, by recursion or field by
 * field, ends soon.
 */
export const boundedData = (title: string) => Type.Record(Type.String({ maxLength: 200 }), Type.Unknown(), { title, maxData: MAX_DATA });
const MAX_DATA = { nodes: 50_000, characters: 2_000_000 };
/** Extra fields are refused, so that a misspelt unit never passes. */
export const strict = <T extends TProperties>(properties: T): TObject<T> => Type.Object(properties, { additionalProperties: false });
