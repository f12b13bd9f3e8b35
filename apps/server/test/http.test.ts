import { OPERATIONS } from '@yield/contract';
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readSettings } from '../src/settings.ts';
import { startTestServer, type TestServer } from './testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer({ traceLimitBytes: 200_000 });
});
afterAll(() => server.close());

const calc = (name: string, body: object) => server.api.post(`/api/v1/calc/${name}`).send(body);
const pointers = (body: unknown): string[] => (body as { errors: { pointer: string }[] }).errors.map(({ pointer }) => pointer);

describe('calculations', () => {
  it.each([
    ['hookup', { mode: 'bridged', loadOhm: 4, minimumStereoOhm: 2 }, { perChannelOhm: 2, verdict: 'fits' }],
    ['target-voltage', { powerWatt: 100, loadOhm: 4 }, { fullScaleVoltage: 20, settingVoltage: 20, overlapDb: 0, powerAtSettingWatt: 100 }],
    ['delivered-power', { voltageRms: 20, currentRms: 2.5, nominalOhm: 4 }, { powerWatt: 50, impedanceOhm: 8, impedanceRiseRatio: 2 }],
    ['sag', { unloadedVoltage: 36, loadedVoltage: 30, loadOhm: 2, predictLoadsOhm: [8] }, { sourceOhm: 0.4 }],
  ])('%s answers', async (name, body, wanted) => {
    const answer = (await calc(name, body).expect(200)).body as object;
    for (const [key, value] of Object.entries(wanted)) {
      if (typeof value === 'number') expect((answer as Record<string, number>)[key]).toBeCloseTo(value, 9);
      else expect((answer as Record<string, unknown>)[key]).toBe(value);
    }
  });

  it.each([
    ['two forms at once', { voltageRms: 10, loadOhm: 4, currentRms: 2 }, '/currentRms'],
    ['no form', { voltageRms: 10 }, '/loadOhm'],
    ['an impedance without phase', { voltageRms: 10, impedanceOhm: 4 }, '/phaseDeg'],
    ['a phase with a plain load', { voltageRms: 10, loadOhm: 4, phaseDeg: 10 }, '/phaseDeg'],
  ])('delivered-power refuses %s', async (_, body, pointer) => {
    expect(pointers((await calc('delivered-power', body).expect(422)).body)).toContain(pointer);
  });

  it('trace takes CSV, WAV and JSON alike', async () => {
    const csv = readFileSync(new URL('../../../packages/core/test/reference/results/clipped-hard.csv', import.meta.url), 'utf8');
    const raw = await server.api.post('/api/v1/calc/trace?toneHz=50').set('content-type', 'text/csv').send(csv).expect(200);
    const json = await calc('trace', { csv }).query({ toneHz: 50 }).expect(200);
    expect(raw.body).toMatchObject({ channels: [{ clipping: { verdict: 'clipped' } }] });
    expect(json.body).toEqual(raw.body);
  });

  it('keeps answering while a capture is analysed', async () => {
    const csv = `Time,CH1\n${Array.from({ length: 9000 }, (_, i) => `${(i * 1e-5).toFixed(5)},${Math.sin(i / 9).toFixed(3)}`).join('\n')}\n`;
    const slow = server.api.post('/api/v1/calc/trace').set('content-type', 'text/csv').send(csv);
    const [, quick] = await Promise.all([slow.expect(200), calc('hookup', { mode: 'stereo', loadOhm: 4 }).expect(200)]);
    expect(quick.body).toMatchObject({ verdict: 'unknown' });
  });
});

describe('problems', () => {
  it.each([
    ['malformed JSON', '{"mode": 4,', 'application/json', 400],
    ['a list instead of an object', '[]', 'application/json', 422],
    ['a number instead of an object', '4', 'application/json', 422],
    ['a body that is too large', JSON.stringify({ mode: 'x'.repeat(1_100_000) }), 'application/json', 413],
    ['another kind of body', 'mode=stereo', 'application/x-www-form-urlencoded', 415],
  ])('%s', async (_, body, type, status) => {
    const answer = await server.api.post('/api/v1/calc/hookup').set('content-type', type).send(body).expect(status);
    expect(answer.headers['content-type']).toContain('application/problem+json');
    expect(answer.body).toMatchObject({
      status,
      title: expect.any(String) as string,
      detail: expect.any(String) as string,
      type: expect.any(String) as string,
    });
    expect(pointers(answer.body).length).toBeGreaterThan(0);
  });

  it('a capture over the limit is 413 and says what to do', async () => {
    const answer = await server.api.post('/api/v1/calc/trace').set('content-type', 'text/csv').send('1,2\n'.repeat(60_000)).expect(413);
    expect((answer.body as { detail: string }).detail).toContain('shorter stretch');
  });

  it('an unknown address is 404 with a hint', async () => {
    expect(((await calc('levitation', {}).expect(404)).body as { detail: string }).detail).toContain('openapi.json');
    await server.api.get('/api/v1/nothing').expect(404);
  });

  it('a database that is gone is 503 in words, and calculations go on', async () => {
    const lonely = await startTestServer();
    await lonely.dataSource.destroy();
    const answer = await lonely.api.get('/api/v1/tunes').expect(503);
    expect((answer.body as { detail: string }).detail).toContain('kept in this browser');
    await lonely.api.get('/api/v1/health').expect(503);
    await lonely.api.post('/api/v1/calc/hookup').send({ mode: 'stereo', loadOhm: 4 }).expect(200);
    await lonely.close();
  });
});

describe('the OpenAPI document', () => {
  it('names every route, and every operation that it names is routed', async () => {
    const { paths } = (await server.api.get('/api/v1/openapi.json').expect(200)).body as {
      paths: Record<string, Record<string, { operationId: string }>>;
    };
    const named = Object.values(paths).flatMap((methods) => Object.values(methods).map(({ operationId }) => operationId));
    expect((server.app.locals.operations as string[]).toSorted()).toEqual(named.toSorted());
  });
  it('answers every address in it, and nothing beside it', async () => {
    for (const { id, method, path } of OPERATIONS) {
      const address = `/api/v1${path}`.replace(/\{(tuneId|traceId|readingId|editId|gearId)\}/g, '00000000-0000-4000-8000-000000000000');
      const answer = await server.api[method as 'get'](address.replace('{stepId}', 'gain:x').replace('{version}', '1'));
      expect([id, answer.status < 500, (answer.body as { detail?: string }).detail ?? '']).toEqual([
        id,
        true,
        expect.not.stringMatching(/There is (nothing|no calculation) at/),
      ]);
    }
    const beside = await server.api.get('/api/v1/nothing-here').expect(404);
    expect((beside.body as { detail: string }).detail).toContain('There is nothing at');
  });
});

describe('settings', () => {
  const DATABASE_URL = 'postgres://x';
  it('have defaults', () => {
    expect(readSettings({ DATABASE_URL })).toMatchObject({ port: 4620, host: '127.0.0.1', traceLimitBytes: 256e6, jsonLimitBytes: 1e6 });
  });
  it.each([
    [{}, 'DATABASE_URL'],
    [{ DATABASE_URL, PORT: 'x' }, 'PORT'],
    [{ DATABASE_URL, YIELD_TRACE_LIMIT_MB: '5000' }, 'YIELD_TRACE_LIMIT_MB'],
  ])('name the variable at fault: %j', (env, name) => {
    expect(() => readSettings(env)).toThrow(name);
  });
});
