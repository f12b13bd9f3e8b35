// npm run restore -- FILE: puts a backup in the place of what is stored; what was there is kept beside it.
import { existsSync } from 'node:fs';
import path from 'node:path';
import { newestSchema, openCluster, restoreInto, schemaOf, storedIn } from './lib/backup.mjs';
import { ROOT } from './lib/project.mjs';

async function main() {
  const given = process.argv[2];
  if (given === undefined) throw new Error('Name the file: npm run restore -- FILE');
  const file = path.resolve(process.env.INIT_CWD ?? ROOT, given);
  if (!existsSync(file)) throw new Error(`There is no file ${file}.`);
  const cluster = await openCluster();
  try {
    const sql = (statement) => cluster.program('psql', ['-XAtq', '-v', 'ON_ERROR_STOP=1', '-d', 'postgres', '-c', statement]);
    const users = await sql(`SELECT count(*) FROM pg_stat_activity WHERE datname = 'yield'`);
    if (Number(users) > 0) throw new Error('Yield is running on this database. End it first (Ctrl+C), then restore.');
    const stamp = Date.now();
    const stored = await restoreInto(cluster, file, 'restored', async (database) => {
      const schema = await schemaOf(cluster, database);
      if (schema > newestSchema()) throw new Error('This backup was made by a newer version of Yield. Bring this one up to date first.');
      const found = await storedIn(cluster, database);
      await sql(`ALTER DATABASE yield RENAME TO yield_before_${stamp}`);
      await sql(`ALTER DATABASE ${database} RENAME TO yield`);
      return found;
    });
    console.log(
      `Restored: ${stored.tunes} tunes, ${stored.readings} readings, ${stored.captures} captures. What was there before is kept in the database yield_before_${stamp}.`,
    );
  } finally {
    await cluster.stop();
  }
}

main().catch((error) => {
  console.error(`\nNothing was restored, and nothing changed. ${error.message}`);
  process.exit(1);
});
