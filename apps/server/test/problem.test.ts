import { CoreError } from '@yield/core';
import { describe, expect, it } from 'vitest';
import { faulty, notFound, Problem, problemOf, staleSave } from '../src/problem.ts';

describe('an error becomes an answer', () => {
  const cases: [string, unknown, number, string][] = [
    [
      'a fault of the core',
      new CoreError('INPUT_INVALID', [{ pointer: '/loadOhm', message: 'load must be above 0 ohm' }]),
      422,
      'load must be above 0 ohm',
    ],
    ['an unreadable capture', new CoreError('CAPTURE_EMPTY', [{ pointer: '', message: 'The file is empty.' }]), 422, 'The file is empty.'],
    ['a body that is too large', { type: 'entity.too.large', limit: 256e6 }, 413, 'more than 256 MB'],
    ['malformed JSON', { type: 'entity.parse.failed' }, 400, 'not valid JSON'],
    ['an unknown encoding', { type: 'encoding.unsupported', message: 'unsupported content encoding' }, 415, 'unsupported content encoding'],
    ['a transfer that broke off', { type: 'request.aborted' }, 400, 'Send it again'],
    ['a refused connection', { code: 'ECONNREFUSED' }, 503, 'kept in this browser'],
    ['a server that is shutting down', { driverError: { code: '57P01' } }, 503, 'kept in this browser'],
    ['a connection that was cut', new Error('Connection terminated unexpectedly'), 503, 'kept in this browser'],
    ['a pool that waits too long', new Error('timeout exceeded when trying to connect'), 503, 'kept in this browser'],
    ['a tune that went away meanwhile', { driverError: { code: '23503' } }, 404, 'The tune is not there'],
    ['another refusal of the framework', { status: 416, message: 'Range Not Satisfiable' }, 416, 'not understood'],
    [
      'a file that is not there',
      { status: 404, message: "ENOENT: no such file, stat '/srv/app'", code: 'ENOENT' },
      404,
      'nothing at this address',
    ],
    ['a full disk', { driverError: { code: '53100' } }, 507, 'disk of the database is full'],
    ['a statement that takes too long', { driverError: { code: '57014' } }, 503, 'busy'],
    ['a programming fault', new TypeError('x is not a function'), 500, 'did not expect'],
    ['nothing at all', undefined, 500, 'did not expect'],
  ];
  it.each(cases)('from %s', (_, error, status, detail) => {
    const problem = problemOf(error);
    expect(problem.status).toBe(status);
    expect(problem.message).toContain(detail);
  });

  it('never shows the inside of a programming fault', () => {
    expect(problemOf(new Error('password=secret')).message).not.toContain('secret');
  });

  it('passes a problem through as it is', () => {
    const problem = new Problem('too-much', 'short and stout');
    expect(problemOf(problem)).toBe(problem);
  });
});

describe('the usual problems', () => {
  it('say what is missing', () => {
    expect(notFound('This tune')).toMatchObject({ status: 404, message: expect.stringContaining('This tune is not there') as string });
  });
  it('carry what is stored, for a stale save', () => {
    expect(staleSave('The chain', { version: 4 })).toMatchObject({
      status: 409,
      current: { version: 4 },
      errors: [{ pointer: '/version' }],
    });
  });
  it('join the words of several faults', () => {
    const problem = faulty([
      { pointer: '/a', message: 'one' },
      { pointer: '/b', message: 'two' },
    ]);
    expect(problem).toMatchObject({ status: 422, message: 'one; two' });
  });
});
