// The gear of a shop: what stands in tunes, what was measured on it, and the library beside them.
import { randomUUID } from 'node:crypto';
import type { GearRow } from '@yield/contract';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { startTestServer, type TestServer } from './testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
  await server.api.post('/api/v1/demo').expect(200);
});
afterAll(() => server.close());

const list = async (): Promise<GearRow[]> => (await server.api.get('/api/v1/gear').expect(200)).body as GearRow[];
const named = async (name: string): Promise<GearRow> => {
  const found = (await list()).find((row) => row.name === name);
  if (found === undefined) throw new Error(`no gear is called ${name}`);
  return found;
};
const body = { id: 'amp', name: 'Mono, 250 W at 2 Ω', ratings: [{ mode: 'mono', loadOhm: 2, powerWatt: 260 }] };

it('has what stands in tunes, both sides of a driver once, with what was measured on it', async () => {
  const gear = await list();
  expect(gear.filter(({ kind, name }) => kind === 'driver' && name.startsWith('Door 165 mm')).map(({ name }) => name)).toEqual([
    'Door 165 mm',
  ]);
  const amplifier = await named('Four-channel, 4 × 60 W');
  expect(amplifier).toMatchObject({ kind: 'amplifier', version: 0, tunes: ['Mobile library bus'] });
  const loaded = amplifier.figures.find(({ what }) => what === 'under load, 4 ohm');
  expect(loaded).toMatchObject({ tune: 'Mobile library bus', unit: 'V' });
  expect(loaded!.value).toBeGreaterThan(8);
  expect((await named('Dash unit, 4 V preamp')).figures).toMatchObject([{ what: 'highest clean volume', value: 34, unit: 'step' }]);
});

it('tells how far what was proved of a filter is off what is set there', async () => {
  // Summaries hold it: the list of tunes has them made.
  await server.api.get('/api/v1/tunes').expect(200);
  const { figures } = await named('Four-channel, 4 × 60 W');
  const corner = figures.find(({ unit }) => unit === '%');
  expect(corner).toMatchObject({ tune: 'Mobile library bus' });
  expect(corner!.what).toMatch(/^high-pass of .*, set to \d+/);
  expect(Math.abs(corner!.value)).toBeLessThan(15);
});

it('keeps gear beside the tunes: changed and taken out, no tune changes', async () => {
  const id = randomUUID();
  await server.api.put(`/api/v1/gear/${id}`).send({ version: 0, kind: 'amplifier', body }).expect(200);
  // Sent again it is the same.
  await server.api.put(`/api/v1/gear/${id}`).send({ version: 0, kind: 'amplifier', body }).expect(200);
  const kept = await named(body.name);
  expect(kept).toMatchObject({ id, version: 1, tunes: ['Mobile library bus'], body: { ratings: [{ powerWatt: 260 }] } });
  await server.api
    .put(`/api/v1/gear/${id}`)
    .send({ version: 1, kind: 'amplifier', body: { ...body, fuseAmpere: 30 } })
    .expect(200);
  // Over somebody else's change nobody writes.
  await server.api.put(`/api/v1/gear/${id}`).send({ version: 1, kind: 'amplifier', body }).expect(409);
  await server.api.put(`/api/v1/gear/${randomUUID()}`).send({ version: 0, kind: 'amplifier', body }).expect(422);
  await server.api.delete(`/api/v1/gear/${id}`).expect(204);
  expect((await named(body.name)).body).toMatchObject({ ratings: [{ powerWatt: 150 }, { powerWatt: 250 }] });
});

it('refuses what is no gear, by its field', async () => {
  const answer = await server.api
    .put(`/api/v1/gear/${randomUUID()}`)
    .send({ version: 0, kind: 'driver', body: { ...body, coils: 3 } })
    .expect(422);
  expect(JSON.stringify(answer.body)).toContain('/body/coils');
  await server.api.put(`/api/v1/gear/${randomUUID()}`).send({ version: 0, kind: 'lamp', body }).expect(422);
});
