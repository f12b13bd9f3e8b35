import { readdirSync } from 'node:fs';
import path from 'node:path';
import { startCluster } from './postgres.mjs';
import { ROOT } from './project.mjs';

/** The private cluster. A database of one's own has tools of its own. */
export async function openCluster() {
  if (process.env.DATABASE_URL)
    throw new Error('DATABASE_URL names a database of your own: use pg_dump --format=custom and pg_restore on it.');
  return startCluster(path.resolve(process.env.YIELD_HOME ?? path.join(ROOT, '.yield')));
}

/**
 * Reads a backup into a database of its own, which is dropped again unless `use` gave it another name.
 *
 * @param use - is given the database's name
 * @returns what `use` returns
 */
export async function restoreInto(cluster, file, purpose, use) {
  const database = `yield_${purpose}_${Date.now()}`;
  await cluster.createDatabase(database);
  try {
    await cluster.program('pg_restore', ['--no-owner', '--no-privileges', '--exit-on-error', '-d', database, file]).catch((error) => {
      throw new Error(`${file} is no whole backup of Yield. ${error.message}`);
    });
    return await use(database);
  } finally {
    await cluster.program('dropdb', ['--if-exists', database]);
  }
}

const asked = async (cluster, database, sql) =>
  (await cluster.program('psql', ['-XAtq', '-F', ' ', '-v', 'ON_ERROR_STOP=1', '-d', database, '-c', sql])).trim();

/** How much is stored in a database; the bytes of every capture are held against their hash. */
export async function storedIn(cluster, database) {
  const counted = await asked(
    cluster,
    database,
    `SELECT (SELECT count(*) FROM "tune"), (SELECT count(*) FROM "reading"), (SELECT count(*) FROM "trace"), (SELECT count(*) FROM "mark"),
      (SELECT count(*) FROM "trace" WHERE encode(sha256("bytes"), 'hex') <> "sha256")`,
  );
  const [tunes, readings, captures, marks, broken] = counted.split(' ').map(Number);
  if (broken > 0) throw new Error(`${broken} captures do not hold the bytes that were stored.`);
  return { tunes, readings, captures, marks };
}

/** The number of the last migration that a database has seen. */
export const schemaOf = async (cluster, database) => Number(await asked(cluster, database, `SELECT max("timestamp") FROM "migrations"`));

/** The number of the last migration that this version knows. */
export const newestSchema = () =>
  Math.max(
    ...readdirSync(path.join(ROOT, 'apps/server/src/database/migrations'))
      .map((name) => Number.parseInt(name, 10))
      .filter(Number.isFinite),
  );
