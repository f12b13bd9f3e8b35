import { problemType, PROBLEMS, type ProblemCode } from '@yield/contract';
import { MAX_FAULTS } from '@yield/contract/validate';
import { CoreError, type CoreErrorCode, type Fault } from '@yield/core';
import type { ErrorRequestHandler, Response } from 'express';

/** An error that is answered as application/problem+json (RFC 9457). */
export class Problem extends Error {
  readonly code: ProblemCode;
  readonly status: number;
  readonly errors: readonly Fault[];
  /** the present state, where a stale save was refused */
  readonly current?: unknown;

  /** @param status - where it is not the usual one of this problem */
  constructor(code: ProblemCode, detail: string, errors: readonly Fault[] = [], more: { current?: unknown; status?: number } = {}) {
    super(detail);
    this.code = code;
    this.status = more.status ?? PROBLEMS[code].status;
    this.errors = errors;
    if (more.current !== undefined) this.current = more.current;
  }
}

export const notFound = (what: string): Problem =>
  new Problem('not-found', `${what} is not there. It may have been deleted in another window.`);

export const staleSave = (what: string, current: unknown): Problem =>
  new Problem(
    'changed-elsewhere',
    `${what} was changed in another window since you opened it. Nothing was overwritten.`,
    [{ pointer: '/version', message: 'this version is no longer the newest' }],
    { current },
  );

export const faulty = (faults: readonly Fault[]): Problem => new Problem('input-not-valid', told(faults), faults);

/** The first few faults as one sentence: all of them stand in `errors`. */
const told = (faults: readonly Fault[]): string =>
  `${faults
    .slice(0, 5)
    .map(({ message }) => message)
    .join('; ')}${faults.length > 5 ? '; and more' : ''}`;

/** What an error of the core is answered as. */
const CORE_PROBLEM = {
  INPUT_INVALID: 'input-not-valid',
  CAPTURE_EMPTY: 'capture-empty',
  CAPTURE_NOT_TEXT: 'capture-not-text',
  CAPTURE_NO_DATA: 'capture-no-data',
  CAPTURE_NO_TIME: 'capture-no-time',
  CAPTURE_TIME_BACKWARDS: 'capture-time-backwards',
  CAPTURE_TIME_UNEVEN: 'capture-time-uneven',
  CAPTURE_VALUE_MISSING: 'capture-value-missing',
  CAPTURE_VALUE_UNREADABLE: 'capture-value-unreadable',
  CAPTURE_FORMAT_UNKNOWN: 'capture-format-unknown',
} satisfies Record<CoreErrorCode, ProblemCode>;

const CONNECTION_CODES = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ETIMEDOUT',
  'ENOTFOUND',
  '57P01',
  '57P02',
  '57P03',
  '08000',
  '08003',
  '08006',
  // Every connection of the database is taken.
  '53300',
]);

/** Said by the driver or by TypeORM without a code, where a connection went away under a request. */
const LOST_CONNECTION =
  /Connection terminated|Driver not Connected|Query runner already released|Client has encountered a connection error|Client was closed|Connection is not established|not queryable|Query read timeout/i;

/** How soon a request that was turned away is worth another try. */
const RETRY_AFTER_SECONDS = 2;

/** The one place that turns an error into an answer. */
export const problemHandler =
  (log: (error: unknown) => void): ErrorRequestHandler =>
  (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const problem = problemOf(error);
    if (problem.status === 500) log(error);
    // Whoever still sends is not read to the end: the line is closed with the answer.
    if (!request.complete) response.setHeader('Connection', 'close');
    send(response, problem);
  };

export function problemOf(error: unknown): Problem {
  if (error instanceof Problem) return error;
  if (error instanceof CoreError) return new Problem(CORE_PROBLEM[error.code], told(error.faults), error.faults);
  const { type, status, limit, message, code, driverError } = (error ?? {}) as {
    type?: string;
    status?: number;
    limit?: number;
    message?: string;
    code?: string;
    driverError?: { code?: string };
  };
  if (type === 'entity.too.large') {
    const most = limit === undefined ? 'the limit' : `${Number((limit / 1_000_000).toPrecision(3))} MB`;
    return new Problem('too-large', `This is more than ${most}. Save a shorter stretch of the capture: a few dozen cycles are enough.`, [
      { pointer: '', message: `larger than ${most}` },
    ]);
  }
  if (type === 'entity.parse.failed')
    return new Problem('not-json', 'The body is not valid JSON.', [{ pointer: '', message: 'not valid JSON' }]);
  if (type === 'encoding.unsupported' || type === 'charset.unsupported')
    return new Problem('encoding-not-read', message ?? 'This encoding is not read.');
  if (type === 'request.aborted') return new Problem('broken-off', 'The transfer broke off before its end. Send it again.');
  if (code === '53100' || driverError?.code === '53100' || code === 'ENOSPC')
    return new Problem(
      'disk-full',
      'The disk of the database is full: nothing was stored. Make room on it; what you entered is kept in this browser.',
    );
  if (isTimeOut(code) || isTimeOut(driverError?.code) || /timeout exceeded when trying to connect/i.test(message ?? ''))
    return new Problem(
      'too-busy',
      'The database is busy with other requests. Try again in a moment; what you entered is kept in this browser.',
    );
  if (code === '23503' || driverError?.code === '23503') return notFound('The tune');
  if (isConnectionLoss(code) || isConnectionLoss(driverError?.code) || LOST_CONNECTION.test(message ?? '')) {
    return new Problem(
      'database-not-reached',
      'The database does not answer. What you entered is kept in this browser and sent when it is back.',
    );
  }
  // Words of a library may hold a path of this machine: they are not passed on.
  if (status === 404 || code === 'ENOENT') return new Problem('not-found', 'There is nothing at this address.');
  if (status !== undefined && status >= 400 && status < 500)
    return new Problem('request-not-understood', 'The request is not understood.', [], { status });
  return new Problem(
    'something-went-wrong',
    'The server met a fault that it did not expect. Try again; what you entered is kept in this browser.',
  );
}

/** A statement that took longer than it may. */
const isTimeOut = (code: string | undefined): boolean => code === '57014';

const isConnectionLoss = (code: string | undefined): boolean => code !== undefined && CONNECTION_CODES.has(code);

function send(response: Response, { code, status, message, errors, current }: Problem): void {
  response
    .status(status)
    .type('application/problem+json')
    .set(status === 503 ? { 'Retry-After': String(RETRY_AFTER_SECONDS) } : {})
    .send(
      JSON.stringify({
        type: problemType(code),
        title: PROBLEMS[code].title,
        status,
        detail: message,
        errors: errors.length > 0 ? errors.slice(0, MAX_FAULTS) : [{ pointer: '', message }],
        ...(current === undefined ? {} : { current }),
      }),
    );
}
