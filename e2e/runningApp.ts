import { type ChildProcess, spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { test as base } from '@playwright/test';
import { anyFreePort } from '../scripts/lib/ports.mjs';
import { startThrowawayCluster } from '../scripts/lib/postgres.mjs';
import { SERVER_MAIN, WEB_FOLDER } from '../scripts/lib/project.mjs';

/** The built application over a private cluster, which a test may stop and start as a bad day would. */
export class RunningApp {
  private readonly cluster: Awaited<ReturnType<typeof startThrowawayCluster>>;
  private readonly databaseUrl: string;
  private readonly port: number;
  private server: ChildProcess | null = null;

  private constructor(cluster: Awaited<ReturnType<typeof startThrowawayCluster>>, databaseUrl: string, port: number) {
    this.cluster = cluster;
    this.databaseUrl = databaseUrl;
    this.port = port;
  }

  static async start(): Promise<RunningApp> {
    const cluster = await startThrowawayCluster();
    const database = `e2e_${randomUUID().replaceAll('-', '')}`;
    await cluster.createDatabase(database);
    const app = new RunningApp(cluster, cluster.urlOf(database), await anyFreePort('127.0.0.1'));
    await app.startServer();
    return app;
  }

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  async restartServer(): Promise<void> {
    await this.stopServer();
    await this.startServer();
  }

  stopDatabase = (): Promise<unknown> => this.cluster.kill();
  startDatabase = (): Promise<unknown> => this.cluster.start();

  async close(): Promise<void> {
    await this.stopServer();
    await this.cluster.remove();
  }

  startServer(): Promise<void> {
    const server = spawn(process.execPath, [SERVER_MAIN], {
      env: {
        ...process.env,
        PORT: String(this.port),
        HOST: '127.0.0.1',
        DATABASE_URL: this.databaseUrl,
        YIELD_WEB_FOLDER: WEB_FOLDER,
        YIELD_DEMO: 'off',
      },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    this.server = server;
    return new Promise((resolve, reject) => {
      let said = '';
      const hear = (chunk: Buffer): void => {
        said += chunk.toString();
        if (said.includes('listening on')) resolve();
      };
      server.stdout.on('data', hear);
      server.stderr.on('data', hear);
      server.once('exit', () => reject(new Error(`the server ended: ${said}`)));
    });
  }

  async stopServer(): Promise<void> {
    const { server } = this;
    if (server === null) return;
    this.server = null;
    server.removeAllListeners('exit');
    const gone = new Promise((resolve) => server.once('close', resolve));
    server.kill('SIGTERM');
    await gone;
  }
}

/** Each spec file works on an application of its own, started empty. */
export const test = base.extend<object, { app: RunningApp }>({
  app: [
    // eslint-disable-next-line no-empty-pattern -- Playwright wants the fixtures' names here, and there are none
    async ({}, use) => {
      const app = await RunningApp.start();
      await use(app);
      await app.close();
    },
    { scope: 'worker' },
  ],
  baseURL: async ({ app }, use) => use(app.url),
});

export { expect } from '@playwright/test';
