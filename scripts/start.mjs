// npm start: installs what is missing, builds, starts the private database, loads the demo into an empty one, serves.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync } from 'node:fs';
import path from 'node:path';
import { build, checkNode, installNpmPackages, ROOT, SERVER_MAIN, WEB_FOLDER } from './lib/project.mjs';
import { freePortFrom } from './lib/ports.mjs';
import { startCluster } from './lib/postgres.mjs';
import { endOrphans, forgetRunning, noteRunning, runningOn } from './lib/running.mjs';
import { step } from './lib/steps.mjs';
import { keepAlive } from './lib/keepAlive.mjs';

const DEFAULT_PORT = 4620;
/** What the server ends with where the database does not answer. */
const DATABASE_UNREACHED = 75;

async function main() {
  // Before anything is made: what is wrong with the settings is told at once.
  checkNode();
  const wanted = portWanted();
  const host = hostWanted();
  const home = path.resolve(process.env.YIELD_HOME ?? path.join(ROOT, '.yield'));
  const isPrivate = !process.env.DATABASE_URL;
  if (isPrivate) await lookAround(home);

  await step('packages', 'Packages', installNpmPackages);
  await step('build', 'Build', build);
  let cluster = null;
  if (isPrivate)
    await step('database', 'Database', async () => {
      cluster = await startCluster(home);
      return 'started';
    });
  const port = await freePortFrom(wanted, host);
  const url = `http://${host}:${port}`;

  const env = {
    ...process.env,
    PORT: String(port),
    HOST: host,
    DATABASE_URL: process.env.DATABASE_URL ?? cluster.url,
    YIELD_ENDS_WITH_STDIN: '1',
    ...(isPrivate ? { YIELD_PRIVATE_DATABASE: '1' } : {}),
    ...(existsSync(WEB_FOLDER) ? { YIELD_WEB_FOLDER: WEB_FOLDER } : {}),
  };
  let server;
  let stopping = false;
  let isReady = false;
  let endCode = 0;

  const end = (code) => {
    if (isPrivate) forgetRunning(home);
    void Promise.resolve(cluster?.stop()).finally(() => process.exit(code));
  };
  /** Gives up: the server first, so that nothing is asked of a database that goes. */
  const giveUp = (words) => {
    if (stopping) return;
    stopping = true;
    endCode = 1;
    console.error(words);
    if (server === undefined || server.exitCode !== null || server.signalCode !== null) end(1);
    else server.kill('SIGTERM');
  };
  const watchedDatabase = keepAlive({
    isAlive: () => cluster === null || cluster.isAlive(),
    start: () => cluster.start(),
    onDeath: (rest) =>
      console.log(`The database ended unexpectedly, and is started again${rest < 1000 ? '' : ` in ${Math.round(rest / 1000)} s`}.`),
    onGivenUp: () => giveUp(`The database ended three times within a minute, and is left alone. Its last words:\n${cluster.lastWords()}`),
  });
  const deaths = keepAlive.counter();
  const serve = () => {
    server = spawn(process.execPath, ['--enable-source-maps', SERVER_MAIN], { cwd: ROOT, env, stdio: ['pipe', 'pipe', 'inherit'] });
    // Held open as long as this program runs: when it ends, however it ends, the server ends too.
    server.stdin.on('error', () => undefined);
    server.stdout.on('data', (chunk) => hear(String(chunk)));
    if (isPrivate) noteRunning(home, { url, serverPid: server.pid });
    server.once('exit', (code) => {
      if (stopping) end(endCode);
      else if (code === DATABASE_UNREACHED) again(500);
      // One that never got there has a reason that it said.
      else if (!isReady) end(code ?? 1);
      else {
        const rest = deaths.next();
        if (rest === undefined) giveUp('The server ended three times within a minute, and is left alone. What it said stands above.');
        else {
          console.log('The server ended unexpectedly, and is started again.');
          again(rest);
        }
      }
    });
  };
  const again = (rest) => void setTimeout(() => (stopping ? end(endCode) : serve()), rest);
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
    watchedDatabase.stop();
    server.kill('SIGTERM');
  };
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
  process.on('SIGHUP', stop);
  serve();
}

/** Other starts on the same data, and what a start that was killed left behind. */
async function lookAround(home) {
  mkdirSync(home, { recursive: true });
  const { others, orphans } = runningOn(home);
  if (orphans.length > 0) await endOrphans(orphans);
  for (const url of others)
    console.log(`Another Yield runs on these data${url === '' ? '' : `, at ${url}`}. This is one more server, on the same database.`);
}

function portWanted() {
  const text = process.env.PORT ?? String(DEFAULT_PORT);
  const port = Number(text);
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new Error(`PORT must be a whole number from 1 to 65535, and is “${text}”.`);
  return port;
}

/** As the server's own settings have it. */
function hostWanted() {
  const host = process.env.HOST?.trim() || '127.0.0.1';
  if (/^(localhost|127(\.\d{1,3}){3}|::1|\[::1\])$/i.test(host) || process.env.YIELD_ALLOW_EXPOSED === '1') return host;
  throw new Error(
    `HOST is “${host}”, which others on the network can reach, and Yield has no accounts: whoever reaches it reads and changes everything. Leave HOST empty, or set YIELD_ALLOW_EXPOSED=1 as well if that is what you want.`,
  );
}

const FILE_FAULTS = {
  EROFS: 'The disk is read-only',
  ENOSPC: 'The disk is full',
  EACCES: 'This user may not write',
  EPERM: 'This user may not write',
};

/** A fault of the disk in words, with the place; anything else as it says itself. */
const wordsOf = ({ code, path: place, message }) =>
  FILE_FAULTS[code] === undefined
    ? message
    : `${FILE_FAULTS[code]}: ${place ?? 'the folder of the data'}. Choose another folder: YIELD_HOME=/srv/yield npm start`;

main().catch((error) => {
  console.error(`\nYield could not start. ${wordsOf(error)}`);
  process.exit(1);
});
