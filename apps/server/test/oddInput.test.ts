// Something odd that comes in stands in the way of nothing else: it is refused with its place, or it stays alone.
import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import type { BroughtIn, TuneDetail, TuneListRow } from '@yield/contract';
import type { Fault, RunReport } from '@yield/core';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { brokenLines } from '../../../scripts/lib/brokenLines.mjs';
import { damagedArchives } from '../../../scripts/lib/damagedArchives.mjs';
import { oddValues } from '../../../scripts/lib/oddValues.mjs';
import { twoDevices } from '../../../scripts/lib/twoDevices.mjs';
import { unzipped, withFiles } from '../../../scripts/lib/zipFiles.mjs';
import { QueryRunnerAlreadyReleasedError } from 'typeorm';
import { problemOf } from '../src/problem.ts';
import { createDatabase, startTestServer, type TestServer } from './testServer.ts';

const BUS = '3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0001';
const CAR = '3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0002';

let server: TestServer;
let url: string;
let bus: TuneDetail;
let close: () => void;
beforeAll(async () => {
  server = await startTestServer({ holdsOddData: true });
  await server.api.post('/api/v1/demo').expect(200);
  const listener = server.app.listen(0, '127.0.0.1');
  await once(listener, 'listening');
  url = `http://127.0.0.1:${(listener.address() as AddressInfo).port}`;
  close = () => listener.close();
  bus = (await server.api.get(`/api/v1/tunes/${BUS}`).expect(200)).body as TuneDetail;
});
afterAll(async () => {
  close();
  await server.close();
});

const faultsOf = ({ body }: { body: unknown }): Fault[] => (body as { errors: Fault[] }).errors;
const wholeReading = () => bus.readings.find(({ conditions }) => conditions.at === 'ohm' && conditions.network !== undefined)!;

describe('a network that is none', () => {
  const reading = (network: string) => {
    const { stepId, kind, value, resolution, conditions, takenAt } = wholeReading();
    return { stepId, kind, value, resolution, takenAt, conditions: { ...conditions, network } };
  };
  it.each(['A1 and B1', '__proto__', '((', ''])('“%s” is refused at the door, with its place', async (network) => {
    const answer = await server.api.put(`/api/v1/tunes/${BUS}/readings/${randomUUID()}`).send(reading(network)).expect(422);
    expect(faultsOf(answer)[0]!.pointer).toBe('/conditions/network');
  });

  it('that is stored already takes nothing with it, and can be voided', async () => {
    const id = randomUUID();
    const { stepId, kind, conditions } = wholeReading();
    await server.dataSource.query(
      `INSERT INTO "reading" ("id", "tune_id", "step_id", "kind", "value", "resolution", "conditions", "taken_at") VALUES ($1, $2, $3, $4, 4, 0.1, $5, now())`,
      [id, BUS, stepId, kind, JSON.stringify({ ...conditions, network: 'A1 and B1' })],
    );
    await server.dataSource.query('UPDATE "tune" SET "changes" = "changes" + 1 WHERE "id" = $1', [BUS]);
    for (const place of ['', `/${BUS}`, `/${BUS}/sheet.pdf`, `/${BUS}/history`, `/${BUS}/export.zip`])
      await server.api.get(`/api/v1/tunes${place}`).expect(200);
    const before = (await server.api.get('/api/v1/tunes').expect(200)).body as TuneListRow[];
    expect(before.find((row) => row.id === BUS)!.summary.attention.concat(before[0]!.summary.attention).length).toBeGreaterThan(0);
    const { steps } = (await server.api.get(`/api/v1/tunes/${BUS}/run`).expect(200)).body as RunReport;
    expect(steps.filter(({ findings }) => findings.some(({ code }) => code === 'cannot-judge')).map((step) => step.id)).toEqual([stepId]);
    expect(steps.find((step) => step.id === stepId)!.action).toEqual({ kind: 'void', of: 'reading', id });
    await server.api.post(`/api/v1/tunes/${BUS}/readings/${id}/void`).send({ reason: 'odd' }).expect(204);
    const after = (await server.api.get(`/api/v1/tunes/${BUS}/run`).expect(200)).body as RunReport;
    expect(JSON.stringify(after)).not.toContain('cannot-judge');
  });
});

describe('a tune that cannot be worked out at all', () => {
  it('is a row that says so, among the others', async () => {
    const id = randomUUID();
    await server.api.post('/api/v1/tunes').send({ id, name: 'Odd chain', vehicle: '' }).expect(201);
    await server.dataSource.query(`UPDATE "chain" SET "body" = '{"source": 4}' WHERE "tune_id" = $1`, [id]);
    await server.dataSource.query('UPDATE "tune" SET "changes" = "changes" + 1 WHERE "id" = $1', [id]);
    const rows = (await server.api.get('/api/v1/tunes').expect(200)).body as TuneListRow[];
    expect(rows.find((row) => row.id === id)!.summary.fault).toContain('cannot be worked out');
    expect(rows.find((row) => row.id === BUS)!.summary.total).toBeGreaterThan(0);
    await server.api.get('/api/v1/gear').expect(200);
    await server.api.get('/api/v1/export.zip').expect(200);
    await server.api.delete(`/api/v1/tunes/${id}`).expect(204);
  });
});

it('every field, with odd values in it: refused with its place, or everything else answers', async () => {
  const { asked, accepted, refused, faults } = await oddValues(url, { seed: 11, writes: 200, archives: 6 });
  expect(faults).toEqual([]);
  expect(asked).toBe(accepted + refused);
  expect(Math.min(accepted, refused)).toBeGreaterThan(30);
}, 240_000);

it('archives, altered at random, half of them with their hashes made anew: refused, or everything else answers', async () => {
  const { faults, refused } = await damagedArchives(url, { seed: 3, archives: 30 });
  expect(faults).toEqual([]);
  expect(refused).toBeGreaterThan(5);
}, 120_000);

it('two devices whose clocks jump, in any order: stored once, each in its own order', async () => {
  const { faults, sent } = await twoDevices(url, { seed: 9, runs: 12 });
  expect(faults).toEqual([]);
  expect(sent).toBeGreaterThan(70);
}, 120_000);

describe('JSON', () => {
  const nested = (depth: number) => `${'['.repeat(depth)}${']'.repeat(depth)}`;
  it.each([
    ['/api/v1/calc/hookup', 'post'],
    ['/api/v1/shop', 'put'],
    [`/api/v1/gear/${randomUUID()}`, 'put'],
    [`/api/v1/tunes/${BUS}/edits/${randomUUID()}`, 'put'],
    [`/api/v1/tunes/${BUS}/marks/gain:x`, 'put'],
  ] as const)('nested 3,000 and 100,000 deep is refused at %s', async (place, method) => {
    for (const depth of [3_000, 100_000]) {
      const answer = await server.api[method](place)
        .set('content-type', 'application/json')
        .send(`{"mode":${nested(depth)}}`)
        .expect(422);
      expect(faultsOf(answer)[0]!.pointer.startsWith('/mode')).toBe(true);
      expect(answer.text.length).toBeLessThan(20_000);
    }
  });
  it.each([5e-324, 1e-200, 1e200])('a figure of %d is refused with its place', async (resonanceHz) => {
    const body = { driver: { resonanceHz, qMechanical: 4, qElectrical: 0.5, dcOhm: 3.4 }, frequenciesHz: [50] };
    const answer = await server.api.post('/api/v1/calc/impedance').send(body).expect(422);
    expect(faultsOf(answer).map(({ pointer }) => pointer)).toContain('/driver/resonanceHz');
  });
  it('that is not UTF-8, or in another set of characters, is refused', async () => {
    const bytes = Buffer.from([0x7b, 0x22, 0xff, 0x22, 0x3a, 0x31, 0x7d]);
    await server.api.post('/api/v1/calc/hookup').set('content-type', 'application/json').send(bytes.toString('latin1')).expect(422);
    await server.api.post('/api/v1/calc/hookup').set('content-type', 'application/json; charset=utf-16').send('{}').expect(415);
  });
  it('of a megabyte is read on a thread; the server answers meanwhile', async () => {
    const zeros = JSON.stringify({ drivers: Array.from({ length: 400_000 }, () => 0) });
    let slowest = 0;
    const done = new AbortController();
    const watch = (async () => {
      while (!done.signal.aborted) {
        const began = performance.now();
        await (await fetch(`${url}/api/v1/health`)).arrayBuffer();
        slowest = Math.max(slowest, performance.now() - began);
      }
    })();
    const answers = await Promise.all(
      Array.from({ length: 4 }, () => server.api.post('/api/v1/calc/load-options').set('content-type', 'application/json').send(zeros)),
    );
    done.abort();
    await watch;
    expect(answers.map(({ status }) => status)).toEqual([422, 422, 422, 422]);
    // Measured, and goals held to, in the bench; here only that it is not held up for as long as the work takes.
    expect(slowest).toBeLessThan(2000);
  });
});

describe('times', () => {
  const at = (takenAt: string) => {
    const { stepId, kind, value, resolution, conditions } = wholeReading();
    return server.api.put(`/api/v1/tunes/${BUS}/readings/${randomUUID()}`).send({ stepId, kind, value, resolution, conditions, takenAt });
  };
  it.each([
    '0000-01-01T00:00:00Z',
    '1969-12-31T23:59:59Z',
    '2026-01-01T00:00:00+23:59',
    '2026-01-01T00:00:00-14:01',
    '2026-02-30T00:00:00Z',
  ])('%s is refused with its place', async (takenAt) => {
    expect(faultsOf(await at(takenAt).expect(422))[0]!.pointer).toBe('/takenAt');
  });
  it.each(['-271821-04-20T00:00:00.000Z', '+275760-09-13T00:00:00.000Z', 'yesterday', ''])(
    'a client’s clock at “%s” is refused',
    async (sentAt) => {
      const answer = await server.api.post('/api/v1/tunes').set('yield-sent-at', sentAt).send({ id: randomUUID(), name: 'x', vehicle: '' });
      expect(answer.status).toBe(422);
      expect(faultsOf(answer)[0]!.pointer).toBe('/yield-sent-at');
    },
  );
});

describe('archives', () => {
  const archive = async () => {
    const bytes = Buffer.from(await (await fetch(`${url}/api/v1/tunes/${CAR}/export.zip`)).arrayBuffer());
    const files = await unzipped(bytes);
    const name = [...files.keys()].find((each) => each.endsWith('/tune.json'))!;
    return { files, name, tune: JSON.parse(files.get(name)!.toString()) as Record<string, unknown> & { operations: { body: unknown }[] } };
  };
  const bringIn = async (bytes: Buffer) => server.api.post('/api/v1/import').set('content-type', 'application/zip').send(bytes);
  const withTune = async (change: (tune: Awaited<ReturnType<typeof archive>>['tune']) => string) => {
    const { files, name, tune } = await archive();
    return bringIn(await withFiles(files, new Map([[name, Buffer.from(change(tune))]])));
  };

  it('with a count that the database cannot count on from are refused', async () => {
    const answer = await withTune((tune) => JSON.stringify({ ...tune, changes: 2_147_483_647 }));
    expect(answer.status).toBe(422);
    expect(faultsOf(answer)[0]!.pointer).toMatch(/\/changes$/);
  });
  it.each([
    ['nested deep', (depth: number) => `${'{"a":'.repeat(depth)}1${'}'.repeat(depth)}`, 3_600],
    ['nested very deep', (depth: number) => `${'{"a":'.repeat(depth)}1${'}'.repeat(depth)}`, 80_000],
    ['with very many values', (count: number) => `{"a":[${'0,'.repeat(count)}0]}`, 240_000],
    ['with very long texts', (length: number) => `{"a":"${'x'.repeat(length)}"}`, 3_000_000],
  ])('whose history is %s are refused soon, and nothing waits', async (_, bodyOf, size) => {
    const began = performance.now();
    const answer = await withTune((tune) => JSON.stringify(tune).replace('"body":{', `"body":{"odd":${bodyOf(size)},`));
    expect(answer.status).toBe(422);
    expect(performance.now() - began).toBeLessThan(20_000);
    await server.api.get('/api/v1/health').expect(200);
  });
  it('of a tune that was put away bring it back', async () => {
    const { files } = await archive();
    const bytes = await withFiles(files, new Map());
    await server.api.delete(`/api/v1/tunes/${CAR}`).expect(204);
    expect((await bringIn(bytes)).body as BroughtIn[]).toMatchObject([{ id: CAR, outcome: 'restored' }]);
    await server.api.get(`/api/v1/tunes/${CAR}`).expect(200);
  });
});

describe('answers', () => {
  it('a connection that is used up or gone is 503, and says when to try again', async () => {
    for (const error of [Object.assign(new Error('too many clients'), { code: '53300' }), new QueryRunnerAlreadyReleasedError()])
      expect(problemOf(error).status).toBe(503);
    const lonely = await startTestServer({ holdsOddData: true });
    await lonely.dataSource.destroy();
    const answer = await lonely.api.get('/api/v1/tunes').expect(503);
    expect(Number(answer.headers['retry-after'])).toBeGreaterThan(0);
    await lonely.close();
  });
  it('the head of events ends', async () => {
    const answer = await fetch(`${url}/api/v1/tunes/${BUS}/events?device=${randomUUID()}`, {
      method: 'HEAD',
      signal: AbortSignal.timeout(5000),
    });
    expect([answer.status, answer.headers.get('content-type')]).toEqual([200, expect.stringContaining('text/event-stream')]);
  });
  it.each([
    ['POST', '/nothing'],
    ['GET', '/nothing'],
    ['DELETE', '/assets/x.js'],
  ])('%s %s is a plain problem too', async (method, place) => {
    const answer = await fetch(`${url}${place}`, { method });
    expect([answer.status, answer.headers.get('content-type')]).toEqual([404, expect.stringContaining('application/problem+json')]);
  });
});

it('outlives every line to the database that breaks, whatever it was doing', async () => {
  const target = new URL(await createDatabase());
  expect(target.host).toBe(new URL(inject('databaseUrl')).host);
  const { faults, table } = await brokenLines(target.href, { seed: 5, rounds: 24 });
  expect(faults).toEqual([]);
  expect(Object.keys(table)).toContain('export');
}, 240_000);
