// npm run backup [FILE]: everything that is stored, captures included, in one file of PostgreSQL's own, checked after it was written.
import { existsSync, renameSync, rmSync, statSync } from 'node:fs';
import path from 'node:path';
import { openCluster, restoreInto, storedIn } from './lib/backup.mjs';
import { ROOT } from './lib/project.mjs';

async function main() {
  const stamp = new Date().toISOString().slice(0, 16).replace(/[T:]/g, '-');
  const file = path.resolve(process.env.INIT_CWD ?? ROOT, process.argv[2] ?? `yield-${stamp}.backup`);
  if (existsSync(file)) throw new Error(`${file} is there already. Name another file: npm run backup -- FILE`);
  const part = `${file}.part`;
  const cluster = await openCluster();
  // Whoever else uses the machine reads nothing of it; under its own name it stands once it was read back.
  process.umask(0o077);
  try {
    await cluster.program('pg_dump', ['--format=custom', '--no-owner', '--no-privileges', `--file=${part}`, 'yield']);
    const [kept, here] = await Promise.all([
      restoreInto(cluster, part, 'check', async (database) => storedIn(cluster, database)),
      storedIn(cluster, 'yield'),
    ]);
    // What was entered while the backup was written is missing from it, and nothing else may be.
    if (kept.tunes > here.tunes || kept.readings > here.readings || (kept.tunes === 0) !== (here.tunes === 0))
      throw new Error(`The backup does not hold what is stored: ${told(kept)} instead of ${told(here)}. Try again.`);
    renameSync(part, file);
    console.log(`${file}\n${told(kept)}, ${(statSync(file).size / 1e6).toFixed(1)} MB, read back and counted.`);
  } finally {
    rmSync(part, { force: true });
    await cluster.stop();
  }
}

const told = ({ tunes, readings, captures, marks }) => `${tunes} tunes, ${readings} readings, ${captures} captures, ${marks} ticked steps`;

main().catch((error) => {
  console.error(`\nNo backup was made. ${error.message}`);
  process.exit(1);
});
