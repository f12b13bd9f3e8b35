import { randomUUID } from 'node:crypto';
import { once } from 'node:events';
import { get, type IncomingMessage } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { HistoryRow, TuneChanges, TuneDetail, TuneEvent } from '@yield/contract';
import { changesBetween, inverseOf, type Chain, type ChainChange } from '@yield/core';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { startTestServer, type TestServer } from './testServer.ts';

const BUS = '3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0001';

describe('edits, their record, and who is told', () => {
  let server: TestServer;
  let other: TestServer;
  beforeAll(async () => {
    server = await startTestServer();
    // A second server over the same database.
    other = await startTestServer({ databaseUrl: server.databaseUrl });
    await server.api.post('/api/v1/demo').expect(200);
  });
  afterAll(async () => {
    await other.close();
    await server.close();
  });

  let id: string;
  beforeEach(async () => {
    id = randomUUID();
    await server.api.post(`/api/v1/tunes/${BUS}/copy`).send({ id, name: 'A copy', vehicle: '' }).expect(201);
  });
  const read = async (): Promise<TuneDetail> => (await server.api.get(`/api/v1/tunes/${id}`).expect(200)).body as TuneDetail;
  const history = async (query = ''): Promise<HistoryRow[]> =>
    (await server.api.get(`/api/v1/tunes/${id}/history${query}`).expect(200)).body as HistoryRow[];
  const edit = (changes: readonly ChainChange[], { seen = 1, kind = 'chain', editId = randomUUID(), who = '' } = {}) =>
    server.api.put(`/api/v1/tunes/${id}/edits/${editId}`).set('yield-who', encodeURIComponent(who)).send({ kind, seen, changes });
  const renamed = (chain: Chain, at: number, name: string): Chain => ({
    ...chain,
    channels: chain.channels.map((channel, i) => (i === at ? { ...channel, name } : channel)),
  });

  it('merges edits of different fields, made on one and the same revision', async () => {
    const { body: chain } = (await read()).chain;
    await edit(changesBetween(chain, renamed(chain, 0, 'By one'))).expect(200);
    await edit(changesBetween(chain, renamed(chain, 1, 'By another'))).expect(200);
    const { version, body } = (await read()).chain;
    expect(version).toBe(3);
    expect(body.channels.slice(0, 2).map(({ name }) => name)).toEqual(['By one', 'By another']);
  });

  it('refuses the second edit of one field with what is stored, and takes it once that was seen', async () => {
    const { body: chain } = (await read()).chain;
    await edit(changesBetween(chain, renamed(chain, 0, 'By one'))).expect(200);
    const refused = await edit(changesBetween(chain, renamed(chain, 0, 'By another'))).expect(409);
    const { current } = refused.body as { current: { version: number; body: Chain } };
    expect(current.body.channels[0]!.name).toBe('By one');
    await edit(changesBetween(current.body, renamed(current.body, 0, 'By another')), { seen: current.version }).expect(200);
    // The same to the same end is no conflict.
    await edit(changesBetween(chain, renamed(chain, 0, 'By another'))).expect(200);
  });

  it('does an edit once, however often it is sent, and no other one under its id', async () => {
    const { body: chain } = (await read()).chain;
    const changes = changesBetween(chain, renamed(chain, 0, 'Once'));
    const editId = randomUUID();
    const first = await edit(changes, { editId }).expect(200);
    expect((await edit(changes, { editId }).expect(200)).body).toEqual(first.body);
    expect((await history()).filter(({ kind }) => kind === 'chain')).toHaveLength(1);
    await edit(changesBetween(chain, renamed(chain, 0, 'Twice')), { editId }).expect(422);
  });

  it('refuses an edit after which the whole is not valid, and what is no chain at all', async () => {
    const { body: chain } = (await read()).chain;
    const channel = `#${chain.channels[0]!.id}`;
    const path = ['channels', channel, 'loadOhm'];
    const wrong = await edit([{ path, before: chain.channels[0]!.loadOhm, after: 'four' }]).expect(422);
    expect((wrong.body as { errors: { pointer: string }[] }).errors[0]!.pointer).toContain('/channels/0/loadOhm');
    await edit([{ path: ['channels', channel, 'amplifierId'], before: chain.channels[0]!.amplifierId, after: 'nobody' }]).expect(422);
    await edit([{ path: ['constructor', 'prototype'], after: 1 }]).expect(409);
    await edit([{ path: ['__proto__'], after: { a: 1 } }]).expect(422);
    expect((await read()).chain.version).toBe(1);
  });

  it('changes name and settings by field too', async () => {
    const { name, vehicle, settings } = await read();
    const was = { name, vehicle, settings };
    const louder = { ...was, settings: { ...settings, rules: { ...settings.rules, bassToneHz: 45 } } };
    await edit(changesBetween(was, louder), { kind: 'tune' }).expect(200);
    await edit(changesBetween(was, { ...was, name: 'Another name' }), { kind: 'tune' }).expect(200);
    const now = await read();
    expect([now.name, now.settings.rules.bassToneHz]).toEqual(['Another name', 45]);
    await edit([{ path: ['name'], before: 'Another name', after: '' }], { kind: 'tune' }).expect(422);
  });

  it('keeps everything that was accepted on the record, with who and on which revision', async () => {
    const { body: chain } = (await read()).chain;
    const changes = changesBetween(chain, renamed(chain, 0, 'New name'));
    await edit(changes, { who: 'Möwe, laptop' }).expect(200);
    const reading = (await server.api.get(`/api/v1/tunes/${BUS}`)).body as TuneDetail;
    const { id: _id, voidedReason: _v, chainVersion: _c, ...figures } = reading.readings[0]!;
    const readingId = randomUUID();
    await server.api.put(`/api/v1/tunes/${id}/readings/${readingId}`).send(figures).expect(201);
    await server.api.post(`/api/v1/tunes/${id}/readings/${readingId}/void`).send({ reason: 'slipped' }).expect(204);
    await server.api
      .put(`/api/v1/tunes/${id}/marks/${figures.stepId}`)
      .send({ version: 0, checks: [], skippedReason: 'later' })
      .expect(200);
    const inverse = inverseOf(changes);
    await edit(inverse, { seen: 2 }).expect(200);
    const rows = await history();
    expect(rows.map(({ kind, chainVersion }) => [kind, chainVersion])).toEqual([
      ['chain', 3],
      ['mark', 2],
      ['void', 2],
      ['reading', 2],
      ['chain', 2],
      ['copied', 1],
    ]);
    expect(rows.map(({ change }) => change)).toEqual([7, 6, 5, 4, 3, 2]);
    expect(rows[4]).toMatchObject({ who: 'Möwe, laptop', body: { seen: 1, changes } });
    expect(rows[2]).toMatchObject({ subject: readingId, body: { reason: 'slipped' } });
    expect(await history('?limit=2&before=5')).toEqual(rows.slice(3, 5));
    // The chain as it was at this reading.
    const [kept] = (await read()).readings;
    expect(kept!.chainVersion).toBe(2);
    const then = (await server.api.get(`/api/v1/tunes/${id}/chain/${kept!.chainVersion}`).expect(200)).body as { body: Chain };
    expect(then.body.channels[0]!.name).toBe('New name');
    await server.api.get(`/api/v1/tunes/${id}/chain/9`).expect(404);
    await server.api.get(`/api/v1/tunes/${id}/chain/x`).expect(404);
  });

  it('is never written over, not even in the database', async () => {
    await expect(server.dataSource.query(`UPDATE "operation" SET "who" = 'x'`)).rejects.toThrow('only ever added to');
    await expect(server.dataSource.query('DELETE FROM "chain_revision"')).rejects.toThrow('only ever added to');
  });

  it('says what was changed since a count, and no more', async () => {
    const before = await read();
    const { body: chain } = before.chain;
    await edit(changesBetween(chain, renamed(chain, 0, 'New name'))).expect(200);
    const since = async (count: number): Promise<TuneChanges> =>
      (await server.api.get(`/api/v1/tunes/${id}/changes?since=${count}`).expect(200)).body as TuneChanges;
    const changed = await since(before.changes);
    expect(Object.keys(changed).sort()).toEqual(['chain', 'changes']);
    expect(changed.chain!.version).toBe(2);
    expect(await since(changed.changes)).toEqual({ changes: changed.changes });
    await server.api.put(`/api/v1/tunes/${id}/marks/gain:bass`).send({ version: 0, checks: [] }).expect(200);
    expect(await since(changed.changes)).toMatchObject({ marks: [{ stepId: 'gain:bass', version: 1 }] });
    // Before the record began, and on a store whose changes are older than its record.
    expect(await since(0)).toMatchObject({ whole: true });
    await server.dataSource.query('UPDATE "tune" SET "changes" = "changes" + 3 WHERE "id" = $1', [id]);
    expect(await since((await read()).changes - 2)).toMatchObject({ whole: true });
  });

  it('reaches a device at another server of the same database, which also sees who else is there', async () => {
    const [one, two] = [server, other].map(({ app }) => app.listen(0, '127.0.0.1'));
    for (const listener of [one!, two!]) if (!listener.listening) await once(listener, 'listening');
    const phone = await follow(one!.address() as AddressInfo, randomUUID(), 'Phone');
    await phone.until((events) => events.some(({ kind }) => kind === 'devices'));
    const laptop = await follow(two!.address() as AddressInfo, randomUUID(), 'Laptop');
    await phone.until((events) => events.some((event) => event.kind === 'devices' && event.devices.length === 2));
    const { body: chain } = (await read()).chain;
    await edit(changesBetween(chain, renamed(chain, 0, 'Seen elsewhere'))).expect(200);
    const { changes } = await read();
    await laptop.until((events) => events.some((event) => event.kind === 'changed' && event.changes === changes));
    laptop.leave();
    await phone.until((events) => {
      const last = events.findLast((event) => event.kind === 'devices');
      return last?.kind === 'devices' && last.devices.length === 1 && last.devices[0]!.name === 'Phone';
    });
    phone.leave();
    for (const listener of [one!, two!]) {
      listener.closeAllConnections();
      listener.close();
    }
  });

  interface Following {
    until: (holds: (events: readonly TuneEvent[]) => boolean) => Promise<void>;
    leave: () => void;
  }
  async function follow({ port }: AddressInfo, device: string, who: string): Promise<Following> {
    const request = get({ host: '127.0.0.1', port, path: `/api/v1/tunes/${id}/events?device=${device}&who=${who}` });
    const [response] = (await once(request, 'response')) as [IncomingMessage];
    const events: TuneEvent[] = [];
    let rest = '';
    response.setEncoding('utf8');
    response.on('data', (text: string) => {
      const parts = (rest + text).split('\n\n');
      rest = parts.pop() ?? '';
      for (const part of parts) if (part.startsWith('data: ')) events.push(JSON.parse(part.slice(6)) as TuneEvent);
    });
    response.on('error', () => undefined);
    return {
      until: async (holds) => {
        await expect.poll(() => holds(events), { timeout: 10_000 }).toBe(true);
      },
      leave: () => request.destroy(),
    };
  }
});
