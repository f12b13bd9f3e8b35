// npm start: installs what is missing, builds, starts the private database, loads the demo into an empty one, serves.
import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import path from 'node:path';
import { build, checkNode, installNpmPackages, ROOT, SERVER_MAIN, WEB_FOLDER } from './lib/project.mjs';
import { freePortFrom } from './lib/ports.mjs';
import { startCluster } from './lib/postgres.mjs';

const DEFAULT_PORT = 4620;
/** A server that dies more often than this within the time is left alone. */
const MOST_DEATHS = 5;
const DEATHS_WITHIN_MS = 60_000;

async function main() {
  checkNode();
  const wanted = portWanted();
  await installNpmPackages();
  await build();
  const cluster = process.env.DATABASE_URL ? null : await startCluster(path.resolve(process.env.YIELD_HOME ?? path.join(ROOT, '.yield')));
  const host = process.env.HOST?.trim() || '127.0.0.1';
  const port = await freePortFrom(wanted, host);

  const env = {
    ...process.env,
    PORT: String(port),
    HOST: host,
    DATABASE_URL: process.env.DATABASE_URL ?? cluster.url,
    ...(existsSync(WEB_FOLDER) ? { YIELD_WEB_FOLDER: WEB_FOLDER } : {}),
  };
  let server;
  let stopping = false;
  let isReady = false;
  const deaths = [];
  const serve = () => {
    server = spawn(process.execPath, ['--enable-source-maps', SERVER_MAIN], { cwd: ROOT, env, stdio: ['ignore', 'pipe', 'inherit'] });
    server.stdout.on('data', (chunk) => hear(String(chunk)));
    server.once('exit', (code) => {
      const now = Date.now();
      deaths.push(now);
      const recent = deaths.filter((at) => now - at < DEATHS_WITHIN_MS).length;
      // One that died at work is started again; one that dies again and again has a reason that it said.
      if (isReady && !stopping && recent <= MOST_DEATHS) {
        console.log('The server ended unexpectedly, and is started again.');
        setTimeout(() => (stopping ? end(0) : serve()), 500);
      } else end(stopping ? 0 : (code ?? 1));
    });
  };
  const end = (code) => void Promise.resolve(cluster?.stop()).finally(() => process.exit(code));
  const hear = (text) => {
    if (!text.includes('listening on ')) {
      process.stdout.write(text);
      return;
    }
    process.stdout.write(text.slice(0, text.indexOf('listening on ')));
    if (port !== wanted && !isReady) {
      console.log(
        `Port ${wanted} is taken by another program, so this is port ${port}. To choose one: PORT=8080 npm start\n` +
          `A browser keeps what was not sent yet by address: entries made at port ${wanted} wait there, and are sent once Yield is started on it again.`,
      );
    }
    isReady = true;
    console.log(`Yield is ready: ${text.split('listening on ')[1].trim()}   (Ctrl+C ends it)`);
  };
  const stop = () => {
    if (stopping) return;
    stopping = true;
    server.kill('SIGTERM');
  };
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
  process.on('SIGHUP', stop);
  serve();
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
