import { type ChildProcess, spawn } from 'node:child_process';
import { test as base } from '@playwright/test';
import { anyFreePort } from '../scripts/lib/ports.mjs';
import { startThrowawayCluster } from '../scripts/lib/postgres.mjs';
import { SERVER_MAIN, WEB_FOLDER } from '../scripts/lib/project.mjs';

/** Where the data of an application with the demo tunes lie: made once, copied for each file. */
export const DEMO_FOLDER = 'YIELD_E2E_DEMO';

type ThrowawayCluster = Awaited<ReturnType<typeof startThrowawayCluster>>;

/** The built application over a private cluster, which a test may stop and start as a bad day would. */
export class RunningApp {
  private readonly cluster: ThrowawayCluster;
  private readonly port: number;
  private server: ChildProcess | null = null;

  private constructor(cluster: ThrowawayCluster, port: number) {
    this.cluster = cluster;
    this.port = port;
  }

  /** @param copyOf - the folder of a cluster that is begun with, else an empty one */
  static async start({ copyOf, withDemo = false }: { copyOf?: string; withDemo?: boolean } = {}): Promise<RunningApp> {
    const cluster = await startThrowawayCluster(copyOf === undefined ? {} : { copyOf });
    const app = new RunningApp(cluster, await anyFreePort('127.0.0.1'));
    await app.startServer(withDemo ? 'on' : 'off');
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

  /** Stops it and leaves its data. @returns the folder that they lie in, and what throws them away */
  async leave(): Promise<{ folder: string; remove: () => Promise<void> }> {
    await this.stopServer();
    await this.cluster.stop();
    return { folder: this.cluster.folder, remove: this.cluster.remove };
  }

  async close(): Promise<void> {
    await this.stopServer();
    await this.cluster.remove();
  }

  startServer(demo: 'on' | 'off' = 'off'): Promise<void> {
    const server = spawn(process.execPath, [SERVER_MAIN], {
      env: {
        ...process.env,
        PORT: String(this.port),
        HOST: '127.0.0.1',
        DATABASE_URL: this.cluster.url,
        YIELD_WEB_FOLDER: WEB_FOLDER,
        YIELD_DEMO: demo,
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

/** These begin from nothing, as a new user does. */
const FROM_NOTHING: readonly string[] = ['slice', 'walk', 'first-run', 'gains'];

/** So long a test's last entries may take to the server; what was refused, or is kept from it on purpose, waits on. */
const SENT_MS = 3000;

/** Runs in the page: how many entries its queue holds. */
const entriesWaiting = (): Promise<number> =>
  new Promise((resolve) => {
    const asked = indexedDB.open('keyval-store');
    asked.onerror = () => resolve(0);
    asked.onsuccess = () => {
      const { result: database } = asked;
      if (!database.objectStoreNames.contains('keyval')) {
        resolve(0);
        return;
      }
      const keys = database.transaction('keyval').objectStore('keyval').getAllKeys();
      keys.onerror = () => resolve(0);
      keys.onsuccess = () => {
        database.close();
        resolve(keys.result.filter((key) => typeof key === 'string' && key.startsWith('outbox:')).length);
      };
    };
  });

/** Each spec file works on an application of its own, with the demo tunes or empty. */
export const test = base.extend<object, { app: RunningApp }>({
  app: [
    // eslint-disable-next-line no-empty-pattern -- Playwright wants the fixtures' names here, and there are none
    async ({}, use, { project }) => {
      const demo = process.env[DEMO_FOLDER];
      const app = await RunningApp.start(demo === undefined || FROM_NOTHING.includes(project.name) ? {} : { copyOf: demo });
      await use(app);
      await app.close();
    },
    { scope: 'worker' },
  ],
  baseURL: async ({ app }, use) => use(app.url),
  // What waits in a browser goes with it: a later test of the file builds on what this one entered.
  page: async ({ page }, use) => {
    await use(page);
    const until = Date.now() + SENT_MS;
    while (!page.isClosed() && Date.now() < until && (await page.evaluate(entriesWaiting).catch(() => 0)) > 0)
      await new Promise((resolve) => setTimeout(resolve, 50));
  },
});

export { expect } from '@playwright/test';
