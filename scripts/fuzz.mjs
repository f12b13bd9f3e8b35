// npm run fuzz [-- requests [seed [writes [archives]]]]: every address of the HTTP interface asked with odd requests, every field of what
// is stored given odd values, and archives altered, half of them with their hashes made anew; on a server of its own.
import { damagedArchives } from './lib/damagedArchives.mjs';
import { fuzz } from './lib/fuzz.mjs';
import { oddValues } from './lib/oddValues.mjs';
import { startThrowawayServer } from './lib/throwawayServer.mjs';

const [requests = 200_000, seed = 4620, writes = 4000, archives = 5000] = process.argv.slice(2).map(Number);
const rows = [];
const faults = [];
const began = performance.now();
const since = () => `${Math.round((performance.now() - began) / 1000)} s`;

/** A part on a server of its own, so that one leaves the next nothing. */
async function part(what, count, work) {
  if (count === 0) return;
  const server = await startThrowawayServer();
  const start = performance.now();
  try {
    const { told, faults: found } = await work(server.url);
    rows.push({ what, count, ...told, faults: found.length, seconds: Math.round((performance.now() - start) / 1000) });
    faults.push(...found.map((fault) => `${what}: ${fault}`));
  } finally {
    await server.remove();
  }
}

await part('requests', requests, async (url) => {
  const onProgress = ({ requests: done, faults: found }) => console.log(`${since()}: ${done} requests, ${found.length} faults`);
  const { statuses, faults: found, slowestMs, slowestHealthMs } = await fuzz(url, { requests, seed, onProgress });
  console.log(`answers: ${JSON.stringify(statuses)}`);
  return { told: { 'slowest ms': Math.round(slowestMs), 'slowest health ms': Math.round(slowestHealthMs) }, faults: found };
});
await part('odd values', writes, async (url) => {
  const { accepted, refused, faults: found } = await oddValues(url, { seed, writes, archives: Math.round(writes / 10) });
  return { told: { accepted, refused }, faults: found };
});
await part('archives', archives, async (url) => {
  const onProgress = (done) => console.log(`${since()}: ${done} archives`);
  const { accepted, refused, faults: found } = await damagedArchives(url, { seed, archives, onProgress });
  return { told: { accepted, refused }, faults: found };
});

console.table(rows);
for (const fault of faults.slice(0, 40)) console.log(fault);
console.log(faults.length === 0 ? 'no fault' : `${faults.length} faults`);
process.exitCode = faults.length === 0 ? 0 : 1;
