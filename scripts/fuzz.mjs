// npm run fuzz [-- requests [seed]]: every address of the HTTP interface asked with odd requests, on a server of its own.
import { fuzz } from './lib/fuzz.mjs';
import { startThrowawayServer } from './lib/throwawayServer.mjs';

const [requests = 30_000, seed = 4620] = process.argv.slice(2).map(Number);
const server = await startThrowawayServer();
try {
  const { statuses, faults, slowestMs, slowestHealthMs } = await fuzz(server.url, { requests, seed });
  console.log(`${requests} requests, seed ${seed}: ${JSON.stringify(statuses)}`);
  console.log(`slowest answer ${Math.round(slowestMs)} ms, slowest health ${Math.round(slowestHealthMs)} ms`);
  for (const fault of faults.slice(0, 40)) console.log(fault);
  console.log(faults.length === 0 ? 'no fault' : `${faults.length} faults`);
  process.exitCode = faults.length === 0 ? 0 : 1;
} finally {
  await server.remove();
}
