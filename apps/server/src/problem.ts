import { CoreError, type CoreErrorCode, type Fault } from '@yield/core';
import type { ErrorRequestHandler, Response } from 'express';

/** An error that is answered as application/problem+json (RFC 9457). */
export class Problem extends Error {
  readonly status: number;
  readonly title: string;
  readonly errors: readonly Fault[];
  /** the present state, where a stale save was refused */
  readonly current?: unknown;

  constructor(status: number, title: string, detail: string, errors: readonly Fault[] = [], current?: unknown) {
    super(detail);
    this.status = status;
    this.title = title;
    this.errors = errors;
    if (current !== undefined) this.current = current;
  }
}

export const notFound = (what: string): Problem =>
  new Problem(404, 'Not found', `${what} is not there. It may have been put away in another window.`);

export const staleSave = (what: string, current: unknown): Problem =>
  new Problem(
    409,
    'Changed elsewhere',
    `${what} was changed in another window since you opened it. Nothing was overwritten.`,
    [{ pointer: '/version', message: 'this version is no longer the newest' }],
    current,
  );

export const faulty = (faults: readonly Fault[]): Problem =>
  new Problem(422, 'Input not valid', faults.map(({ message }) => message).join('; '), faults);

const CORE_STATUS = {
  INPUT_INVALID: 422,
  CAPTURE_EMPTY: 422,
  CAPTURE_NOT_TEXT: 422,
  CAPTURE_NO_DATA: 422,
  CAPTURE_NO_TIME: 422,
  CAPTURE_TIME_BACKWARDS: 422,
  CAPTURE_TIME_UNEVEN: 422,
  CAPTURE_VALUE_MISSING: 422,
  CAPTURE_VALUE_UNREADABLE: 422,
  CAPTURE_FORMAT_UNKNOWN: 422,
} satisfies Record<CoreErrorCode, number>;

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
]);

/** The one place that turns an error into an answer. */
export const problemHandler =
  (log: (error: unknown) => void): ErrorRequestHandler =>
  (error: unknown, _request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const problem = problemOf(error);
    if (problem.status === 500) log(error);
    send(response, problem);
  };

export function problemOf(error: unknown): Problem {
  if (error instanceof Problem) return error;
  if (error instanceof CoreError) return new Problem(CORE_STATUS[error.code], 'Input not valid', error.message, error.faults);
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
    return new Problem(
      413,
      'Too large',
      `This is more than ${most}. Save a shorter stretch of the capture: a few dozen cycles are enough.`,
      [{ pointer: '', message: `larger than ${most}` }],
    );
  }
  if (type === 'entity.parse.failed')
    return new Problem(400, 'Not JSON', 'The body is not valid JSON.', [{ pointer: '', message: 'not valid JSON' }]);
  if (type === 'encoding.unsupported' || type === 'charset.unsupported')
    return new Problem(415, 'Encoding not read', message ?? 'This encoding is not read.');
  if (type === 'request.aborted') return new Problem(400, 'Broken off', 'The transfer broke off before its end. Send it again.');
  if (code === '23503' || driverError?.code === '23503') return notFound('The tune');
  if (
    isConnectionLoss(code) ||
    isConnectionLoss(driverError?.code) ||
    /Connection terminated|timeout exceeded when trying to connect|Driver not Connected/i.test(message ?? '')
  ) {
    return new Problem(
      503,
      'Database not reached',
      'The database does not answer. What you entered is kept in this browser and sent when it is back.',
    );
  }
  if (status !== undefined && status >= 400 && status < 500)
    return new Problem(status, 'Request not understood', message ?? 'The request is not understood.');
  return new Problem(
    500,
    'Something went wrong',
    'The server met a fault that it did not expect. Try again; what you entered is kept in this browser.',
  );
}

const isConnectionLoss = (code: string | undefined): boolean => code !== undefined && CONNECTION_CODES.has(code);

function send(response: Response, { status, title, message, errors, current }: Problem): void {
  const type = `urn:yield:problem:${title.toLowerCase().replaceAll(' ', '-')}`;
  response
    .status(status)
    .type('application/problem+json')
    .send(
      JSON.stringify({
        type,
        title,
        status,
        detail: message,
        errors: errors.length > 0 ? errors : [{ pointer: '', message }],
        ...(current === undefined ? {} : { current }),
      }),
    );
}
