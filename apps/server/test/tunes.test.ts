import { createHash, randomUUID } from 'node:crypto';
import type { TuneDetail, TuneListRow } from '@yield/contract';
import type { Conditions } from '@yield/core';
import type pg from 'pg';
import type { PostgresDriver } from 'typeorm/driver/postgres/PostgresDriver.js';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { migrate, newDataSource } from '../src/database/dataSource.ts';
import { createDatabase, startTestServer, stepOf, type TestServer } from './testServer.ts';

let server: TestServer;
let bus: TuneDetail;
let conditions: Conditions;

beforeAll(async () => {
  server = await startTestServer();
  await server.api.post('/api/v1/demo').expect(200, { added: 4 });
  const list = (await server.api.get('/api/v1/tunes').expect(200)).body as TuneListRow[];
  bus = (await server.api.get(`/api/v1/tunes/${list.find(({ name }) => name === 'Mobile library bus')!.id}`).expect(200))
    .body as TuneDetail;
  conditions = (await stepOf(server, bus.id, 'gain:reading-right')).conditions!;
});
afterAll(() => server.close());

const at = (path = ''): string => `/api/v1/tunes/${bus.id}${path}`;
const reload = async (): Promise<TuneDetail> => (await server.api.get(at()).expect(200)).body as TuneDetail;
function newReading(value = 9.5): object {
  return {
    stepId: 'gain:reading-right',
    kind: 'gain-voltage',
    value,
    resolution: 0.01,
    conditions,
    takenAt: '2026-03-01T10:00:00.000Z',
  };
}

describe('the database', () => {
  it('has no difference between migrations and entities', async () => {
    const { upQueries } = await server.dataSource.driver.createSchemaBuilder().log();
    expect(upQueries.map(({ query }) => query)).toEqual([]);
  });

  it('is migrated once when several servers start at the same time', async () => {
    const url = await createDatabase();
    const sources = await Promise.all([1, 2, 3].map(() => newDataSource(url).initialize()));
    await Promise.all(sources.map((source) => migrate(source)));
    expect(await sources[0]!.query('SELECT count(*)::int AS n FROM migrations')).toEqual([{ n: sources[0]!.migrations.length }]);
    await Promise.all(sources.map((source) => source.destroy()));
  });

  it('outlives a client that is told twice of its end: a database that dies says so, and then breaks off', async () => {
    const source = await newDataSource(await createDatabase()).initialize();
    const pool = (source.driver as PostgresDriver).master as pg.Pool;
    const client = await pool.connect();
    client.release(new Error('the first word'));
    // Without a listener this would be thrown, and end the server.
    expect(() => client.emit('error', new Error('the second word'))).not.toThrow();
    expect(await source.query('SELECT 1 AS n')).toEqual([{ n: 1 }]);
    await source.destroy();
  });

  it('undoes its migrations', async () => {
    const source = await newDataSource(await createDatabase()).initialize();
    await migrate(source);
    for (const _ of source.migrations) await source.undoLastMigration();
    expect(
      await source.query(
        "SELECT table_name FROM information_schema.tables WHERE table_schema = 'public' AND table_name IN ('tune', 'reading')",
      ),
    ).toEqual([]);
    await source.destroy();
  });
});

describe('tunes', () => {
  it('lists what is next and what needs attention', async () => {
    const list = (await server.api.get('/api/v1/tunes')).body as TuneListRow[];
    expect(list).toHaveLength(4);
    expect(list.find(({ name }) => name === 'Driving-school car')!.summary.attention[0]).toMatchObject({
      // Its proof shows it clipping, so that the gain before it is not done either, and comes first.
      stepId: 'gain:boot',
      status: 'out-of-tolerance',
    });
    expect(list.find(({ name }) => name === 'Camper trailer')!.summary.attention[0]!.status).toBe('stop');
  });

  it('does not load the demo twice', async () => {
    await server.api.post('/api/v1/demo').expect(200, { added: 0 });
  });

  it('makes a tune, puts it away and brings it back', async () => {
    const id = randomUUID();
    await server.api.post('/api/v1/tunes').send({ id, name: 'Ice cart', vehicle: '' }).expect(201);
    await server.api.delete(`/api/v1/tunes/${id}`).expect(204);
    const gone = await server.api.get(`/api/v1/tunes/${id}`).expect(404);
    expect(gone.headers['content-type']).toContain('application/problem+json');
    await server.api.post(`/api/v1/tunes/${id}/restore`).expect(204);
    await server.api.get(`/api/v1/tunes/${id}`).expect(200);
    await server.api.delete(`/api/v1/tunes/${id}`).expect(204);
  });

  it('refuses a stale save of the tune, with what is stored now', async () => {
    const { version, name, vehicle, settings } = await reload();
    const body = { version, name, vehicle, settings: { ...settings, rules: { ...settings.rules, headroomDb: 1 } } };
    const saved = await server.api.put(at()).send(body).expect(200);
    expect((saved.body as { version: number }).version).toBe(version + 1);
    const refused = await server.api
      .put(at())
      .send({ ...body, name: 'Other' })
      .expect(409);
    expect(refused.body).toMatchObject({ status: 409, current: { name, settings: { rules: { headroomDb: 1 } } } });
    await server.api
      .put(at())
      .send({ version: version + 1, name, vehicle, settings })
      .expect(200);
  });

  it('refuses a stale save of the chain, and a chain that cannot be', async () => {
    const { chain } = await reload();
    const louder = { ...chain.body, source: { ...chain.body.source, workingVolume: 35 } };
    await server.api.put(at('/chain')).send({ version: chain.version, chain: louder }).expect(200);
    const refused = await server.api.put(at('/chain')).send({ version: chain.version, chain: chain.body }).expect(409);
    expect((refused.body as { current: { body: object } }).current.body).toMatchObject({ source: { workingVolume: 35 } });
    const channels = chain.body.channels.map((c, i) => (i === 0 ? { ...c, loadOhm: 3 } : c));
    const impossible = await server.api
      .put(at('/chain'))
      .send({ version: chain.version + 1, chain: { ...chain.body, channels } })
      .expect(422);
    expect(impossible.body).toMatchObject({ errors: [{ pointer: '/chain/channels/0/loadOhm' }] });
    await server.api
      .put(at('/chain'))
      .send({ version: chain.version + 1, chain: chain.body })
      .expect(200);
  });
});

describe('readings', () => {
  it('are stored once, however often and however many at a time they are sent', async () => {
    const id = randomUUID();
    const answers = await Promise.all(Array.from({ length: 20 }, () => server.api.put(at(`/readings/${id}`)).send(newReading())));
    expect(answers.map(({ status }) => status).filter((status) => status === 201)).toHaveLength(1);
    expect(answers.every(({ status }) => status === 200 || status === 201)).toBe(true);
    const [kept, ...more] = (await reload()).readings.filter((r) => r.id === id);
    expect(more).toEqual([]);
    expect(kept).toMatchObject({ value: 9.5, resolution: 0.01, conditions: { sourceVolume: 34 } });
  });

  it('are never overwritten: another figure under the same id is refused', async () => {
    const id = randomUUID();
    await server.api
      .put(at(`/readings/${id}`))
      .send(newReading(9.1))
      .expect(201);
    await server.api
      .put(at(`/readings/${id}`))
      .send(newReading(9.9))
      .expect(422);
    for (const other of [
      { ...newReading(9.1), conditions: { ...conditions, sourceVolume: 12 } },
      { ...newReading(9.1), takenAt: '2026-01-02T03:04:05.000Z' },
      { ...newReading(9.1), resolution: 0.5 },
    ])
      await server.api
        .put(at(`/readings/${id}`))
        .send(other)
        .expect(422);
    expect((await reload()).readings.find((r) => r.id === id)!.value).toBe(9.1);
  });

  it('are voided with a reason and stay', async () => {
    const id = randomUUID();
    await server.api
      .put(at(`/readings/${id}`))
      .send(newReading())
      .expect(201);
    await server.api
      .post(at(`/readings/${id}/void`))
      .send({ reason: ' ' })
      .expect(422);
    await server.api
      .post(at(`/readings/${id}/void`))
      .send({ reason: 'probe slipped' })
      .expect(204);
    // A second reason does not write over the first.
    await server.api
      .post(at(`/readings/${id}/void`))
      .send({ reason: 'something else' })
      .expect(204);
    expect((await reload()).readings.find((r) => r.id === id)!.voidedReason).toBe('probe slipped');
  });

  it.each([
    ['abc', '/value'],
    [-1, '/value'],
    [null, '/value'],
  ])('refuse %j as a value', async (value, pointer) => {
    const refused = await server.api
      .put(at(`/readings/${randomUUID()}`))
      .send({ ...newReading(), value })
      .expect(422);
    expect((refused.body as { errors: { pointer: string }[] }).errors.map((e) => e.pointer)).toContain(pointer);
  });

  it('refuse a load of 0 ohm in their conditions', async () => {
    const reading = newReading() as { conditions: object };
    const refused = await server.api
      .put(at(`/readings/${randomUUID()}`))
      .send({ ...reading, conditions: { ...reading.conditions, loadOhm: 0 } })
      .expect(422);
    expect(refused.body).toMatchObject({ errors: [{ pointer: '/conditions/loadOhm', message: 'load must be above 0 ohm' }] });
  });

  it('need a tune that is there', async () => {
    await server.api.put(`/api/v1/tunes/${randomUUID()}/readings/${randomUUID()}`).send(newReading()).expect(404);
    await server.api.put(`/api/v1/tunes/nonsense/readings/${randomUUID()}`).send(newReading()).expect(404);
  });
});

describe('marks', () => {
  it('are saved by version, from 0 for the first', async () => {
    const path = at('/marks/gain:bass');
    await server.api
      .put(path)
      .send({ version: 0, checks: ['filters'] })
      .expect(200, { stepId: 'gain:bass', checks: ['filters'], version: 1, chainVersion: (await reload()).chain.version });
    await server.api.put(path).send({ version: 0, checks: [] }).expect(409);
    await server.api.put(path).send({ version: 1, checks: [], skippedReason: 'no sub yet' }).expect(200);
    await server.api.put(path).send({ version: 1, checks: [] }).expect(409);
    expect((await reload()).marks.find(({ stepId }) => stepId === 'gain:bass')).toMatchObject({ skippedReason: 'no sub yet', version: 2 });
    await server.api.put(at('/marks/nonsense')).send({ version: 0, checks: [] }).expect(404);
  });
});

describe('captures', () => {
  const csv = `Time,CH1\n${Array.from({ length: 400 }, (_, i) => `${(i * 0.0001).toFixed(4)},${(10 * Math.sin(i * 0.2)).toFixed(4)}`).join('\n')}\n`;
  const query = (): Record<string, string> => ({
    stepId: 'proof:front-left',
    fileName: 'front.csv',
    takenAt: '2026-03-01T10:00:00.000Z',
    conditions: JSON.stringify((newReading() as { conditions: object }).conditions),
  });
  const put = (id: string, body: string | Buffer, type = 'text/csv') =>
    server.api
      .put(at(`/traces/${id}`))
      .query(query())
      .set('content-type', type)
      .send(body);

  it('keep the original bytes with their hash, and come back to the byte', async () => {
    const id = randomUUID();
    expect((await put(id, csv).expect(201)).body).toMatchObject({
      fileName: 'front.csv',
      byteLength: csv.length,
      sha256: createHash('sha256').update(csv).digest('hex'),
    });
    const file = await server.api
      .get(at(`/traces/${id}/file`))
      .expect(200)
      .responseType('blob');
    expect((file.body as Buffer).toString()).toBe(csv);
    await put(id, csv).expect(200);
    await put(id, `${csv}# more\n`).expect(422);
  });

  it('of several megabytes come back to the byte too', async () => {
    const id = randomUUID();
    const large = Buffer.from(`${csv}${'# a comment that fills the file\n'.repeat(300_000)}`);
    await put(id, large).expect(201);
    const file = await server.api
      .get(at(`/traces/${id}/file`))
      .expect(200)
      .responseType('blob');
    expect(Buffer.compare(file.body as Buffer, large)).toBe(0);
  });

  it.each([
    ['an empty file', '', 'empty'],
    ['a picture named .csv', Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]), 'picture'],
    ['time running backwards', 'Time,CH1\n0,1\n1,2\n2,3\n1,4\n', 'backwards'],
  ])('refuse %s, and store nothing', async (_, body, words) => {
    const before = (await reload()).traces.length;
    const refused = await put(randomUUID(), body).expect(422);
    expect((refused.body as { detail: string }).detail).toContain(words);
    expect((await reload()).traces).toHaveLength(before);
  });

  it('are voided with a reason', async () => {
    const id = randomUUID();
    await put(id, csv).expect(201);
    await server.api
      .post(at(`/traces/${id}/void`))
      .send({ reason: 'wrong channel' })
      .expect(204);
    expect((await reload()).traces.find((t) => t.id === id)!.voidedReason).toBe('wrong channel');
  });
});

describe('the order of what is taken', () => {
  const device = randomUUID();
  const send = (id: string, count: number, takenAt: string, sentAt: string, value: number) =>
    server.api
      .put(`/api/v1/tunes/${id}/readings/${randomUUID()}`)
      .set({ 'yield-sent-at': sentAt, 'yield-device': device, 'yield-count': String(count) })
      .send({ ...newReading(), value, takenAt });
  const values = async (id: string): Promise<number[]> =>
    ((await server.api.get(`/api/v1/tunes/${id}`).expect(200)).body as TuneDetail).readings.map(({ value }) => value);
  const aTune = async (): Promise<string> => {
    const id = randomUUID();
    await server.api.post('/api/v1/tunes').send({ id, name: 'Clocks', vehicle: '' }).expect(201);
    return id;
  };

  it('is that of the device’s own count, though its clock was set back between two readings', async () => {
    const id = await aTune();
    const now = Date.now();
    const at = (hours: number): string => new Date(now + hours * 3_600_000).toISOString();
    // Taken at the true time; then the clock went back by three hours, and both were sent.
    await send(id, 1, at(-0.1), at(-3), 1).expect(201);
    await send(id, 2, at(-3.05), at(-3), 2).expect(201);
    const last = await send(id, 3, at(-3.01), at(-3), 3).expect(201);
    expect(await values(id)).toEqual([1, 2, 3]);
    // The browser is told the time that is stored: it puts the reading where the server does.
    const { readings } = (await server.api.get(`/api/v1/tunes/${id}`).expect(200)).body as TuneDetail;
    expect((last.body as { takenAt: string }).takenAt).toBe(readings[2]!.takenAt);
  });

  it('is right again after a server’s clock that was two days ahead, and the difference is told', async () => {
    const id = await aTune();
    const now = new Date().toISOString();
    await send(id, 1, now, now, 1).expect(201);
    await server.dataSource.query(`UPDATE "reading" SET "taken_at" = now() + interval '2 days' WHERE "tune_id" = $1`, [id]);
    await send(id, 2, now, now, 2).expect(201);
    expect(await values(id)).toEqual([1, 2]);
    const { readings } = (await server.api.get(`/api/v1/tunes/${id}`).expect(200)).body as TuneDetail;
    for (const { takenAt, storedAt } of readings) expect(Date.parse(takenAt) - Date.parse(storedAt!)).toBeGreaterThan(3_600_000);
  });

  it.each([
    [{ 'yield-device': 'me', 'yield-count': '1' }, '/yield-device'],
    [{ 'yield-device': device, 'yield-count': 'one' }, '/yield-count'],
  ])('a count that is none is refused: %j', async (headers, pointer) => {
    const id = await aTune();
    const answer = await server.api
      .put(`/api/v1/tunes/${id}/readings/${randomUUID()}`)
      .set({ 'yield-sent-at': new Date().toISOString(), ...headers })
      .send(newReading())
      .expect(422);
    expect((answer.body as { errors: { pointer: string }[] }).errors[0]!.pointer).toBe(pointer);
  });
});

it('a delete whose answer was lost is told the same again', async () => {
  const id = randomUUID();
  await server.api.post('/api/v1/tunes').send({ id, name: 'Twice', vehicle: '' }).expect(201);
  for (let time = 0; time < 3; time += 1) await server.api.delete(`/api/v1/tunes/${id}`).expect(204);
  await server.api.delete(`/api/v1/tunes/${randomUUID()}`).expect(404);
});
