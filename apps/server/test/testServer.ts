import { randomUUID } from 'node:crypto';
import type { Express } from 'express';
import pg from 'pg';
import supertest from 'supertest';
import type { DataSource } from 'typeorm';
import { inject } from 'vitest';
import { newApp } from '../src/app.ts';
import { migrate, newDataSource } from '../src/database/dataSource.ts';
import { startTraceWorkers, type TraceWorkers } from '../src/traces/traceWorkers.ts';

export interface TestServer {
  app: Express;
  dataSource: DataSource;
  workers: TraceWorkers;
  api: ReturnType<typeof supertest>;
  databaseUrl: string;
  close(): Promise<void>;
}

/** The real application over a fresh database of its own, or over the one given. */
export async function startTestServer(options: { traceLimitBytes?: number; databaseUrl?: string } = {}): Promise<TestServer> {
  const databaseUrl = options.databaseUrl ?? (await createDatabase());
  const dataSource = newDataSource(databaseUrl);
  await dataSource.initialize();
  await migrate(dataSource);
  const workers = startTraceWorkers();
  const app = newApp(
    { port: 0, host: '127.0.0.1', databaseUrl, jsonLimitBytes: 1_000_000, traceLimitBytes: options.traceLimitBytes ?? 256_000_000 },
    dataSource,
    workers,
  );
  return {
    app,
    dataSource,
    workers,
    api: supertest(app),
    databaseUrl,
    close: async () => {
      await workers.close();
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
