// Ten captures of 200 MB at once: how long health takes meanwhile, and how much memory the server holds at most.
import { randomUUID } from 'node:crypto';
import { createReadStream, mkdtempSync, readFileSync, rmSync, statSync } from 'node:fs';
import http from 'node:http';
import os from 'node:os';
import path from 'node:path';
import { writeCsv, writeWav } from './files.mjs';
import { watchHealth } from '../lib/health.mjs';
import { startThrowawayServer } from '../lib/throwawayServer.mjs';

/** A row of the CSV that is written: a time and two voltages. */
const CSV_ROW_BYTES = 26;

const [count = 10, megabytes = 200] = process.argv.slice(2).map(Number);

const folder = mkdtempSync(path.join(os.tmpdir(), 'yield-large-'));
const files = ['tone.wav', 'tone.csv'].map((name) => path.join(folder, name));
writeWav(files[0], Math.floor((megabytes * 1e6 - 44) / 4));
writeCsv(files[1], Math.floor((megabytes * 1e6) / CSV_ROW_BYTES));
const server = await startThrowawayServer();
const memory = (name) => Number(new RegExp(`${name}:\\s+(\\d+)`).exec(readFileSync(`/proc/${server.pid}/status`, 'utf8'))[1]) / 1000;
try {
  const tunes = await (await fetch(`${server.url}/api/v1/tunes`)).json();
  const id = tunes.find(({ name }) => name === 'Mobile library bus').id;
  const { traces } = await (await fetch(`${server.url}/api/v1/tunes/${id}`)).json();
  const { stepId, conditions } = traces.find((each) => each.conditions.at === 'load');
  const before = memory('VmRSS');
  const health = watchHealth(server.url);
  const began = performance.now();
  let longest = 0;
  const asking = setInterval(() => {
    for (const traceId of ids)
      fetch(`${server.url}/api/v1/tunes/${id}/traces/${traceId}/place`)
        .then(async (response) => response.ok && (longest = Math.max(longest, (await response.json()).waiting)))
        .catch(() => undefined);
  }, 3000);
  const ids = [];
  const put = (n) =>
    new Promise((resolve, reject) => {
      const traceId = randomUUID();
      ids.push(traceId);
      const file = files[n % files.length];
      const query = new URLSearchParams({
        stepId,
        fileName: path.basename(file),
        takenAt: new Date().toISOString(),
        conditions: JSON.stringify(conditions),
      });
      const request = http.request(`${server.url}/api/v1/tunes/${id}/traces/${traceId}?${query}`, {
        method: 'PUT',
        headers: { 'content-type': file.endsWith('.wav') ? 'audio/wav' : 'text/csv', 'content-length': statSync(file).size },
      });
      request.on('response', (response) => {
        let text = '';
        response.on('data', (chunk) => (text += chunk));
        response.on('end', () => resolve(response.statusCode === 201 ? 201 : `${response.statusCode} ${text.slice(0, 160)}`));
      });
      request.on('error', reject);
      createReadStream(file).pipe(request);
    });
  const outcomes = await Promise.all(Array.from({ length: count }, (_, n) => put(n).catch((error) => String(error))));
  const seconds = (performance.now() - began) / 1000;
  clearInterval(asking);
  const healths = await health.end();
  healths.sort((a, b) => a - b);
  console.log(
    JSON.stringify({
      outcomes: Object.fromEntries([...new Set(outcomes)].map((each) => [each, outcomes.filter((other) => other === each).length])),
      seconds: Math.round(seconds),
      slowestHealthMs: Math.round(healths.at(-1)),
      health99Ms: Math.round(healths[Math.floor(0.99 * healths.length)]),
      memoryBeforeMb: Math.round(before),
      memoryPeakMb: Math.round(memory('VmHWM')),
      longestQueue: longest,
      load: os.loadavg().map((each) => each.toFixed(1)),
    }),
  );
} finally {
  await server.remove();
  rmSync(folder, { recursive: true, force: true });
}
