// npm start: installs what is missing, builds, starts the private database, loads the demo into an empty one, serves.
import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import path from 'node:path';
import { build, checkNode, installNpmPackages, ROOT, SERVER_MAIN, WEB_FOLDER } from './lib/project.mjs';
import { freePortFrom } from './lib/ports.mjs';
import { startCluster } from './lib/postgres.mjs';

const DEFAULT_PORT = 4620;

async function main() {
  checkNode();
  const wanted = portWanted();
  await installNpmPackages();
  await build();
  const cluster = process.env.DATABASE_URL ? null : await startCluster(path.resolve(process.env.YIELD_HOME ?? path.join(ROOT, '.yield')));
  const host = process.env.HOST ?? '127.0.0.1';
  const port = await freePortFrom(wanted, host);

  const server = spawn(process.execPath, ['--enable-source-maps', SERVER_MAIN], {
    cwd: ROOT,
    env: {
      ...process.env,
      PORT: String(port),
      HOST: host,
      DATABASE_URL: process.env.DATABASE_URL ?? cluster.url,
      ...(existsSync(WEB_FOLDER) ? { YIELD_WEB_FOLDER: WEB_FOLDER } : {}),
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  let stopping = false;
  server.stdout.on('data', (chunk) => {
    const text = String(chunk);
    if (!text.startsWith('listening on ')) {
      process.stdout.write(text);
      return;
    }
    if (port !== wanted)
      console.log(`Port ${wanted} is taken by another program, so this is port ${port}. To choose one: PORT=8080 npm start`);
    console.log(`Yield is ready: ${text.slice('listening on '.length).trim()}   (Ctrl+C ends it)`);
  });
  const stop = () => {
    if (stopping) return;
    stopping = true;
    server.kill('SIGTERM');
  };
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
  process.on('SIGHUP', stop);
  server.once('exit', (code) => {
    void Promise.resolve(cluster?.stop()).finally(() => process.exit(stopping ? 0 : (code ?? 1)));
  });
}

function portWanted() {
  const text = process.env.PORT ?? String(DEFAULT_PORT);
  const port = Number(text);
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new Error(`PORT must be a whole number from 1 to 65535, and is “${text}”.`);
  return port;
}

main().catch((error) => {
  console.error(`\nYield could not start. ${error.message}`);
  process.exit(1);
});
