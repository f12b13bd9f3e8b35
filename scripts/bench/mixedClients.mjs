// Fifty people at one full store: who stores a reading waits for nobody who only looks.
// Run: node scripts/bench/mixedClients.mjs [clients] [seconds]
import { randomUUID } from 'node:crypto';
import os from 'node:os';
import { isMainThread, parentPort, Worker, workerData } from 'node:worker_threads';
import { withFullStore } from './storeCases.mjs';
import { seededRandom } from '../lib/fuzz.mjs';
import { watchHealth } from '../lib/health.mjs';

/** How often each is asked, out of ten. */
const MIX = ['reading', 'reading', 'reading', 'reading', 'tune', 'tune', 'run', 'run', 'list', 'changes'];

/** One client begins so long after the one before. */
const APART_MS = 40;

async function client({ url, ids, like, until, seed }) {
  // People do not come in the same instant.
  await new Promise((resolve) => setTimeout(resolve, seed * APART_MS));
  const took = [];
  const random = seededRandom(seed);
  const next = (below) => Math.floor(random() * below);
  while (Date.now() < until) {
    const kind = MIX[next(MIX.length)];
    const id = ids[next(ids.length)];
    const began = performance.now();
    const answer = await ask({ url, kind, id, next, like }).catch((error) => ({ ok: false, status: error.message }));
    took.push({ kind, ms: performance.now() - began, status: answer.ok ? 'ok' : answer.status });
  }
  return took;
}

async function ask({ url, kind, id, next, like }) {
  const at = `${url}/api/v1/tunes`;
  const where = {
    reading: `${at}/${id}/readings/${randomUUID()}`,
    tune: `${at}/${id}`,
    run: `${at}/${id}/run`,
    list: `${at}?limit=50&offset=${next(20) * 50}`,
    changes: `${at}/${id}/changes?since=1`,
  }[kind];
  const answer =
    kind === 'reading'
      ? await fetch(where, {
          method: 'PUT',
          headers: { 'Content-Type': 'application/json' },
          body: JSON.stringify({ ...like, value: like.value * (1 + next(100) / 1e4), takenAt: new Date().toISOString() }),
        })
      : await fetch(where);
  const text = await answer.text();
  return { ok: answer.ok, status: answer.ok ? 'ok' : `${answer.status} ${text.slice(0, 200)}` };
}

const quantile = (sorted, part) => sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * part))] ?? NaN;

/** @returns for each kind: how many, median, 95th and 99th percentile and the slowest in ms; and health beside it */
export async function mixedClients(clients = 50, seconds = 20) {
  return await withFullStore(async ({ url, get }) => {
    await get('/tunes');
    const ids = [];
    for (let offset = 0; offset < 1000; offset += 200) {
      let page = await get(`/tunes?limit=200&offset=${offset}`);
      while (page.body.some(({ isPending }) => isPending)) page = await get(`/tunes?limit=200&offset=${offset}`);
      ids.push(...page.body.map(({ id }) => id));
    }
    const { readings } = (await get(`/tunes/${ids.at(-1)}`)).body;
    const { stepId, kind, value, resolution, conditions } = readings[0];
    const like = { stepId, kind, value, resolution, conditions };
    const health = watchHealth(url);
    const worker = new Worker(new URL(import.meta.url), {
      workerData: { mixed: { url, ids, like, clients, until: Date.now() + seconds * 1000 } },
    });
    const all = await new Promise((resolve, reject) => worker.once('message', resolve).once('error', reject));
    const beside = (await health.end()).sort((one, other) => one - other);
    const rows = Object.fromEntries(
      [...new Set(MIX)].map((kind) => {
        const ms = all.filter((one) => one.kind === kind).map((one) => one.ms);
        ms.sort((one, other) => one - other);
        return [kind, { asked: ms.length, p50: quantile(ms, 0.5), p95: quantile(ms, 0.95), p99: quantile(ms, 0.99), worst: ms.at(-1) }];
      }),
    );
    const failed = all.filter(({ status }) => status !== 'ok').map(({ kind, status }) => `${kind}: ${status}`);
    return { clients, seconds, rows, health: { p99: quantile(beside, 0.99), worst: beside.at(-1) }, failed, load: os.loadavg()[0] };
  });
}

if (!isMainThread && workerData?.mixed !== undefined) {
  const { clients, ...asked } = workerData.mixed;
  const all = await Promise.all(Array.from({ length: clients }, (_, seed) => client({ ...asked, seed: seed + 1 })));
  parentPort.postMessage(all.flat());
} else if (isMainThread && process.argv[1] === new URL(import.meta.url).pathname) {
  const { rows, health, failed, load } = await mixedClients(Number(process.argv[2] ?? 50), Number(process.argv[3] ?? 20));
  console.table(
    Object.fromEntries(
      Object.entries(rows).map(([kind, row]) => [
        kind,
        Object.fromEntries(Object.entries(row).map(([name, ms]) => [name, Math.round(ms)])),
      ]),
    ),
  );
  console.log(
    `health: 99th ${health.p99.toFixed(0)} ms, slowest ${health.worst.toFixed(0)} ms; failed ${failed.length}; load ${load.toFixed(1)}`,
  );
  for (const one of [...new Set(failed)].slice(0, 5)) console.log(one);
}
