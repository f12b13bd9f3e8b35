// Who may speak to the server, and what it lets in.
import { randomUUID } from 'node:crypto';
import type { Fault } from '@yield/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { takenBy } from '../src/clocks.ts';
import { isLoopback, readSettings } from '../src/settings.ts';
import { startTestServer, type TestServer } from './testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer({ traceJsonLimitBytes: 3_000_000 });
});
afterAll(() => server.close());

const create = (body: object, headers: Record<string, string> = {}) => server.api.post('/api/v1/tunes').set(headers).send(body);
const aTune = (): { id: string; name: string; vehicle: string } => ({ id: randomUUID(), name: 'A job', vehicle: '' });
const faultsOf = ({ body }: { body: unknown }): Fault[] => (body as { errors: Fault[] }).errors;

describe('the door', () => {
  it.each(['evil.example', 'localhost.evil.example', '10.0.0.7:4620', 'yield'])('does not answer to the name %s', async (host) => {
    await server.api.get('/api/v1/tunes').set('host', host).expect(421);
  });
  it.each(['localhost:4620', '127.0.0.1:1', '[::1]:4620', '127.1.2.3'])('answers to %s', async (host) => {
    await server.api.get('/api/v1/health').set('host', host).expect(200);
  });
  it.each([
    [{ origin: 'http://evil.example' }, 403],
    [{ origin: 'null' }, 403],
    [{ origin: 'http://127.0.0.1:9', host: '127.0.0.1:4620' }, 403],
    [{ 'sec-fetch-site': 'cross-site' }, 403],
    [{ 'sec-fetch-site': 'same-site' }, 403],
    [{ origin: 'http://127.0.0.1:4620', host: '127.0.0.1:4620' }, 201],
    [{ 'sec-fetch-site': 'same-origin' }, 201],
    [{}, 201],
  ])('a write with %j is %d', async (headers, status) => {
    expect((await create(aTune(), headers as Record<string, string>)).status).toBe(status);
  });
  it('lets no other page calculate with files, or put a tune away', async () => {
    const origin = 'http://evil.example';
    await server.api.post('/api/v1/calc/trace').set({ origin, 'content-type': 'text/csv' }).send('1,2\n').expect(403);
    await server.api.delete(`/api/v1/tunes/${randomUUID()}`).set({ origin }).expect(403);
  });
  it('takes no compressed body', async () => {
    await create(aTune(), { 'content-encoding': 'gzip' }).expect(415);
  });
});

describe('what is let in', () => {
  it.each([
    ['a NUL', { ...aTune(), name: 'a\u0000b' }, '/name'],
    ['half of a character', { ...aTune(), vehicle: 'x\ud800' }, '/vehicle'],
    ['an id in another form', { ...aTune(), id: `urn:uuid:${randomUUID()}` }, '/id'],
  ])('is not %s', async (_, body, pointer) => {
    const answer = await create(body).expect(422);
    expect(faultsOf(answer)[0]!.pointer).toBe(pointer);
  });
  it('is no version that the database cannot hold', async () => {
    const { id } = aTune();
    const answer = await server.api.put(`/api/v1/tunes/${id}/chain`).send({ version: 2 ** 40, chain: {} });
    expect(answer.status).toBe(422);
  });
  it('has at most fifty faults named, in an answer of its own size', async () => {
    const answer = await server.api.post('/api/v1/calc/load-options').send({ drivers: Array.from({ length: 20_000 }, () => 7) });
    expect(answer.status).toBe(422);
    expect(faultsOf(answer).length).toBeLessThanOrEqual(50);
    expect(answer.text.length).toBeLessThan(20_000);
    const long = await server.api.post('/api/v1/calc/hookup').send({ ['x'.repeat(500_000)]: 1 });
    expect([long.status, long.text.length < 5_000]).toEqual([422, true]);
  });
  it('is a capture as JSON up to a limit of its own', async () => {
    const answer = await server.api.post('/api/v1/calc/trace').send({ csv: 'x'.repeat(3_100_000) });
    expect(answer.status).toBe(413);
  });
  it('is no second tune under an id in use; the same request again finds its own', async () => {
    const tune = aTune();
    await create(tune).expect(201);
    await create(tune).expect(201);
    const other = await create({ ...tune, name: 'Another job' }).expect(422);
    expect(faultsOf(other)[0]!.pointer).toBe('/id');
  });
});

describe('clocks', () => {
  const at = (header: string | undefined, takenAt: string, now: string) =>
    takenBy(
      { headers: header === undefined ? {} : { 'yield-sent-at': header } },
      takenAt,
      '/takenAt',
      Date.parse(now),
    ).takenAt.toISOString();
  it.each([
    ['two hours ahead', '2026-05-01T12:00:00Z', '2026-05-01T11:59:00Z', '2026-05-01T10:00:00Z', '2026-05-01T09:59:00.000Z'],
    ['an hour behind', '2026-05-01T09:00:00Z', '2026-05-01T08:59:00Z', '2026-05-01T10:00:00Z', '2026-05-01T09:59:00.000Z'],
    ['set back before it was sent', '2026-05-01T10:00:00Z', '2026-05-01T12:00:00Z', '2026-05-01T10:00:00Z', '2026-05-01T10:00:00.000Z'],
    [
      'off by no more than the way here',
      '2026-05-01T10:00:20Z',
      '2026-05-01T10:00:10Z',
      '2026-05-01T10:00:00Z',
      '2026-05-01T10:00:10.000Z',
    ],
    ['not said by a script', undefined, '2026-04-01T10:00:00Z', '2026-05-01T10:00:00Z', '2026-04-01T10:00:00.000Z'],
  ])('a clock that is %s', (_, sentAt, takenAt, now, wanted) => {
    expect(at(sentAt, takenAt, now)).toBe(wanted);
  });
  it('a time in the year 9999 is refused', () => {
    expect(() => at(undefined, '9999-01-01T00:00:00Z', '2026-05-01T10:00:00Z')).toThrow(/ahead/);
  });
});

describe('settings', () => {
  const base = { DATABASE_URL: 'postgres://x' };
  it('listen on loopback unless it is wanted otherwise, twice', () => {
    expect(readSettings({ ...base, HOST: '' }).host).toBe('127.0.0.1');
    expect(() => readSettings({ ...base, HOST: '0.0.0.0' })).toThrow(/YIELD_ALLOW_EXPOSED/);
    expect(readSettings({ ...base, HOST: '0.0.0.0', YIELD_ALLOW_EXPOSED: '1' }).host).toBe('0.0.0.0');
  });
  it.each([
    ['localhost', true],
    ['127.0.0.1', true],
    ['[::1]', true],
    ['localhost.evil.example', false],
    ['1270.0.0.1', false],
    ['0.0.0.0', false],
  ])('know that %s is loopback: %s', (host, wanted) => expect(isLoopback(host)).toBe(wanted));
});
