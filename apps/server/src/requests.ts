import { validateQuery, type Validation } from '@yield/contract/validate';
import type { Request } from 'express';
import type { Static, TSchema } from 'typebox';
import { SENT_AT } from './clocks.ts';
import type { BodyName, BodyOf } from './json/bodies.ts';
import type { CalculationName } from './json/calculations.ts';
import { JsonBody } from './json/jsonBody.ts';
import { faulty, Problem } from './problem.ts';
import type { Actor } from './store/history.ts';
import { untilGone } from './untilGone.ts';

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/i;

/** The checked JSON body. @throws {Problem} 415 for another kind of body, {CoreError} with a fault for each field */
export async function bodyOf<N extends BodyName>(name: N, request: Request): Promise<BodyOf<N>> {
  const { bytes, threads } = jsonOf(request);
  return (await threads.run({ body: name, bytes }, goneSignal(request))) as BodyOf<N>;
}

/** The answer of a calculation to its body, as text. @throws as {@link bodyOf} */
export async function calculated(calculation: CalculationName, request: Request): Promise<string> {
  const { bytes, threads } = jsonOf(request);
  return (await threads.run({ calculation, bytes }, goneSignal(request))) as string;
}

function jsonOf(request: Request): JsonBody {
  if (request.body instanceof JsonBody) return request.body;
  throw new Problem('json-expected', 'Send the body as application/json.');
}

const goneSignal = ({ res }: Request): AbortSignal | undefined => (res === undefined ? undefined : untilGone(res));

/** The checked query parameters. @throws {Problem} 422 with a fault for each parameter */
export function queryOf<T extends TSchema>(schema: T, request: Request): Static<T> {
  return unwrap(validateQuery(schema, request.query));
}

/** The raw body; an empty one is an empty capture. @throws {Problem} 415 for a content type that is not taken */
export function rawBytes(request: Request): Buffer {
  if (Buffer.isBuffer(request.body)) return request.body;
  if (request.headers['content-length'] === '0' || request.headers['content-length'] === undefined) return Buffer.alloc(0);
  throw new Problem('unsupported-file-type', 'Send a capture as text/csv or audio/wav.');
}

/** A path parameter that is a UUID. @throws {Problem} 404 otherwise: no such thing can be there */
export function idOf(request: Request, name: string): string {
  const value = String(request.params[name] ?? '');
  if (!UUID.test(value)) throw new Problem('not-found', `“${value.slice(0, 60)}” is not the id of anything here.`);
  return value.toLowerCase();
}

function unwrap<T>(validation: Validation<T>): T {
  if (validation.kind === 'faulty') throw faulty(validation.faults);
  return validation.value;
}

/** The header in which a browser gives the name that its user gave it, percent-encoded. */
const WHO = 'yield-who';
const MAX_NAME = 60;

/** Who changes something: the name that the browser has, where it has one, and its own clock. */
/** Who asks. What they change of a tune is answered with its count of changes, so that they need not ask for their own. */
export function actorOf({ headers, res }: Pick<Request, 'headers' | 'res'>): Actor {
  const [given, sentAt] = [headers[WHO], headers[SENT_AT]];
  const at = typeof sentAt === 'string' ? new Date(sentAt) : undefined;
  return {
    who: typeof given === 'string' ? nameIn(given) : null,
    clientAt: at === undefined || Number.isNaN(at.getTime()) ? null : at,
    onChange: (changes) => void res?.setHeader('yield-changes', changes),
  };
}

function nameIn(text: string): string | null {
  let name: string;
  try {
    name = decodeURIComponent(text);
  } catch {
    return null;
  }
  // eslint-disable-next-line no-control-regex -- no database keeps these
  const clean = name.replace(/[\u0000-\u001f\u007f]|\p{Surrogate}/gu, '').trim();
  return clean === '' ? null : clean.slice(0, MAX_NAME);
}
