import { randomUUID } from 'node:crypto';
import type { RunReport, StepReport } from '@yield/core';
import type { Express } from 'express';
import pg from 'pg';
import supertest from 'supertest';
import type { DataSource } from 'typeorm';
import { inject } from 'vitest';
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
  api: ReturnType<typeof supertest>;
  databaseUrl: string;
  close(): Promise<void>;
}

/** The real application over a fresh database of its own, or over the one given. */
export async function startTestServer(
  options: { traceLimitBytes?: number; traceJsonLimitBytes?: number; databaseUrl?: string } = {},
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
  return {
    app,
    dataSource,
    parts,
    workers: parts.workers,
    api: supertest(app),
    databaseUrl,
    close: async () => {
      await close();
      if (dataSource.isInitialized) await dataSource.destroy();
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
