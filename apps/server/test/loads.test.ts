// Loads over HTTP and in the database: answers worked by hand, refusals by their pointers, and what is kept of a wiring.
import { randomUUID } from 'node:crypto';
import type { TuneDetail } from '@yield/contract';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startTestServer, stepOf, type TestServer } from './testServer.ts';

let server: TestServer;
let trailer: TuneDetail;
const TRAILER = '3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0003';

beforeAll(async () => {
  server = await startTestServer();
  await server.api.post('/api/v1/demo').expect(200);
  trailer = await reload();
});
afterAll(() => server.close());

const at = (path = ''): string => `/api/v1/tunes/${TRAILER}${path}`;
const reload = async (): Promise<TuneDetail> => (await server.api.get(at()).expect(200)).body as TuneDetail;
const calc = (name: string, body: object) => server.api.post(`/api/v1/calc/${name}`).send(body);
const answerOf = async (name: string, body: object): Promise<unknown> => {
  return (await calc(name, body).expect(200)).body as unknown;
};
const DUAL = { name: 'A', coils: 2, coilOhm: 4 };

describe('calculations of loads', () => {
  it('load-network', async () => {
    const body = await answerOf('load-network', {
      coils: { A1: { nominalOhm: 4 }, A2: { nominalOhm: 4 } },
      network: 'A1|A2',
      voltageRms: 10,
    });
    expect(body).toMatchObject({ loadOhm: 2, dcOhm: 1.6, totalPowerWatt: 50, balanced: true, reversed: [], unused: [] });
  });
  it('load-options', async () => {
    const body = await answerOf('load-options', { drivers: [DUAL], minimumLoadOhm: 4 });
    expect(body).toMatchObject({
      options: [
        { loadOhm: 2, verdict: 'below-minimum' },
        { loadOhm: 8, verdict: 'fits' },
      ],
    });
  });
  it('meter-diagnosis', async () => {
    const body = await answerOf('meter-diagnosis', {
      drivers: [{ ...DUAL, coilDcOhm: 3.4 }],
      intendedNetwork: 'A1|A2',
      meterOhm: 3.4,
    });
    expect(body).toMatchObject({ verdict: 'differs', causes: [{ kind: 'one-coil-only', expectedOhm: 3.4 }, expect.anything()] });
  });
  it('spl', async () => {
    const body = await answerOf('spl', { sensitivityDb: 90, sensitivityAt: '1W', powerWatt: 100 });
    expect(body).toEqual({ splDb: 110, perDriverWatt: 100 });
  });

  it.each<[string, object, string]>([
    ['load-network', { coils: { A1: { nominalOhm: 4 } }, network: 'A1|B1' }, '/network'],
    ['load-network', { coils: { A1: { nominalOhm: 4, ohms: 3 } }, network: 'A1' }, '/coils/A1/ohms'],
    ['load-network', { coils: { 'A 1': { nominalOhm: 4 } }, network: 'A1' }, '/coils/A 1'],
    ['load-network', { coils: {}, network: 'A1' }, '/coils'],
    ['load-options', { drivers: [DUAL, DUAL] }, '/drivers/1/name'],
    ['load-options', { drivers: [{ ...DUAL, coils: 3 }] }, '/drivers/0/coils'],
    ['load-options', { drivers: Array.from({ length: 9 }, (_, i) => ({ ...DUAL, name: `D${i}` })) }, '/drivers'],
    ['meter-diagnosis', { drivers: [DUAL], intendedNetwork: '(A1', meterOhm: 3 }, '/intendedNetwork'],
    ['meter-diagnosis', { drivers: [DUAL], intendedNetwork: 'A1', meterOhm: -3 }, '/meterOhm'],
    ['spl', { sensitivityDb: 90, sensitivityAt: '2.83V', powerWatt: 10 }, '/nominalOhm'],
    ['spl', { sensitivityDb: 90, sensitivityAt: '1W', powerWatt: 10, voltageRms: 3 }, '/voltageRms'],
  ])('%s refuses %j', async (name, request, pointer) => {
    const response = await calc(name, request).expect(422);
    expect(response.type).toBe('application/problem+json');
    expect((response.body as { errors: { pointer: string }[] }).errors.map((error) => error.pointer)).toContain(pointer);
  });

  it('takes a network as deep as the text may be, without falling over', async () => {
    const deep = `${'('.repeat(900)}A1${')'.repeat(900)}`;
    await calc('load-network', { coils: { A1: { nominalOhm: 4 } }, network: deep }).expect(200);
  });
});

describe('a wiring in the chain', () => {
  const withWiring = (wiring: object, loadOhm: number) => ({
    version: trailer.chain.version,
    chain: {
      ...trailer.chain.body,
      channels: trailer.chain.body.channels.map((channel) => (channel.id === 'awning-right' ? { ...channel, wiring, loadOhm } : channel)),
    },
  });

  it('is refused where it does not fit the drivers or the load', async () => {
    const faults = async (wiring: object, loadOhm: number): Promise<string[]> =>
      (
        (await server.api.put(at('/chain')).send(withWiring(wiring, loadOhm)).expect(422)).body as { errors: { pointer: string }[] }
      ).errors.map((e) => e.pointer);
    expect(await faults({ network: 'A1+D1' }, 8)).toEqual(['/chain/channels/1/wiring/network']);
    expect(await faults({ network: 'A1+B1+C1' }, 4)).toEqual(['/chain/channels/1/loadOhm']);
    expect(await faults({ network: 'A1+B1+C1', joins: [['amp+', 'oops']] }, 12)).toEqual(['/chain/channels/1/wiring/joins/0/1']);
  });

  it('is kept, and its readings and ticks with it', async () => {
    await server.api
      .put(at('/chain'))
      .send(withWiring({ network: 'A1+B1+C1', seriesResistorOhm: 1.5, seriesResistorRatedWatt: 50 }, 13.5))
      .expect(200);
    const reading = async (stepId: string, kind: string) => ({
      stepId,
      kind,
      value: 3.4,
      resolution: 0.1,
      conditions: (await stepOf(server, TRAILER, stepId)).conditions,
      takenAt: '2026-03-01T10:00:00.000Z',
    });
    for (const [stepId, kind] of [
      ['coils:awning-right', 'coil-resistance'],
      ['whole:awning-right', 'whole-resistance'],
    ] as const) {
      await server.api
        .put(at(`/readings/${randomUUID()}`))
        .send(await reading(stepId, kind))
        .expect(201);
    }
    const mark = { checks: ['power-off'], basis: '{"loadOhm":13.5}', basisWords: '13.5 ohm' };
    await server.api
      .put(at('/marks/hookup:awning-right'))
      .send({ version: 0, ...mark })
      .expect(200);
    const kept = await reload();
    expect(kept.readings.map(({ kind, conditions }) => [kind, conditions])).toEqual([
      ['coil-resistance', expect.objectContaining({ coil: 1, nominalOhm: 4 })],
      ['whole-resistance', expect.objectContaining({ network: 'A1+B1+C1', nominalOhm: 13.5 })],
    ]);
    expect(kept.marks).toEqual([{ stepId: 'hookup:awning-right', version: 1, chainVersion: kept.chain.version, ...mark }]);
  });

  it('takes no voltage as a resistance, nor the other way round', async () => {
    const send = async (change: object) =>
      (
        (
          await server.api
            .put(at(`/readings/${randomUUID()}`))
            .send({ stepId: 'whole:awning-left', value: 3, resolution: 0.1, takenAt: '2026-03-01T10:00:00.000Z', ...change })
            .expect(422)
        ).body as { errors: { pointer: string }[] }
      ).errors.map((e) => e.pointer);
    const ohms = { at: 'ohm', nominalOhm: 4, leadOhm: 0.2, meterPercent: 1, meterDigitsOhm: 0.1 };
    expect(await send({ kind: 'gain-voltage', conditions: ohms })).toContain('/conditions/toneHz');
    expect(await send({ kind: 'whole-resistance', conditions: { ...ohms, toneHz: 40 } })).toEqual(['/conditions/toneHz']);
    expect(await send({ kind: 'weight', conditions: ohms })).toContain('/kind');
    // A kind of another step is no figure of this one.
    expect(await send({ kind: 'coil-resistance', conditions: ohms })).toEqual(['/kind']);
  });
});
