// The source and the processor of a tune over HTTP, against a real PostgreSQL.
import { say } from '@yield/words';
import { randomUUID } from 'node:crypto';
import { recordedSweep } from '@yield/bench';
import type { TuneDetail } from '@yield/contract';
import { encodeWav, newSituation, runOf, runSummary, seededRandom, SHORT_SWEEP, type LineConditions } from '@yield/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startTestServer, stepOf, type TestServer } from './testServer.ts';

const CAR = '3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0002';
let server: TestServer;
let car: TuneDetail;
const held: Partial<Record<'ceiling' | 'factory', LineConditions>> = {};

beforeAll(async () => {
  server = await startTestServer();
  await server.api.post('/api/v1/demo').expect(200);
  car = await reload();
  held.ceiling = (await stepOf(server, CAR, 'ceiling:preamp-front')).conditions as LineConditions;
  held.factory = (await stepOf(server, CAR, 'factory:source')).conditions as LineConditions;
});
afterAll(() => server.close());

const at = (rest: string): string => `/api/v1/tunes/${CAR}${rest}`;
const reload = async (): Promise<TuneDetail> => (await server.api.get(`/api/v1/tunes/${CAR}`).expect(200)).body as TuneDetail;
const pointersOf = ({ body }: { body: unknown }): string[] =>
  (body as { errors: { pointer: string }[] }).errors.map(({ pointer }) => pointer);
const responseOf = ({ body }: { body: unknown }): unknown => (body as TuneDetail['traces'][number]).analysis.channels[0]!.response;
const conditions = (kind: 'ceiling' | 'factory'): LineConditions => held[kind]!;
const voltage = (changes: object = {}): object => ({
  stepId: 'ceiling:preamp-front',
  kind: 'source-voltage',
  value: 1.9,
  resolution: 0.01,
  conditions: { ...conditions('ceiling'), sourceVolume: 20, caseId: 'flat', eye: 'clean' },
  takenAt: '2026-03-01T10:00:00.000Z',
  ...changes,
});

describe('the demo’s factory unit', () => {
  it('is stored with its sweeps’ responses, and nothing of the run is lost', () => {
    const sweeps = car.traces.filter(({ stepId }) => stepId === 'factory:source');
    expect(sweeps).toHaveLength(2);
    for (const { analysis } of sweeps) expect(analysis.channels[0]!.response).toMatchObject({ kind: 'response', polarity: 'same' });
    const { counts, total } = runSummary(runOf(newSituation(car.chain.body, car.settings, car)), say);
    expect(Object.values(counts).reduce((a, b) => a + b, 0)).toBe(total);
    expect(counts.stale).toBe(0);
  });
});

describe('line readings', () => {
  it('are kept with their conditions, and sent twice stored once', async () => {
    const id = randomUUID();
    await server.api
      .put(at(`/readings/${id}`))
      .send(voltage())
      .expect(201);
    await server.api
      .put(at(`/readings/${id}`))
      .send(voltage())
      .expect(200);
    const kept = (await reload()).readings.find((reading) => reading.id === id);
    expect(kept).toMatchObject(voltage());
  });
  it.each<[string, object, string]>([
    ['an eye that sees something else', { conditions: { eye: 'blurred' } }, '/conditions'],
    ['a load, which is no condition here', { conditions: { loadOhm: 4 } }, '/conditions'],
    ['another kind', { kind: 'speaker-voltage' }, '/kind'],
  ])('refuse %s', async (_, changes, pointer) => {
    const whole = voltage() as { conditions: object };
    const body = {
      ...whole,
      ...changes,
      conditions: { ...whole.conditions, ...('conditions' in changes ? (changes.conditions as object) : {}) },
    };
    const refusal = await server.api
      .put(at(`/readings/${randomUUID()}`))
      .send(body)
      .expect(422);
    expect(pointersOf(refusal).some((fault) => fault.startsWith(pointer))).toBe(true);
  });
});

describe('a Flat list', () => {
  it('keeps the values of its ticks', async () => {
    const mark = { version: 0, checks: ['bass', 'loudness'], values: { bass: '+2', loudness: 'off' } };
    await server.api.put(at('/marks/flat:radio')).send(mark).expect(200);
    const kept = (await reload()).marks.find(({ stepId }) => stepId === 'flat:radio');
    expect(kept).toMatchObject({ checks: mark.checks, values: mark.values });
  });
  it('refuses a value that is no text', async () => {
    await server.api
      .put(at('/marks/flat:radio'))
      .send({ version: 1, checks: [], values: { bass: 2 } })
      .expect(422);
  });
});

describe('a sweep’s recording', () => {
  const upload = (given: Partial<LineConditions>, bytes: Uint8Array) =>
    server.api
      .put(at(`/traces/${randomUUID()}`))
      .query({
        stepId: 'factory:source',
        fileName: 'sweep.wav',
        takenAt: '2026-03-01T10:00:00.000Z',
        conditions: JSON.stringify({ ...conditions('factory'), ...given }),
      })
      .set('content-type', 'audio/wav')
      .send(Buffer.from(bytes));
  const samples = recordedSweep(SHORT_SWEEP, 44_100, 12, seededRandom('upload'));
  const wav = encodeWav([samples], { sampleRateHz: 44_100, bits: 16 });

  it('comes back as a response', async () => {
    const stored = await upload({ sweep: { ...SHORT_SWEEP, labels: ['Rear left'] } }, wav).expect(201);
    expect(responseOf(stored)).toMatchObject({ kind: 'response' });
  });
  it('with another sweep named than was played is told', async () => {
    const sweep = { fromHertz: 200, toHertz: 400, seconds: 3, labels: ['Rear left'] };
    expect(responseOf(await upload({ sweep }, wav).expect(201))).toMatchObject({ kind: 'no-sweep' });
  });
  it('is refused with conditions of an amplifier’s terminals', async () => {
    const refusal = await upload({ loadOhm: 4 } as Partial<LineConditions>, wav).expect(422);
    expect(pointersOf(refusal)).toContain('/conditions/loadOhm');
  });
});

describe('a chain with a processor', () => {
  it.each<[string, (chain: TuneDetail['chain']['body']) => unknown, string]>([
    ['whose channel hangs on nothing', (chain) => ({ ...chain, processor: undefined }), '/chain/channels/0/processorOutputId'],
    ['without inputs', (chain) => ({ ...chain, processor: { ...chain.processor, inputs: [] } }), '/chain/processor/inputs'],
    ['with an input twice', (chain) => ({ ...chain, source: { ...chain.source, inputs: ['disc', 'disc'] } }), '/chain/source/inputs'],
  ])('%s is refused', async (_, change, pointer) => {
    const { chain } = await reload();
    const refusal = await server.api
      .put(at('/chain'))
      .send({ version: chain.version, chain: change(chain.body) })
      .expect(422);
    expect(pointersOf(refusal)).toContain(pointer);
  });
});
