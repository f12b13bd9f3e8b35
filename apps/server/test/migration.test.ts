import { readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ANALYSIS_VERSION, type RunReport, type StepReport } from '@yield/core';
import type { TuneDetail, TuneListRow } from '@yield/contract';
import { newDataSource } from '../src/database/dataSource.ts';
import { Keys1700000000004 } from '../src/database/migrations/1700000000004-keys.ts';
import { createDatabase, startTestServer, type TestServer } from './testServer.ts';

const read = (name: string): Buffer => readFileSync(new URL(`./fixtures/${name}`, import.meta.url));

/** All rows of five tunes as the version before ids and keys left them: four demo tunes, and one that was changed afterwards. */
const ROWS = JSON.parse(gunzipSync(read('schema3.json.gz')).toString()) as Record<string, Record<string, unknown>[]>;
/** The states that this version showed of them. */
const STATES = JSON.parse(read('schema3-states.json').toString()) as Record<string, Record<string, { status: string; grades: string[] }>>;
const LIVED = '3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0009';

/** A database as that version left it. */
async function formerDatabase(): Promise<string> {
  const url = await createDatabase();
  const dataSource = newDataSource(url);
  await dataSource.initialize();
  await dataSource.runMigrations();
  const runner = dataSource.createQueryRunner();
  await new Keys1700000000004().down(runner);
  await runner.query(`DELETE FROM "migrations" WHERE "name" = 'Keys1700000000004'`);
  await runner.release();
  await dataSource.destroy();
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  for (const table of ['tune', 'chain', 'reading', 'trace', 'mark']) {
    for (const row of ROWS[table]!) {
      const names = Object.keys(row);
      const values = names.map((name) => valueOf(row[name], name));
      await client.query(
        `INSERT INTO "${table}" (${names.map((name) => `"${name}"`).join(', ')}) VALUES (${names.map((_, i) => `$${i + 1}`).join(', ')})`,
        values,
      );
    }
  }
  await client.end();
  return url;
}

function valueOf(value: unknown, column: string): unknown {
  if (column === 'bytes') return Buffer.from((value as { base64: string }).base64, 'base64');
  return typeof value === 'object' && value !== null ? JSON.stringify(value) : value;
}

describe('a database of the version before', () => {
  let server: TestServer;
  beforeAll(async () => {
    server = await startTestServer({ databaseUrl: await formerDatabase() });
  });
  afterAll(() => server.close());
  const run = async (id: string): Promise<StepReport[]> => {
    const response = await server.api.get(`/api/v1/tunes/${id}/run`);
    expect(response.status).toBe(200);
    return (response.body as RunReport).steps;
  };
  const statesOf = (steps: readonly StepReport[]): Record<string, string> =>
    // What is new is no part of what was.
    Object.fromEntries(
      steps
        .filter(
          ({ kind }) =>
            !['bandwidth', 'load-pair', 'feed', 'polarity', 'delay', 'meeting', 'response', 'blend', 'listening', 'handover'].includes(
              kind,
            ),
        )
        .map(({ id, status }) => [id, status]),
    );

  /**
   * Done then by its own figures, and now denied by another step's, or by what is known better: a factory unit's outputs were read with a
   * tone that it may hold back, and behind two filters a gain's target is told against where they let most through.
   */
  const KNOWN_BETTER: readonly string[] = ['output:out-left', 'output:out-right', 'gain:boot'];
  const isDenied = ({ id, findings }: StepReport): boolean =>
    findings.some(({ code }) => code === 'contradicted') || KNOWN_BETTER.includes(id);

  it.each(Object.keys(STATES))('opens tune %s with the states that it had', async (id) => {
    const steps = await run(id);
    const denied = new Set(steps.filter(isDenied).map((step) => step.id));
    const then = Object.fromEntries(
      Object.entries(STATES[id]!).flatMap(([step, { status }]) => (denied.has(step) ? [] : [[step, status]])),
    );
    expect(statesOf(steps.filter((step) => !denied.has(step.id)))).toEqual(then);
  });

  it('keeps every reading, capture and tick', async () => {
    const tune = (await server.api.get(`/api/v1/tunes/${LIVED}`)).body as TuneDetail;
    const of = (table: string): number => ROWS[table]!.filter((row) => row.tune_id === LIVED).length;
    expect([tune.readings.length, tune.traces.length, tune.marks.length]).toEqual([of('reading'), of('trace'), of('mark')]);
    expect(tune.readings.filter(({ voidedReason }) => voidedReason !== undefined)).toHaveLength(1);
    for (const { conditions } of tune.readings) expect(['ohm', 'line', 'load']).toContain(conditions.at);
  });

  it('holds an exchanged amplifier and a former source against what was read with them', async () => {
    const steps = await run(LIVED);
    const told = (id: string): string =>
      steps
        .find((step) => step.id === id)!
        .findings.map(({ text }) => text)
        .join(' ');
    expect(told('gain:reading-left')).toContain('the source was Unit of before');
    expect(told('hookup:front-right')).toContain('Ticked for another load on another amplifier');
  });

  it('judges its captures anew, from their bytes', async () => {
    const rows: unknown = await server.dataSource.query('SELECT DISTINCT "analysis_version" FROM "trace"');
    expect(rows).toEqual([{ analysis_version: ANALYSIS_VERSION }]);
    const school = '3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0002';
    const { traces } = (await server.api.get(`/api/v1/tunes/${school}`)).body as TuneDetail;
    const sweeps = traces.flatMap(({ analysis, stepId }) => (stepId === 'factory:source' ? analysis.channels : []));
    expect(sweeps.length).toBeGreaterThan(1);
    for (const { clipping, response } of sweeps) {
      expect(clipping.verdict).toBe('sweep');
      expect(response).toMatchObject({ kind: 'response', impulse: { sampleRateHz: 44_100 } });
    }
  });

  it('is listed with the same next steps, from one kept summary a tune', async () => {
    const first = (await server.api.get('/api/v1/tunes')).body as TuneListRow[];
    expect(first).toHaveLength(5);
    for (const { id, summary } of first) {
      const statuses = Object.values(STATES[id]!).map(({ status }) => status);
      const steps = await run(id);
      const isNew = steps.filter(({ kind }) => kind === 'polarity' || kind === 'bandwidth').length;
      expect(summary.total).toBe(statuses.length + isNew);
      expect(summary.counts.done).toBe(statuses.filter((status) => status === 'done').length - steps.filter(isDenied).length);
    }
    expect((await server.api.get('/api/v1/tunes')).body).toEqual(first);
  });
});
