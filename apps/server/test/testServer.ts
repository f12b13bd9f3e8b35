import { randomUUID } from 'node:crypto';
import type { RunReport, StepReport } from '@yield/core';
import type { Express } from 'express';
import pg from 'pg';
import supertest from 'supertest';
import type { DataSource } from 'typeorm';
import { inject } from 'vitest';
import { undocumented } from './documented.ts';
import { newApp } from '../src/app.ts';
import { migrate, newDataSource } from '../src/database/dataSource.ts';
import { startParts, type Parts } from '../src/parts.ts';
import type { ServerSettings } from '../src/settings.ts';
import type { TraceWorkers } from '../src/traces/traceWorkers.ts';

export interface TestServer {
  app: Express;
  dataSource: DataSource;
  parts: Parts;
  workers: TraceWorkers;
  api: ReturnType<typeof supertest.agent>;
  databaseUrl: string;
  close(): Promise<void>;
}

/** The real application over a fresh database of its own, or over the one given. */
export async function startTestServer(
  options: { traceLimitBytes?: number; traceJsonLimitBytes?: number; databaseUrl?: string; holdsOddData?: boolean } = {},
): Promise<TestServer> {
  const databaseUrl = options.databaseUrl ?? (await createDatabase());
  const dataSource = newDataSource(databaseUrl);
  await dataSource.initialize();
  await migrate(dataSource);
  const settings: ServerSettings = {
    port: 0,
    host: '127.0.0.1',
    hosts: [],
    databaseUrl,
    jsonLimitBytes: 1_000_000,
    traceJsonLimitBytes: options.traceJsonLimitBytes ?? 32_000_000,
    traceLimitBytes: options.traceLimitBytes ?? 256_000_000,
    importLimitBytes: 100_000_000,
  };
  const { parts, close } = startParts(settings, dataSource, { listPatienceMs: 20_000 });
  const app = newApp(settings, parts);
  const api = supertest.agent(app);
  const faults = new Set<string>();
  // Every answer of every test is held against the document.
  api.use((request: supertest.Test) => {
    request.on('response', (response: supertest.Response) => {
      const fault = undocumented({
        method: request.method,
        path: new URL(request.url).pathname,
        status: response.status,
        type: response.headers['content-type'] ?? '',
        body: response.body as unknown,
      });
      if (fault !== undefined && options.holdsOddData !== true) faults.add(fault);
    });
  });
  return {
    app,
    dataSource,
    parts,
    workers: parts.workers,
    api,
    databaseUrl,
    close: async () => {
      await close();
      if (dataSource.isInitialized) await dataSource.destroy();
      if (faults.size > 0) throw new Error(`answers that the document does not know:\n${[...faults].slice(0, 10).join('\n')}`);
    },
  };
}

export async function createDatabase(): Promise<string> {
  const url = new URL(inject('databaseUrl'));
  const name = `test_${randomUUID().replaceAll('-', '')}`;
  const client = new pg.Client({ connectionString: url.href });
  await client.connect();
  await client.query(`CREATE DATABASE ${name}`);
  await client.end();
  url.pathname = `/${name}`;
  return url.href;
}

/** A step of a tune as a script reads it. */
export async function stepOf({ api }: Pick<TestServer, 'api'>, tuneId: string, stepId: string): Promise<StepReport> {
  const response = await api.get(`/api/v1/tunes/${tuneId}/run`).expect(200);
  const step = (response.body as RunReport).steps.find(({ id }) => id === stepId);
  if (step === undefined) throw new Error(`the run has no step ${stepId}`);
  return step;
}
