import { isInstant } from '@yield/contract/validate';
import type { Request, RequestHandler } from 'express';
import { faulty } from './problem.ts';

/** The header in which a browser says what its own clock shows while it sends. */
export const SENT_AT = 'yield-sent-at';

/** A time this far ahead is a slip of the keyboard, or a clock that nobody set. */
const MAX_AHEAD_MS = 366 * 86_400_000;

/** A difference up to this is the way here and a clock's own slack: taking it off would only shuffle what was taken one after the other. */
const NOTABLE_MS = 60_000;

const arrivals = new WeakMap<object, number>();
/** Notes when a request arrived: its body may be minutes on its way. @throws {Problem} 422 where the client's clock shows no time that can be */
export const noteArrival: RequestHandler = (request, _response, next) => {
  arrivals.set(request, Date.now());
  const sentAt = request.headers[SENT_AT];
  if (sentAt !== undefined && !(typeof sentAt === 'string' && isInstant(sentAt)))
    throw faulty([{ pointer: `/${SENT_AT}`, message: 'the header must be a time such as 2026-01-31T12:00:00Z' }]);
  next();
};

/** When something was taken: by the server's clock, and as the client said it. */
export interface Taken {
  takenAt: Date;
  clientAt: Date;
  /** who counts what it sends, and the count: what it sent later was taken later, whatever its clock says */
  sender?: Sender;
}

export interface Sender {
  device: string;
  count: number;
}

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/i;

/** @throws {Problem} 422 for a count that is none */
function senderOf({ headers }: Pick<Request, 'headers'>): Sender | undefined {
  const [device, count] = [headers['yield-device'], headers['yield-count']];
  if (device === undefined && count === undefined) return undefined;
  if (typeof device !== 'string' || !UUID.test(device)) throw faulty([{ pointer: '/yield-device', message: 'the header must be a UUID' }]);
  const number = Number(count);
  if (!Number.isSafeInteger(number) || number < 0)
    throw faulty([{ pointer: '/yield-count', message: 'the header must be a whole number' }]);
  return { device: device.toLowerCase(), count: number };
}

/**
 * When something was taken, by the server's clock.
 *
 * A browser whose clock is off says with each request what it shows; the difference is taken off. Nothing is taken later than it
 * arrives: the clock was set in between. Order rests on these times, so that no clock but the server's decides it.
 *
 * @throws {Problem} 422 for a time that lies more than a year ahead
 */
export function takenBy(
  request: Pick<Request, 'headers'>,
  takenAt: string,
  pointer = '/takenAt',
  now = arrivals.get(request) ?? Date.now(),
): Taken {
  const clientAt = new Date(takenAt);
  const header = request.headers[SENT_AT];
  const sentAt = typeof header === 'string' ? Date.parse(header) : NaN;
  if (Number.isNaN(sentAt)) {
    if (clientAt.getTime() - now > MAX_AHEAD_MS)
      throw faulty([{ pointer, message: 'time lies more than a year ahead of the server’s clock' }]);
    return { takenAt: clientAt, clientAt };
  }
  const isNotable = Math.abs(now - sentAt) > NOTABLE_MS;
  const at = isNotable ? Math.min(clientAt.getTime() + now - sentAt, now) : Math.min(clientAt.getTime(), Math.max(now, sentAt));
  const sender = senderOf(request);
  return { takenAt: new Date(at), clientAt, ...(sender === undefined ? {} : { sender }) };
}
