import { validateBody, validateQuery, type Validation } from '@yield/contract/validate';
import type { Request } from 'express';
import type { Static, TSchema } from 'typebox';
import { faulty, Problem } from './problem.ts';

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/i;

/** The checked JSON body. @throws {Problem} 415 for another kind of body, 422 with a fault for each field */
export function bodyOf<T extends TSchema>(schema: T, request: Request): Static<T> {
  if (request.body === undefined) throw new Problem(415, 'JSON expected', 'Send the body as application/json.');
  return unwrap(validateBody(schema, request.body));
}

/** The checked query parameters. @throws {Problem} 422 with a fault for each parameter */
export function queryOf<T extends TSchema>(schema: T, request: Request): Static<T> {
  return unwrap(validateQuery(schema, request.query));
}

/** The raw body; an empty one is an empty capture. @throws {Problem} 415 for a content type that is not taken */
export function rawBytes(request: Request): Buffer {
  if (Buffer.isBuffer(request.body)) return request.body;
  if (request.headers['content-length'] === '0' || request.headers['content-length'] === undefined) return Buffer.alloc(0);
  throw new Problem(415, 'Kind of file not read', 'Send a capture as text/csv or audio/wav.');
}

/** A path parameter that is a UUID. @throws {Problem} 404 otherwise: no such thing can be there */
export function idOf(request: Request, name: string): string {
  const value = String(request.params[name] ?? '');
  if (!UUID.test(value)) throw new Problem(404, 'Not found', `“${value.slice(0, 60)}” is not the id of anything here.`);
  return value.toLowerCase();
}

function unwrap<T>(validation: Validation<T>): T {
  if (validation.kind === 'faulty') throw faulty(validation.faults);
  return validation.value;
}
