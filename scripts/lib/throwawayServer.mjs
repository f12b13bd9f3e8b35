import { spawn } from 'node:child_process';
import { anyFreePort } from './ports.mjs';
import { startThrowawayCluster } from './postgres.mjs';
import { SERVER_MAIN, WEB_FOLDER } from './project.mjs';

/** The built application with the demo tunes, over a database that is thrown away by `remove`. */
export async function startThrowawayServer() {
  const cluster = await startThrowawayCluster();
  const port = await anyFreePort('127.0.0.1');
  const server = spawn(process.execPath, [SERVER_MAIN], {
    env: { ...process.env, PORT: String(port), HOST: '127.0.0.1', DATABASE_URL: cluster.url, YIELD_WEB_FOLDER: WEB_FOLDER },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await new Promise((resolve) => server.stdout.once('data', resolve));
  return {
    url: `http://127.0.0.1:${port}`,
    databaseUrl: cluster.url,
    pid: server.pid,
    remove: async () => {
      const gone = new Promise((resolve) => server.once('close', resolve));
      server.kill('SIGTERM');
      await gone;
      await cluster.remove();
    },
  };
}
