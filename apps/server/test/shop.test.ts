import { randomUUID } from 'node:crypto';
import type { ArchivedTune, ShopSettings, TuneDetail } from '@yield/contract';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startTestServer, type TestServer } from './testServer.ts';

describe('the shop, copies and the archive', () => {
  let server: TestServer;
  beforeAll(async () => {
    server = await startTestServer();
  });
  afterAll(() => server.close());
  const shop = async (): Promise<ShopSettings> => (await server.api.get('/api/v1/shop').expect(200)).body as ShopSettings;
  const newTune = async (name: string): Promise<TuneDetail> =>
    (await server.api.post('/api/v1/tunes').send({ id: randomUUID(), name, vehicle: '' }).expect(201)).body as TuneDetail;

  it('has house rules and a meter of its own, which every new tune begins with and no other one gets', async () => {
    const usual = await shop();
    // The usual tone is one that the usual meter reads well.
    expect(usual.settings.rules.otherToneHz).toBeLessThanOrEqual(usual.settings.meter.highestHz);
    const before = await newTune('Before');
    const settings = { ...usual.settings, meter: { ...usual.settings.meter, counts: 5999 } };
    const saved = (await server.api.put('/api/v1/shop').send({ version: usual.version, settings }).expect(200)).body as ShopSettings;
    expect(saved).toEqual({ version: usual.version + 1, settings });
    // The same save once more came too late, and is told what is stored.
    const stale = await server.api.put('/api/v1/shop').send({ version: usual.version, settings });
    expect([stale.status, (stale.body as { current: ShopSettings }).current]).toEqual([409, saved]);
    await server.api.put('/api/v1/shop').send({ version: saved.version, settings }).expect(200);
    expect((await newTune('After')).settings.meter.counts).toBe(5999);
    const again = (await server.api.get(`/api/v1/tunes/${before.id}`).expect(200)).body as TuneDetail;
    expect(again.settings).toEqual(usual.settings);
    await server.api
      .put('/api/v1/shop')
      .send({ version: 1, settings: { rules: {} } })
      .expect(422);
  });

  it('copies a tune with its chain and settings, and nothing measured', async () => {
    await server.api.post('/api/v1/demo').expect(200);
    const bus = '3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0001';
    const of = (await server.api.get(`/api/v1/tunes/${bus}`).expect(200)).body as TuneDetail;
    const id = randomUUID();
    const copy = (await server.api.post(`/api/v1/tunes/${bus}/copy`).send({ id, name: 'Second bus', vehicle: '' }).expect(201))
      .body as TuneDetail;
    expect(copy).toMatchObject({ id, name: 'Second bus', settings: of.settings, readings: [], traces: [], marks: [] });
    expect(copy.chain.body).toEqual(of.chain.body);
    await server.api.post(`/api/v1/tunes/${randomUUID()}/copy`).send({ id: randomUUID(), name: 'x', vehicle: '' }).expect(404);
  });

  it('lists what was put away until it is brought back', async () => {
    const { id } = await newTune('Put away');
    const archive = async (): Promise<string[]> =>
      ((await server.api.get('/api/v1/tunes/archive').expect(200)).body as ArchivedTune[]).map((tune) => tune.id);
    await server.api.delete(`/api/v1/tunes/${id}`).expect(204);
    expect(await archive()).toContain(id);
    await server.api.post(`/api/v1/tunes/${id}/restore`).expect(204);
    expect(await archive()).not.toContain(id);
  });

  it('counts changes cheaply, and a voided reading again', async () => {
    const { id } = await newTune('Counted');
    const changes = async (): Promise<number> =>
      ((await server.api.get(`/api/v1/tunes/${id}/changes`).expect(200)).body as { changes: number }).changes;
    const first = await changes();
    await server.api
      .put(`/api/v1/tunes/${id}/marks/flat:stick`)
      .send({ version: 0, checks: ['bass'] })
      .expect(200);
    expect(await changes()).toBe(first + 1);
    const readingId = randomUUID();
    const conditions = { at: 'ohm', nominalOhm: 4, leadOhm: 0, meterPercent: 1, meterDigitsOhm: 0.1 };
    const body = {
      stepId: 'whole:a',
      kind: 'whole-resistance',
      value: 3.3,
      resolution: 0.1,
      takenAt: '2026-03-01T10:00:00.000Z',
      conditions,
    };
    await server.api.put(`/api/v1/tunes/${id}/readings/${readingId}`).send(body).expect(201);
    const voided = async (): Promise<string | undefined> =>
      ((await server.api.get(`/api/v1/tunes/${id}`).expect(200)).body as TuneDetail).readings[0]!.voidedReason;
    await server.api.post(`/api/v1/tunes/${id}/readings/${readingId}/void`).send({ reason: 'slipped' }).expect(204);
    expect(await voided()).toBe('slipped');
    await server.api.post(`/api/v1/tunes/${id}/readings/${readingId}/restore`).expect(204);
    expect(await voided()).toBeUndefined();
    await server.api.post(`/api/v1/tunes/${id}/readings/${randomUUID()}/restore`).expect(404);
  });
});
