import { randomUUID } from 'node:crypto';
import { demoTunes, ScriptedTuner } from '@yield/bench';
import type { TuneDetail } from '@yield/contract';
import type { RunReport, StepReport } from '@yield/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { loadDemo } from '../src/store/loadDemo.ts';
import { startTestServer, type TestServer } from './testServer.ts';

/** More moves than any demo tune could want. */
const MOST_MOVES = 700;

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
    for (; moves < MOST_MOVES; moves += 1) {
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
                : await server.api.put(`${base}/chain`).send({ version: chain.version, chain: move.chain });
        expect([200, 201], `${step.id}: ${JSON.stringify(action)} → ${JSON.stringify(sent.body)}`).toContain(sent.status);
      }
    }
    const { steps } = await get<RunReport>(`${base}/run`);
    expect(steps.filter(isOpen).map(({ id: stepId, status }) => `${stepId} ${status}`)).toEqual([]);
    expect(moves).toBeLessThan(MOST_MOVES);
  });

  it('finds the demo tunes that it is meant for', async () => {
    expect((await demoTunes(0)).map(({ id }) => id.slice(-4))).toEqual(['0001', '0002', '0003', '0004']);
  });
});
