import { createHash, randomBytes } from 'node:crypto';
import {
  chmodSync,
  chownSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { installDebianPackage } from './packages.mjs';
import { anyFreePort } from './ports.mjs';
import { isRoot, run, succeeds } from './run.mjs';

// A private cluster on loopback. PostgreSQL refuses to run as root, so root hands every call to the distribution's own user.
const HOST = '127.0.0.1';
const SERVER_USER = 'postgres';
const DATABASE_USER = 'yield';
const VERSIONS_FOLDER = '/usr/lib/postgresql';

/**
 * Folder of PostgreSQL's programs, installed first where it may be.
 *
 * @param version - of the cluster that they are for: another one's programs would refuse it
 */
export async function postgresPrograms(version) {
  const found = findPrograms(version);
  if (found !== null) return found;
  if (version !== undefined) {
    throw new Error(
      `Your data were made by PostgreSQL ${version}, whose programs are not on this machine any more. Type: apt-get install postgresql-${version}. To move the data to another version, see “Moving and keeping the data” in the README.`,
    );
  }
  await installDebianPackage('postgresql', 'PostgreSQL');
  const installed = findPrograms();
  if (installed === null) throw new Error(`PostgreSQL was installed, but its programs are not below ${VERSIONS_FOLDER}.`);
  return installed;
}

function findPrograms(version) {
  if (version !== undefined) {
    const own = path.join(VERSIONS_FOLDER, version, 'bin');
    if (existsSync(path.join(own, 'pg_ctl'))) return own;
    // Not a distribution that keeps versions side by side: whatever is on the PATH has to do.
    if (existsSync(VERSIONS_FOLDER)) return null;
  }
  const versions = existsSync(VERSIONS_FOLDER)
    ? readdirSync(VERSIONS_FOLDER)
        .map(Number)
        .filter(Number.isFinite)
        .sort((a, b) => b - a)
    : [];
  const folders = [
    ...versions.map((version) => path.join(VERSIONS_FOLDER, String(version), 'bin')),
    ...(process.env.PATH ?? '').split(path.delimiter),
  ];
  return (
    folders.find((folder) => folder !== '' && existsSync(path.join(folder, 'initdb')) && existsSync(path.join(folder, 'pg_ctl'))) ?? null
  );
}

/**
 * Starts the private cluster below `home`, or joins the one that runs there already.
 *
 * @param options.settings - extra server settings, such as { fsync: 'off' } for tests
 * @returns { url, urlOf, stop, kill, start }: `stop` leaves the cluster alone while another program is connected to it
 */
export async function startCluster(home, { settings = {} } = {}) {
  // The distribution's package brings the server's user along, which the folder is for.
  const newest = await postgresPrograms();
  const folder = await usableFolder(home);
  const data = path.join(folder, 'cluster');
  const version = versionOf(data);
  const programs = version === undefined ? newest : await postgresPrograms(version);
  const password = await ensureCluster(programs, data);

  let port = await runningPort(programs, data);
  if (port === null) port = await start(programs, folder, data, settings);
  const urlOf = (database) => `postgres://${DATABASE_USER}:${password}@${HOST}:${port}/${database}`;
  const connection = ['-h', HOST, '-p', String(port), '-U', DATABASE_USER];
  const env = { PGPASSWORD: password };
  await ensureDatabase(programs, connection, env, 'yield');
  return {
    /** where its data lie */
    folder,
    url: urlOf('yield'),
    urlOf,
    /** one of PostgreSQL's own programs on this cluster, as its owner; @returns what it printed */
    program: (name, args) => run(path.join(programs, name), [...connection, ...args], { env, quiet: true }),
    createDatabase: (name) => run(path.join(programs, 'createdb'), [...connection, name], { env, quiet: true }),
    stop: async () => {
      const others = await queried(
        programs,
        connection,
        env,
        "SELECT count(*) FROM pg_stat_activity WHERE backend_type = 'client backend' AND pid <> pg_backend_pid()",
      );
      if (others !== null && Number(others) > 0) return;
      await asServer(path.join(programs, 'pg_ctl'), ['stop', '-D', data, '-m', 'fast', '-w']).catch(() => undefined);
    },
    /** stops it whoever is connected */
    kill: () => asServer(path.join(programs, 'pg_ctl'), ['stop', '-D', data, '-m', 'immediate', '-w']),
    /** as a power cut would: every process of it at once, nothing written any more */
    crash: async () => {
      const main = Number(readFileSync(path.join(data, 'postmaster.pid'), 'utf8').split('\n')[0]);
      const own = (await run('ps', ['-o', 'pid=', '--ppid', String(main)], { quiet: true })).split(/\s+/).filter((pid) => pid !== '');
      for (const pid of [main, ...own.map(Number)]) if (isAlive(pid)) process.kill(pid, 'SIGKILL');
      while (isAlive(main)) await new Promise((resolve) => setTimeout(resolve, 20));
    },
    /** whether its main process is there */
    isAlive: () => {
      const pid = existsSync(path.join(data, 'postmaster.pid'))
        ? Number(readFileSync(path.join(data, 'postmaster.pid'), 'utf8').split('\n')[0])
        : NaN;
      return Number.isInteger(pid) && pid > 0 && isAlive(pid);
    },
    /** starts it again on the same port, unless somebody else did */
    start: async () => (await runningPort(programs, data)) ?? start(programs, folder, data, settings, port),
    /** the end of what it wrote into its log */
    lastWords: () => lastWords(path.join(folder, 'database.log')),
  };
}

/**
 * A cluster for one run of tests or benchmarks, thrown away by `remove`: where nothing else is said, nothing of it has to survive a power cut.
 *
 * @param options.copyOf - the `folder` of another one, which is stopped: begins with its data
 */
export async function startThrowawayCluster({ settings = { fsync: 'off', synchronous_commit: 'off' }, copyOf } = {}) {
  // A space in the name, so that every run proves that paths may hold one.
  const home = mkdtempSync(path.join(os.tmpdir(), 'yield run '));
  chmodSync(home, 0o755);
  if (copyOf !== undefined) {
    await postgresPrograms();
    await run('cp', ['-a', path.join(copyOf, 'cluster'), await usableFolder(home)], { quiet: true });
  }
  const cluster = await startCluster(home, { settings });
  return {
    ...cluster,
    remove: async () => {
      await cluster.kill().catch(() => undefined);
      rmSync(home, { recursive: true, force: true });
    },
  };
}

/** The version that made a cluster, such as "15"; undefined where there is none yet. */
const versionOf = (data) =>
  existsSync(path.join(data, 'PG_VERSION')) ? readFileSync(path.join(data, 'PG_VERSION'), 'utf8').trim() : undefined;

/** The server's user must be able to enter every folder above the cluster: root's own home is closed to it. */
async function usableFolder(home) {
  mkdirSync(home, { recursive: true });
  if (!isRoot()) return home;
  const { uid, gid } = await serverIds();
  const candidates = [home, path.join('/var/lib/yield', createHash('sha256').update(home).digest('hex').slice(0, 12))];
  for (const folder of candidates) {
    mkdirSync(folder, { recursive: true });
    chmodSync(folder, 0o755);
    chownSync(folder, uid, gid);
    if (await succeeds('runuser', ['-u', SERVER_USER, '--', 'test', '-w', folder], { cwd: '/' })) {
      if (folder !== home) console.log(`The database's user cannot enter ${home}; the data is kept in ${folder}.`);
      return folder;
    }
  }
  throw new Error(
    `The user ${SERVER_USER} can write neither to ${candidates.join(' nor to ')}. Choose a folder yourself: YIELD_HOME=/srv/yield npm start`,
  );
}

async function serverIds() {
  const entry = await run('getent', ['passwd', SERVER_USER], { quiet: true });
  const [, , uid, gid] = entry.split(':');
  return { uid: Number(uid), gid: Number(gid) };
}

/**
 * Makes the cluster, with its password inside, in a folder beside and moves it into place: a start that was cut short
 * leaves no half of one, and of two starts at once one wins.
 */
async function ensureCluster(programs, data) {
  const passwordIn = (folder) => path.join(folder, 'yield-password');
  if (!existsSync(path.join(data, 'PG_VERSION'))) {
    console.log('Preparing the database (once) …');
    removeHalfMade(data);
    const fresh = `${data}.new-${process.pid}`;
    const passwordFile = `${fresh}.password`;
    writeFileSync(passwordFile, `${randomBytes(18).toString('base64url')}\n`, { mode: 0o600 });
    if (isRoot()) {
      const { uid, gid } = await serverIds();
      chownSync(passwordFile, uid, gid);
    }
    await asServer(path.join(programs, 'initdb'), [
      '-D',
      fresh,
      '-U',
      DATABASE_USER,
      '--auth=scram-sha-256',
      `--pwfile=${passwordFile}`,
      '--encoding=UTF8',
      // A disk that turns a bit is told, not passed on.
      '--data-checksums',
      '--locale=C.UTF-8',
    ]);
    renameSync(passwordFile, passwordIn(fresh));
    try {
      renameSync(fresh, data);
    } catch (error) {
      if (!existsSync(path.join(data, 'PG_VERSION'))) throw error;
      rmSync(fresh, { recursive: true, force: true });
    }
  }
  if (!existsSync(passwordIn(data)))
    throw new Error(`${data} holds a database without its password file. Move that folder away and start again.`);
  return readFileSync(passwordIn(data), 'utf8').trim();
}

/** What a start that was killed left beside the cluster. One that still works at it is left alone. */
function removeHalfMade(data) {
  const [folder, name] = [path.dirname(data), `${path.basename(data)}.new-`];
  for (const entry of readdirSync(folder)) {
    const maker = Number(entry.startsWith(name) ? entry.slice(name.length).split('.')[0] : NaN);
    if (Number.isInteger(maker) && !isAlive(maker)) rmSync(path.join(folder, entry), { recursive: true, force: true });
  }
}

function isAlive(pid) {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
}

/**
 * Takes away a lock that nobody holds: an empty one, or one whose number is another program's by now.
 *
 * PostgreSQL itself refuses both, since it cannot know. Where the system does not say what a process is, the lock stays.
 */
function removeStaleLock(data) {
  const lock = path.join(data, 'postmaster.pid');
  if (!existsSync(lock)) return;
  const pid = Number(readFileSync(lock, 'utf8').split('\n')[0]);
  if (Number.isInteger(pid) && pid > 0) {
    if (!existsSync('/proc/self/cmdline')) return;
    const program = existsSync(`/proc/${pid}/cmdline`) ? readFileSync(`/proc/${pid}/cmdline`, 'utf8') : '';
    if (program.includes(data)) return;
  }
  rmSync(lock, { force: true });
}

/** Port of the cluster that runs on this data folder, or null. */
async function runningPort(programs, data) {
  removeStaleLock(data);
  if (!(await serverSucceeds(path.join(programs, 'pg_ctl'), ['status', '-D', data]))) return null;
  // Root reads the file of another user; an ordinary user owns it.
  const [, , , port] = readFileSync(path.join(data, 'postmaster.pid'), 'utf8').split('\n');
  return Number(port);
}

async function start(programs, folder, data, settings, fixedPort) {
  const log = path.join(folder, 'database.log');
  let lastError;
  for (let attempt = 0; attempt < 3; attempt += 1) {
    const port = fixedPort ?? (await anyFreePort(HOST));
    const flags = Object.entries({ listen_addresses: HOST, unix_socket_directories: '', ...settings }).map(
      ([key, value]) => `-c ${key}='${value}'`,
    );
    try {
      await asServer(path.join(programs, 'pg_ctl'), [
        'start',
        '-D',
        data,
        '-w',
        '-t',
        '60',
        '-l',
        log,
        '-o',
        `-p ${port} ${flags.join(' ')}`,
      ]);
      return port;
    } catch (error) {
      lastError = error;
      // Two starts at once: the other one was first, and its cluster is ours too.
      const port = fixedPort === undefined ? await runningPort(programs, data) : null;
      if (port !== null) return port;
    }
  }
  throw new Error(`The database did not start. Its last words (${log}):\n${lastWords(log)}\n${lastError?.message ?? ''}`);
}

const lastWords = (log) => (existsSync(log) ? readFileSync(log, 'utf8').trim().split('\n').slice(-5).join('\n') : '');

async function ensureDatabase(programs, connection, env, name) {
  const there = await queried(programs, [...connection, '-d', 'postgres'], env, `SELECT 1 FROM pg_database WHERE datname = '${name}'`);
  if (there === '1') return;
  await run(path.join(programs, 'createdb'), [...connection, name], { env, quiet: true });
}

async function queried(programs, connection, env, sql) {
  const database = connection.includes('-d') ? [] : ['-d', 'postgres'];
  try {
    return (await run(path.join(programs, 'psql'), [...connection, ...database, '-XAtc', sql], { env, quiet: true })).trim();
  } catch {
    return null;
  }
}

// From "/", since the server's user may not be able to enter the folder we are in.
const asServer = (program, args) => run(...serverCall(program, args), { cwd: '/', quiet: true });
const serverSucceeds = (program, args) => succeeds(...serverCall(program, args), { cwd: '/' });
const serverCall = (program, args) => (isRoot() ? ['runuser', ['-u', SERVER_USER, '--', program, ...args]] : [program, args]);
