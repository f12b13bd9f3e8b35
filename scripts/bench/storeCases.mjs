// What the server answers from a full store, and what a demo tune costs to evaluate.
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { postgresPrograms } from '../lib/postgres.mjs';
import { ROOT } from '../lib/project.mjs';
import { run } from '../lib/run.mjs';
import { startThrowawayServer } from '../lib/throwawayServer.mjs';

const TUNES = 1000;
const READINGS = 500;
const READERS = { count: 30, seconds: 20 };
const ASKS = 21;

/** The largest demo tune, copied until the store is full: each copy with its readings over and over, the newest as they are. */
const FILL = `
BEGIN;
CREATE TEMP TABLE "copy" AS
  SELECT gen_random_uuid() AS "new", t."id" AS "old", n FROM "tune" t, generate_series(1, ${TUNES} - (SELECT count(*)::int FROM "tune")) n
  WHERE t."id" = (SELECT "tune_id" FROM "reading" GROUP BY 1 ORDER BY count(*) DESC LIMIT 1);
INSERT INTO "tune" ("id", "name", "vehicle", "settings", "version", "updated_at")
  SELECT c."new", t."name" || ' ' || c.n, t."vehicle", t."settings", 1, now() - c.n * interval '1 minute' FROM "copy" c JOIN "tune" t ON t."id" = c."old";
INSERT INTO "chain" ("tune_id", "body", "version") SELECT c."new", h."body", 1 FROM "copy" c JOIN "chain" h ON h."tune_id" = c."old";
INSERT INTO "mark" ("tune_id", "step_id", "checks", "basis", "basis_words", "values", "skipped_reason", "version")
  SELECT c."new", m."step_id", m."checks", m."basis", m."basis_words", m."values", m."skipped_reason", 1 FROM "copy" c JOIN "mark" m ON m."tune_id" = c."old";
INSERT INTO "reading" ("id", "tune_id", "step_id", "kind", "value", "resolution", "conditions", "taken_at")
  SELECT gen_random_uuid(), c."new", r."step_id", r."kind", r."value", r."resolution", r."conditions", r."taken_at" - r.again * interval '1 day'
  FROM "copy" c JOIN LATERAL (
    SELECT r.*, again FROM "reading" r, generate_series(0, ${READINGS}) again WHERE r."tune_id" = c."old" ORDER BY again, r."taken_at" LIMIT ${READINGS}
  ) r ON true;
COMMIT;
ANALYZE;`;

/** The query of the list, as the server asks it, and that of a tune's readings. */
const ASKED = [
  ['list', `SELECT * FROM "tune" WHERE "deleted_at" IS NULL ORDER BY "updated_at" DESC, "name" ASC`],
  [
    'readings of one tune',
    `SELECT * FROM "reading" WHERE "tune_id" = (SELECT "id" FROM "tune" ORDER BY "updated_at" LIMIT 1) ORDER BY "taken_at"`,
  ],
];

/**
 * A server of its own, with its demo tunes and then, once `fill` is called, a full store.
 *
 * @param work - what is measured there: `url`, `get` an address (body and ms), `psql` a statement, `fill` the store
 */
async function withStore(work) {
  const server = await startThrowawayServer();
  const programs = await postgresPrograms();
  const psql = (sql) =>
    run(path.join(programs, 'psql'), ['-X', '-q', '-A', '-t', '-v', 'ON_ERROR_STOP=1', '-d', server.databaseUrl, '-c', sql], {
      quiet: true,
    });
  const get = async (where) => {
    const start = performance.now();
    const answer = await fetch(`${server.url}/api/v1${where}`);
    const body = await answer.json();
    if (!answer.ok) throw new Error(`${where}: ${JSON.stringify(body)}`);
    return { body, took: performance.now() - start };
  };
  try {
    return await work({ url: server.url, get, psql, fill: () => psql(FILL) });
  } finally {
    await server.remove();
  }
}

/** @param work - as of `withStore`, on a store of a thousand tunes of five hundred readings */
export const withFullStore = (work) =>
  withStore(async (store) => {
    await store.fill();
    return await work(store);
  });

/** @returns times in ms: evaluation of each demo tune, list (first and later), one tune, the run of one; and how PostgreSQL reads them */
export const storeCases = (folder) =>
  withStore(async ({ get, psql, fill }) => {
    const times = async (where) => {
      const took = [];
      for (let ask = 0; ask < ASKS; ask += 1) took.push((await get(where)).took);
      return took;
    };
    const demo = await Promise.all((await get('/tunes')).body.map(async ({ id }) => (await get(`/tunes/${id}`)).body));
    const file = path.join(folder, 'demo.json');
    writeFileSync(file, JSON.stringify(demo));
    const evaluation = JSON.parse(
      await run(process.execPath, ['--import', 'tsx', path.join(ROOT, 'scripts/bench/runCase.mjs'), file], { cwd: ROOT, quiet: true }),
    );
    await fill();
    const first = await get('/tunes');
    const { id } = (await get(`/tunes?limit=1&offset=${TUNES - 1}`)).body[0];
    const readings = (await get(`/tunes/${id}`)).body.readings.length;
    if (readings !== READINGS) throw new Error(`the tune has ${readings} readings`);
    const plans = [];
    for (const [name, sql] of ASKED) plans.push({ name, plan: await psql(`EXPLAIN (ANALYZE, COSTS OFF) ${sql}`) });
    return {
      evaluation,
      listFirst: first.took,
      list: await times('/tunes'),
      sought: await times('/tunes?search=bus%2012&sort=open'),
      readers: await manyReaders(get),
      tune: await times(`/tunes/${id}`),
      run: await times(`/tunes/${id}/run`),
      plans,
    };
  });

/** Many who read the list, search it and open tunes, all at once. @returns how often they asked, what failed, and times in ms */
async function manyReaders(get) {
  const took = [];
  const failed = [];
  const until = performance.now() + READERS.seconds * 1000;
  await Promise.all(
    Array.from({ length: READERS.count }, async (_, reader) => {
      for (let ask = 0; performance.now() < until; ask += 1) {
        const where = [`/tunes?offset=${(reader * 20) % TUNES}&limit=50`, `/tunes?search=${reader}`, '/tunes?sort=open'][ask % 3];
        await get(where).then(
          (answer) => took.push(answer.took),
          (error) => failed.push(error.message),
        );
      }
    }),
  );
  return { took, failed, ...READERS };
}
