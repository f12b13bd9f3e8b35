// npm run endure [-- rounds [seed]]: the server or the database is killed again and again while a browser and a script write, and while
// exports, imports, sheets and captures are on their way; then lines to the database break at random bytes, two devices with clocks that
// jump take turns, and a browser's store is used up.
//
// Whatever was acknowledged, to the script by an answer and in the browser by its place in the queue, must be stored once and
// whole in the end. The queue of the browser is the real one: a page of the built application into which readings are typed.
import { chromium } from '@playwright/test';
import { spawn } from 'node:child_process';
import { createHash, randomUUID } from 'node:crypto';
import { brokenLines } from './lib/brokenLines.mjs';
import { seededRandom } from './lib/fuzz.mjs';
import { anyFreePort } from './lib/ports.mjs';
import { startThrowawayCluster } from './lib/postgres.mjs';
import { SERVER_MAIN, WEB_FOLDER } from './lib/project.mjs';
import { twoDevices } from './lib/twoDevices.mjs';

const [rounds = 200, seed = 4620] = process.argv.slice(2).map(Number);
const random = seededRandom(seed);
const sleep = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

// As a user's own database is: what was acknowledged has to survive.
const cluster = await startThrowawayCluster({ settings: { fsync: 'on', synchronous_commit: 'on', full_page_writes: 'on' } });
const port = await anyFreePort('127.0.0.1');
const url = `http://127.0.0.1:${port}`;
let server;
/** A server that ends by itself is a fault: what it said last, each time. */
const ownEnds = [];
async function startServer() {
  server = spawn(process.execPath, [SERVER_MAIN], {
    env: { ...process.env, PORT: String(port), HOST: '127.0.0.1', DATABASE_URL: cluster.url, YIELD_WEB_FOLDER: WEB_FOLDER },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  const own = server;
  own.said = '';
  own.stderr.on('data', (text) => (own.said = (own.said + text).slice(-2000)));
  own.once('exit', (code, signal) => {
    if (signal === 'SIGKILL') return;
    ownEnds.push(`exit ${code}: ${own.said}`);
    console.log(ownEnds.at(-1));
  });
  await new Promise((resolve, reject) => {
    own.stdout.on('data', (text) => String(text).includes('listening on') && resolve());
    own.once('exit', () => reject(new Error(`the server ended: ${own.said}`)));
  }).catch((error) => console.log(error.message));
}
async function kill(child) {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const gone = new Promise((resolve) => child.once('close', resolve));
  child.kill('SIGKILL');
  await gone;
}

await startServer();
const tunes = await (await fetch(`${url}/api/v1/tunes`)).json();
const bus = tunes.find(({ name }) => name === 'Mobile library bus').id;
const car = tunes.find(({ name }) => name === 'Driving-school car').id;
const before = await (await fetch(`${url}/api/v1/tunes/${bus}`)).json();

const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu'],
});
const page = await browser.newPage({ serviceWorkers: 'block' });
await page.goto(`${url}/tunes/${bus}/run/gain:reading-right`);
await page.getByTestId('verdict').waitFor();

let isOver = false;
/** What was typed into the page; each figure once. */
const typed = [];
const typing = (async () => {
  while (!isOver) {
    const figure = (9 + typed.length * 0.0001).toFixed(4);
    await page.locator('body').press('r');
    await page.keyboard.type(figure);
    await page.keyboard.press('Enter');
    typed.push(Number(figure));
    await page.keyboard.press('Escape');
    await sleep(500);
  }
})();

/** What the script wrote: readings, and edits of one figure, each answered at least once. */
const acknowledged = new Map();
let volume = 0;
const model = before.readings.find(({ kind }) => kind === 'gain-voltage') ?? before.readings[0];
const writing = (async () => {
  const { stepId, kind, resolution, conditions } = model;
  let chain = (await (await fetch(`${url}/api/v1/tunes/${car}`)).json()).chain;
  while (!isOver) {
    const id = randomUUID();
    const isEdit = random() < 0.3;
    const value = Math.round(random() * 1e6) / 1e4;
    const next = 1 + ((volume + 1) % 20);
    const body = isEdit
      ? {
          kind: 'chain',
          seen: chain.version,
          changes: [{ path: ['source', 'workingVolume'], before: chain.body.source.workingVolume, after: next }],
        }
      : { stepId, kind, value, resolution, conditions, takenAt: new Date().toISOString() };
    const address = isEdit ? `${url}/api/v1/tunes/${car}/edits/${id}` : `${url}/api/v1/tunes/${bus}/readings/${id}`;
    // Sent until it is answered, now and then once more.
    for (;;) {
      const answer = await fetch(address, { method: 'PUT', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
        .then(async (response) => ({ status: response.status, body: await response.json() }))
        .catch(() => undefined);
      if (answer === undefined || answer.status >= 500) {
        await sleep(50);
        continue;
      }
      if (answer.status >= 400) throw new Error(`refused: ${JSON.stringify(answer.body).slice(0, 300)}`);
      if (isEdit) {
        chain = answer.body;
        volume = next;
      }
      if (random() < 0.9) break;
    }
    acknowledged.set(id, isEdit ? { edit: next } : { value });
  }
})();

/** What is asked beside, again and again, and how it ended: whatever is cut off, nothing of it is half there. */
const beside = { export: {}, import: {}, sheet: {}, capture: {} };
const capturesStored = new Map();
const trailer = tunes.find(({ name }) => name === 'Camper trailer').id;
const archive = Buffer.from(await (await fetch(`${url}/api/v1/tunes/${trailer}/export.zip`)).arrayBuffer());
const loadTrace = before.traces.find(({ conditions }) => conditions.at === 'load');
const sheetPapers = ['a4', 'letter', 'card'];
const asking = Object.entries({
  export: () => fetch(`${url}/api/v1/tunes/${car}/export.zip`),
  import: () => fetch(`${url}/api/v1/import`, { method: 'POST', headers: { 'content-type': 'application/zip' }, body: archive }),
  sheet: () => fetch(`${url}/api/v1/tunes/${bus}/sheet.pdf?paper=${sheetPapers[Math.floor(random() * 3)]}`),
  capture: async () => {
    const id = randomUUID();
    const csv = `TIME,CH1\n${Array.from({ length: 4000 }, (_, i) => `${(i * 1e-4).toFixed(4)},${Math.sin(i / 4 + capturesStored.size).toFixed(4)}`).join('\n')}\n`;
    const query = new URLSearchParams({
      stepId: loadTrace.stepId,
      fileName: 'endure.csv',
      takenAt: new Date().toISOString(),
      conditions: JSON.stringify(loadTrace.conditions),
    });
    const response = await fetch(`${url}/api/v1/tunes/${bus}/traces/${id}?${query}`, {
      method: 'PUT',
      headers: { 'content-type': 'text/csv' },
      body: csv,
    });
    if (response.ok) capturesStored.set(id, createHash('sha256').update(csv).digest('hex'));
    return response;
  },
}).map(async ([name, ask]) => {
  while (!isOver) {
    const ended = await ask()
      .then(async (response) => {
        await response.arrayBuffer();
        return response.status;
      })
      .catch(() => 'cut off');
    beside[name][ended] = (beside[name][ended] ?? 0) + 1;
    await sleep(200 + random() * 400);
  }
});

let [servers, databases] = [0, 0];
for (let round = 1; round <= rounds; round += 1) {
  await sleep(200 + random() * 600);
  if (random() < 0.5) {
    servers += 1;
    await kill(server);
    await startServer();
  } else {
    databases += 1;
    await cluster.crash();
    await sleep(random() * 200);
    await cluster.start();
  }
  if (round % 20 === 0) console.log(`round ${round}: ${typed.length} typed, ${acknowledged.size} answered`);
}
isOver = true;
await Promise.all([typing, writing, ...asking]);
await page.getByText(/kept in this browser until|^Saving /).waitFor({ state: 'detached', timeout: 600_000 });

/** Rows of a query, by PostgreSQL's own program. */
const queried = async (sql) =>
  JSON.parse(await cluster.program('psql', ['-X', '-A', '-t', '-d', 'yield', '-c', `SELECT coalesce(json_agg(q), '[]') FROM (${sql}) q`]));
const rows = await queried(`SELECT "id", "value", "kind" FROM "reading" WHERE "tune_id" = '${bus}'`);
const operations = await queried(`SELECT "id", "kind", "subject", "body" FROM "operation" WHERE "tune_id" IN ('${bus}', '${car}')`);

const faults = ownEnds.map((said) => `the server ended by itself, ${said}`);
const stored = new Map(rows.map((row) => [row.id, row]));
for (const [id, { value, edit }] of acknowledged) {
  if (edit !== undefined) {
    const own = operations.filter((operation) => operation.id === id);
    if (own.length !== 1 || own[0].body.changes[0].after !== edit) faults.push(`edit ${id}: on the record ${own.length} times`);
    continue;
  }
  if (stored.get(id)?.value !== value) faults.push(`reading ${id} of ${value}: stored as ${stored.get(id)?.value}`);
}
const known = new Set([...before.readings.map(({ id }) => id), ...acknowledged.keys()]);
const ofPage = rows.filter(({ id }) => !known.has(id)).map(({ value }) => value);
for (const value of typed) {
  const count = ofPage.filter((each) => each === value).length;
  if (count !== 1) faults.push(`typed ${value}: stored ${count} times`);
}
if (ofPage.length !== typed.length) faults.push(`${typed.length} typed, ${ofPage.length} stored`);
// Each reading with its entry on the record, each entry with its reading.
const told = new Set(operations.filter(({ kind }) => kind === 'reading').map(({ subject }) => subject));
for (const { id } of rows)
  if (!told.has(id) && !before.readings.some((each) => each.id === id)) faults.push(`reading ${id} is not on the record`);
for (const id of told) if (!stored.has(id)) faults.push(`the record tells of a reading ${id} that is not there`);

const storedCaptures = new Map(
  (await queried(`SELECT "id", "sha256", encode(sha256("bytes"), 'hex') AS "own" FROM "trace"`)).map((row) => [row.id, row]),
);
for (const [id, hash] of capturesStored) {
  const row = storedCaptures.get(id);
  if (row?.sha256 !== hash || row.own !== hash) faults.push(`capture ${id}: stored as ${row?.own}`);
}
// A tune that was brought in is whole: its history says so, once for each time.
for (const { id, n } of await queried(
  `SELECT t."id", count(o.*) AS n FROM "tune" t LEFT JOIN "operation" o ON o."tune_id" = t."id" AND o."kind" = 'brought-in'
   WHERE t."id" NOT IN (${tunes.map((tune) => `'${tune.id}'`).join(', ')}) GROUP BY 1`,
))
  if (Number(n) < 1) faults.push(`tune ${id} was brought in, and its history does not say so`);

// A browser whose store is used up: it says so, and what was entered is sent all the same.
const cdp = await page.context().newCDPSession(page);
await cdp.send('Storage.overrideQuotaForOrigin', { origin: url, quotaSize: 1 });
const small = (9.9).toFixed(4);
await kill(server);
await page.locator('body').press('r');
await page.keyboard.type(small);
await page.keyboard.press('Enter');
await sleep(500);
await startServer();
await page.getByText(/held by this page|kept in this browser until|^Saving /).waitFor({ state: 'detached', timeout: 60_000 });
const [{ n: kept }] = await queried(`SELECT count(*) AS n FROM "reading" WHERE "tune_id" = '${bus}' AND "value" = ${small}`);
if (Number(kept) !== 1) faults.push(`typed with the browser's store used up: stored ${kept} times`);

const turns = await twoDevices(url, { seed, runs: 500 });
faults.push(...turns.faults);
await cluster.createDatabase('lines');
const lines = await brokenLines(cluster.urlOf('lines'), { seed, rounds: 300 });
faults.push(...lines.faults);

console.table(Object.fromEntries(Object.entries(beside)));
console.table(lines.table);
console.log(
  `two devices: ${turns.runs} runs, ${turns.sent} sent; lines broken ${lines.rounds} times; ${capturesStored.size} captures answered`,
);
console.log(
  `${rounds} rounds, seed ${seed}: server killed ${servers} times, database ${databases} times; ` +
    `${typed.length} readings typed in a browser, ${acknowledged.size} writes of a script answered`,
);
for (const fault of faults.slice(0, 40)) console.log(fault);
console.log(faults.length === 0 ? 'none lost, doubled or half-written' : `${faults.length} faults`);
process.exitCode = faults.length === 0 ? 0 : 1;

await browser.close();
await kill(server);
await cluster.remove();
