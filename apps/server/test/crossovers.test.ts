// Filters, dials and their proof over HTTP, against a real PostgreSQL.
import { randomUUID } from 'node:crypto';
import { filterSweep } from '@yield/bench';
import type { TuneDetail } from '@yield/contract';
import {
  encodeWav,
  filterChecks,
  filtersBasis,
  planCrossovers,
  seededRandom,
  SHORT_SWEEP,
  type Chain,
  type LoadConditions,
} from '@yield/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startTestServer, stepOf, type TestServer } from './testServer.ts';

const BUS = '3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0001';
const VAN = '3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0004';
let server: TestServer;

beforeAll(async () => {
  server = await startTestServer();
  await server.api.post('/api/v1/demo').expect(200);
});
afterAll(() => server.close());

const read = async (id: string): Promise<TuneDetail> => (await server.api.get(`/api/v1/tunes/${id}`).expect(200)).body as TuneDetail;
const faultsOf = ({ body }: { body: unknown }): [string, string][] =>
  (body as { errors: { pointer: string; message: string }[] }).errors.map(({ pointer, message }) => [pointer, message]);
describe('a planned chain', () => {
  it('is stored whole: filters, dials, parts, ranges', async () => {
    const van = await read(VAN);
    const { chain } = planCrossovers(van.chain.body);
    const [tweeter, ...others] = chain.channels;
    const dial = {
      id: 'lpf',
      name: 'LPF',
      kind: 'lowpass' as const,
      family: 'butterworth' as const,
      order: 2,
      stops: 'clicks' as const,
      table: [40, 80, 160].map((cornerHz, i) => ({ label: String(i + 1), cornerHz })),
      multipliers: [1, 10],
    };
    const whole: Chain = {
      ...chain,
      amplifiers: chain.amplifiers.map((amplifier) => ({ ...amplifier, dials: [dial] })),
      channels: [
        {
          ...tweeter!,
          isReversed: true,
          toneHz: 8000,
          passive: [{ id: 'cap', driverId: tweeter!.drivers[0]!.id, kind: 'highpass', capacitanceFarad: 10e-6 }],
        },
        ...others,
      ],
    };
    await server.api.put(`/api/v1/tunes/${VAN}/chain`).send({ version: van.chain.version, chain: whole }).expect(200);
    expect((await read(VAN)).chain.body).toEqual(whole);
  });

  it.each<[string, (chain: Chain) => unknown, string, string]>([
    ['an order that no filter has', (chain) => withFilter(chain, { order: 9 }), '/chain/channels/0/filters/0/order', 'at most 8'],
    [
      'an order that its family lacks',
      (chain) => withFilter(chain, { family: 'linkwitz-riley', order: 3 }),
      '/chain/channels/0/filters/0/order',
      'has order',
    ],
    ['a corner of nothing', (chain) => withFilter(chain, { cornerHz: 0 }), '/chain/channels/0/filters/0/cornerHz', 'above 0 Hz'],
    ['a place that is no gear', (chain) => withFilter(chain, { place: 'boot' }), '/chain/channels/0/filters/0/place', 'one of source'],
    [
      'a dial that is not there',
      (chain) => withFilter(chain, { dial: { id: 'gone', click: 0, multiplier: 1 } }),
      '/chain/channels/0/filters/0/dial',
      'no such dial',
    ],
    [
      'a dial with one stop',
      (chain) => ({
        ...chain,
        amplifiers: chain.amplifiers.map((each) => ({ ...each, dials: [{ ...each.dials![0]!, table: [{ label: '1', cornerHz: 80 }] }] })),
      }),
      '/chain/amplifiers/0/dials/0/table',
      'not be empty',
    ],
  ])('with %s is refused', async (_, change, pointer, message) => {
    const bus = await read(BUS);
    const refusal = await server.api
      .put(`/api/v1/tunes/${BUS}/chain`)
      .send({ version: bus.chain.version, chain: change(bus.chain.body) })
      .expect(422);
    expect(faultsOf(refusal)).toContainEqual([pointer, expect.stringContaining(message) as string]);
  });
});

function withFilter(chain: Chain, changes: object): unknown {
  const [first, ...others] = chain.channels;
  return { ...chain, channels: [{ ...first!, filters: [{ ...first!.filters![0]!, ...changes }] }, ...others] };
}

describe('the proof of a filter', () => {
  it('is kept with the setting that it speaks of, and lowers the target of a gain', async () => {
    const bus = await read(BUS);
    const own = bus.readings.filter(({ stepId }) => stepId === 'crossover:bass-lp');
    expect(own.length).toBeGreaterThanOrEqual(5);
    expect(own[0]).toMatchObject({ kind: 'filter-voltage', conditions: { filter: { kind: 'lowpass', cornerHz: 80, series: 1 } } });
    const { findings, status } = await stepOf(server, BUS, 'crossover:bass-lp');
    expect(status).toBe('done');
    expect(findings[0]).toMatchObject({ code: 'corner-right', figures: { setHz: 80 } });
    expect(Math.abs(Number(findings[0]!.figures.cornerHz) / 80 - 1)).toBeLessThan(0.07);
    const { conditions } = await stepOf(server, BUS, 'gain:bass');
    expect((conditions as LoadConditions).filters?.provedDb).toBeLessThan(0);
  });

  it('takes a voltage, and refuses one of a setting that cannot be', async () => {
    const step = await stepOf(server, BUS, 'crossover:bass-lp');
    const held = step.conditions as LoadConditions;
    const conditions = { ...held, toneHz: 63, filter: { ...held.filter!, series: 2 } };
    const reading = {
      stepId: step.id,
      kind: 'filter-voltage',
      value: 3.1,
      resolution: 0.01,
      conditions,
      takenAt: '2026-03-01T10:00:00.000Z',
    };
    await server.api.put(`/api/v1/tunes/${BUS}/readings/${randomUUID()}`).send(reading).expect(201);
    const wrong = { ...reading, conditions: { ...conditions, filter: { ...conditions.filter, series: 0 } } };
    const refusal = await server.api.put(`/api/v1/tunes/${BUS}/readings/${randomUUID()}`).send(wrong).expect(422);
    expect(faultsOf(refusal)[0]![0]).toBe('/conditions/filter/series');
  });

  it('is found in a sweep that was captured', async () => {
    const step = await stepOf(server, BUS, 'crossover:front-left-hp');
    const really = { kind: 'highpass', family: 'butterworth', order: 2, cornerHz: 90 } as const;
    const wav = encodeWav([filterSweep(SHORT_SWEEP, 44_100, [really], seededRandom('server'))], { sampleRateHz: 44_100, bits: 16 });
    const { toneHz, toneLevelDbfs, sourceId, sourceName, sourceVolume, filter } = step.conditions as LoadConditions;
    const conditions = {
      at: 'line',
      ...{ toneHz, toneLevelDbfs, sourceId, sourceName, sourceVolume },
      sweep: { ...SHORT_SWEEP, labels: ['Front left'] },
      filter: { ...filter!, series: 2 },
    };
    await server.api
      .put(`/api/v1/tunes/${BUS}/traces/${randomUUID()}`)
      .query({ stepId: step.id, fileName: 'sweep.wav', takenAt: '2027-03-01T10:00:00.000Z', conditions: JSON.stringify(conditions) })
      .set('content-type', 'audio/wav')
      .send(Buffer.from(wav))
      .expect(201);
    const after = await stepOf(server, BUS, step.id);
    expect(after.status).toBe('done');
    expect((after.findings[0]?.text ?? '').replaceAll('\u00a0', ' ')).toMatch(/^Set to 86 Hz, really (89|9[01])\.\d Hz, 12 dB per octave/);
  });
});

describe('a confirmation', () => {
  it('stands for the filters as they were ticked, and no longer once they change', async () => {
    const bus = await read(BUS);
    const channel = bus.chain.body.channels.find(({ id }) => id === 'front-right')!;
    const mark = bus.marks.find(({ stepId }) => stepId === 'filters:front-right');
    expect(mark).toMatchObject({ checks: filterChecks(channel, bus.chain.body).map(({ id }) => id), basis: filtersBasis(channel).key });
    const chain: Chain = {
      ...bus.chain.body,
      channels: bus.chain.body.channels.map((each) => (each.id === channel.id ? { ...each, filters: [] } : each)),
    };
    await server.api.put(`/api/v1/tunes/${BUS}/chain`).send({ version: bus.chain.version, chain }).expect(200);
    expect((await stepOf(server, BUS, 'filters:front-right')).status).toBe('stale');
  });
});
