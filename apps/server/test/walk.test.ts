import { randomUUID } from 'node:crypto';
import { demoTunes, ScriptedTuner } from '@yield/bench';
import type { TuneDetail } from '@yield/contract';
import { newSituation, runOf, type Chain, type Channel, type RunReport, type StepReport } from '@yield/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { loadDemo } from '../src/store/loadDemo.ts';
import { startTestServer, type TestServer } from './testServer.ts';

/** More moves than any demo tune could want. */
const MAX_MOVES = 700;

describe('a script that knows nothing but actions', () => {
  let server: TestServer;
  beforeAll(async () => {
    server = await startTestServer();
    await loadDemo(server.dataSource, server.workers, new Date('2026-06-01T08:00:00Z'));
  });
  afterAll(() => server.close());
  let clockMs = Date.parse('2026-06-02T08:00:00Z');

  const get = async <T>(path: string): Promise<T> => {
    const response = await server.api.get(path);
    expect(response.status).toBe(200);
    return response.body as T;
  };
  const isOpen = ({ status, isOptional }: StepReport): boolean => !isOptional && status !== 'done' && status !== 'skipped';

  it.each(['0001', '0002', '0003', '0004'])('walks demo tune %s over HTTP until every step is done', async (end) => {
    const id = `3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a${end}`;
    const base = `/api/v1/tunes/${id}`;
    const tuner = new ScriptedTuner(id);
    const before = await get<TuneDetail>(base);
    tuner.takeOver(before.readings, before.chain.body);
    let moves = 0;
    const seen = new Map<string, number>();
    for (; moves < MAX_MOVES; moves += 1) {
      const { steps } = await get<RunReport>(`${base}/run`);
      const first = steps.find(isOpen);
      if (first === undefined) break;
      const step = first.action?.kind === 'go' ? steps.find((each) => each.id === (first.action as { to: string }).to)! : first;
      const { action } = step;
      if (action === undefined) throw new Error(`${step.id} is ${step.status} and names no move: ${JSON.stringify(step.findings)}`);
      // A move that changes nothing comes again: better said at once than after a time-out.
      const again = (seen.get(`${step.id} ${action.kind}`) ?? 0) + 1;
      seen.set(`${step.id} ${action.kind}`, again);
      if (again > 40) throw new Error(`${step.id} turns in circles: ${JSON.stringify({ action, findings: step.findings })}`);
      const { chain, settings, marks } = await get<TuneDetail>(base);
      for (const move of await tuner.follow(action, step, chain.body, settings)) {
        clockMs += 60_000;
        const takenAt = new Date(clockMs).toISOString();
        const sent =
          move.kind === 'reading'
            ? await server.api.put(`${base}/readings/${randomUUID()}`).send({ ...move.reading, stepId: step.id, takenAt })
            : move.kind === 'capture'
              ? await server.api
                  .put(`${base}/traces/${randomUUID()}`)
                  .query({ stepId: step.id, fileName: move.fileName, takenAt, conditions: JSON.stringify(move.conditions) })
                  .set('content-type', move.contentType)
                  .send(Buffer.from(move.content as Uint8Array))
              : move.kind === 'mark'
                ? await server.api.put(`${base}/marks/${step.id}`).send({
                    version: marks.find((mark) => mark.stepId === step.id)?.version ?? 0,
                    checks: move.checks,
                    ...(move.basis === undefined ? {} : { basis: move.basis }),
                    ...(move.basisWords === undefined ? {} : { basisWords: move.basisWords }),
                  })
                : move.kind === 'chain'
                  ? await server.api.put(`${base}/chain`).send({ version: chain.version, chain: move.chain })
                  : await server.api
                      .post(`${base}/${move.of === 'reading' ? 'readings' : 'traces'}/${move.id}/void`)
                      .send({ reason: 'the run asks for it' });
        expect([200, 201, 204], `${step.id}: ${JSON.stringify(action)} → ${JSON.stringify(sent.body)}`).toContain(sent.status);
      }
    }
    const { steps } = await get<RunReport>(`${base}/run`);
    expect(steps.filter(isOpen).map(({ id: stepId, status }) => `${stepId} ${status}`)).toEqual([]);
    expect(moves).toBeLessThan(MAX_MOVES);
  });

  /** Every kind of change, and the kinds of step that are no longer done after it; of the bus, and of the car with its processor. */
  const CHANGES: [what: string, change: (tune: TuneDetail) => void, bus: string, car: string][] = [
    ['nothing', () => undefined, '', ''],
    ['an amplifier is renamed', ({ chain }) => (chain.body.amplifiers[0]!.name = 'Another name'), '', ''],
    [
      'the volume of the test',
      ({ chain }) => (chain.body.source.workingVolume -= 1),
      'gain proof bandwidth',
      'input output gain proof bandwidth',
    ],
    [
      'another source',
      ({ chain }) => Object.assign(chain.body.source, { id: 'another', name: 'Another unit' }),
      'flat ceiling gain proof bandwidth',
      'flat ceiling factory input output gain proof bandwidth',
    ],
    ['another volume scale', ({ chain }) => (chain.body.source.volumeSteps += 10), '', ''],
    [
      'a settings case with bass raised',
      ({ chain }) =>
        (chain.body.source.cases = [...(chain.body.source.cases ?? []), { id: 'loud', name: 'Loud', used: true, bassRaised: true }]),
      'ceiling',
      'ceiling input',
    ],
    ['a settings case of the source is left out', ({ chain }) => (chain.body.source.cases = []), '', ''],
    [
      'the wish at the processor',
      ({ chain }) => chain.body.processor !== undefined && (chain.body.processor.outputVolt *= 0.8),
      '',
      'output gain proof bandwidth',
    ],
    ['the processor’s outputs set only after the gains', setAfterwards, '', 'gain'],
    ['the processor’s outputs turned down', turnedDown, '', 'output gain proof bandwidth'],
    [
      'the load of a channel',
      ({ chain }) => doubled(channelOf(chain.body)),
      'whole hookup gain proof bandwidth',
      'whole hookup gain proof bandwidth',
    ],
    [
      'a driver’s rating',
      ({ chain }) => channelOf(chain.body).drivers.forEach((driver) => (driver.ratedPowerWatt /= 3)),
      'gain proof bandwidth',
      'gain proof bandwidth',
    ],
    [
      'a corner',
      ({ chain }) => shifted(channelOf(chain.body)),
      'filters crossover gain proof bandwidth polarity',
      'filters gain proof bandwidth polarity',
    ],
    [
      'the polarity of a channel',
      ({ chain }) => (channelOf(chain.body).isReversed = true),
      'filters crossover gain proof bandwidth polarity',
      'filters gain proof bandwidth polarity',
    ],
    [
      'the rating of an amplifier',
      ({ chain }) => chain.body.amplifiers[0]!.ratings.forEach((rating) => (rating.powerWatt *= 1.5)),
      'gain',
      'gain',
    ],
    ['the power wished of a channel', ({ chain }) => (channelOf(chain.body).wishWatt = 10), 'gain proof bandwidth', 'gain proof bandwidth'],
    ['a blend', ({ chain }) => (channelOf(chain.body).blendDb = 4), 'gain proof bandwidth', 'gain proof bandwidth'],
    ['the tone of a channel', ({ chain }) => (channelOf(chain.body).toneHz = 200), 'gain proof bandwidth', 'gain proof'],
    [
      'the tone of the house',
      ({ settings }) => Object.assign(settings.rules, { bassToneHz: 50, otherToneHz: 400 }),
      'gain proof bandwidth',
      'output gain proof bandwidth',
    ],
    [
      'the recorded level of the house',
      ({ settings }) => (settings.rules.toneLevelDbfs = -5),
      'ceiling gain proof',
      'ceiling output gain proof bandwidth',
    ],
    ['the overlap', ({ settings }) => (settings.rules.overlapDb = 3), 'gain bandwidth', 'bandwidth'],
    ['the headroom', ({ settings }) => (settings.rules.headroomDb = 1), 'gain proof bandwidth', 'gain proof bandwidth'],
    ['the school: by scope', ({ settings }) => (settings.rules.gainBy = 'scope'), 'gain', 'gain'],
    ['the load while setting', ({ settings }) => (settings.rules.loadWhileSetting = 'on'), 'gain proof bandwidth', 'gain proof bandwidth'],
    [
      'the limit of distortion',
      ({ settings }) => (settings.rules.limitThdPercent = 0.01),
      'ceiling gain proof bandwidth',
      'output gain proof bandwidth',
    ],
    ['another meter', ({ settings }) => (settings.meter.percent = 3), '', ''],
  ];
  it.each(CHANGES)('spoils what rests on it, and nothing else: %s', async (_, change, ...expected) => {
    const spoilt = await Promise.all(
      ['0001', '0002'].map(async (end) => {
        const tune = await get<TuneDetail>(`/api/v1/tunes/3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a${end}`);
        const before = doneIn(tune);
        // A copy: what follows from a part is kept as long as the part.
        const changed = structuredClone(tune);
        change(changed);
        const after = doneIn(changed);
        return [...new Set([...before].filter(([id]) => !after.has(id)).map(([, kind]) => kind))].join(' ');
      }),
    );
    expect(spoilt).toEqual(expected);
  });

  it('finds the demo tunes that it is meant for', async () => {
    expect((await demoTunes(0)).map(({ id }) => id.slice(-4))).toEqual(['0001', '0002', '0003', '0004']);
  });
});

/** The steps of a tune that are done, with their kinds. */
function doneIn({ chain, settings, readings, traces, marks }: TuneDetail): Map<string, string> {
  const run = runOf(newSituation(chain.body, settings, { readings, traces, marks }));
  return new Map(run.filter(({ state }) => state.status === 'done').map(({ id, kind }) => [id, kind.kind]));
}

function doubled(channel: Channel): void {
  channel.loadOhm *= 2;
  for (const driver of channel.drivers) driver.coilOhm *= 2;
}
function shifted({ filters = [] }: Channel): void {
  for (const filter of filters) {
    filter.cornerHz *= 1.5;
    delete filter.dial;
  }
}
/** Gains that were read before anybody had read an output. */
function setAfterwards({ readings }: TuneDetail): void {
  for (const reading of readings) {
    if (reading.kind === 'output-voltage') reading.takenAt = '2026-07-01T08:00:00Z';
    if (reading.kind === 'gain-voltage' && reading.conditions.at === 'load') delete reading.conditions.fedVolt;
  }
}
/** The processor's outputs read once more, lower than before. */
function turnedDown(tune: TuneDetail): void {
  const read = tune.readings.filter(({ kind }) => kind === 'output-voltage');
  tune.readings.push(...read.map((each) => ({ ...each, id: randomUUID(), value: each.value * 0.7, takenAt: '2026-07-01T08:00:00Z' })));
}
const channelOf = ({ channels }: Chain): Channel => channels[0]!;
