// The list of tunes, in pages, sought and sorted, for many readers at once.
import { randomUUID } from 'node:crypto';
import type { TuneListRow } from '@yield/contract';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startTestServer, type TestServer } from './testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
  for (const [name, vehicle] of [
    ['Bread van', 'long wheelbase'],
    ['ambulance', 'retired'],
    ['Cargo trike', 'electric'],
    ['Mower', '100 % petrol'],
    ['Drill wagon', 'long wheelbase'],
  ])
    await server.api.post('/api/v1/tunes').send({ id: randomUUID(), name, vehicle }).expect(201);
});
afterAll(() => server.close());

async function list(query: Record<string, unknown> = {}): Promise<{ names: string[]; total: number }> {
  const answer = await server.api.get('/api/v1/tunes').query(query).expect(200);
  return { names: (answer.body as TuneListRow[]).map(({ name }) => name), total: Number(answer.headers['x-total-count']) };
}

describe('the list of tunes', () => {
  it('comes in pages, and says how many there are in all', async () => {
    expect(await list({ sort: 'name', limit: 2 })).toEqual({ names: ['ambulance', 'Bread van'], total: 5 });
    expect(await list({ sort: 'name', limit: 2, offset: 4 })).toEqual({ names: ['Mower'], total: 5 });
    expect((await list()).names[0]).toBe('Drill wagon');
  });
  it.each([
    ['LONG', ['Bread van', 'Drill wagon']],
    ['100 %', ['Mower']],
    ['_', []],
    ["o'", []],
  ])('is sought for %s by letters, not by signs', async (search, names) => {
    expect((await list({ search, sort: 'name' })).names).toEqual(names);
  });
  it.each([{ limit: 0 }, { limit: 501 }, { offset: -1 }, { sort: 'size' }, { search: 'a\u0000' }, { page: 2 }])(
    'refuses %j',
    async (query) => {
      await server.api.get('/api/v1/tunes').query(query).expect(422);
    },
  );
  it('answers sixty readers at once while tunes are changed, none with an error', async () => {
    const answers = await Promise.all(
      Array.from({ length: 60 }, async (_, i) => {
        if (i % 6 === 0) await server.api.post('/api/v1/tunes').send({ id: randomUUID(), name: `More ${i}`, vehicle: '' });
        return (await server.api.get('/api/v1/tunes')).status;
      }),
    );
    expect(answers.every((status) => status === 200)).toBe(true);
    expect((await list()).total).toBe(15);
  });
});
