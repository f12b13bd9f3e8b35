import { readFileSync } from 'node:fs';
import { Agent, request } from 'node:http';
import path from 'node:path';
import { ROOT } from '../lib/project.mjs';
import { run } from '../lib/run.mjs';
import { startThrowawayServer } from '../lib/throwawayServer.mjs';

const WARM_UP = 4;
const ROUNDS = 7;

/** What the server holds at most while a recording of this size is sent to it and judged. @returns megabytes, of the file and of the server's memory; Linux tells */
export async function largestCapture(wav) {
  const server = await startThrowawayServer();
  try {
    const body = readFileSync(wav);
    const answer = await fetch(`${server.url}/api/v1/calc/trace`, { method: 'POST', headers: { 'content-type': 'audio/wav' }, body });
    if (!answer.ok) throw new Error(await answer.text());
    const [, peak] = /VmHWM:\s*(\d+)/.exec(readFileSync(`/proc/${server.pid}/status`, 'utf8'));
    return { file: body.length / 1e6, peak: Number(peak) / 1024 };
  } finally {
    await server.remove();
  }
}

/** A CSV capture sent to the calculation over HTTP, turn by turn with NumPy on the same file. @returns times in ms; no NumPy where the machine has none */
export async function endpointCase(csv) {
  const server = await startThrowawayServer();
  const body = readFileSync(csv);
  const ask = async () => {
    const start = performance.now();
    const { status, text } = await posted(`${server.url}/api/v1/calc/trace`, body);
    if (status !== 200) throw new Error(text);
    return performance.now() - start;
  };
  try {
    const result = { times: [], numpy: { version: '', times: [] } };
    for (let i = 0; i < WARM_UP; i += 1) await ask();
    for (let round = 0; round < ROUNDS; round += 1) {
      // The better of two, as NumPy's.
      result.times.push(Math.min(await ask(), await ask()));
      const numpy = await numpyTime(csv);
      if (numpy === null) continue;
      result.numpy.version = numpy.version;
      result.numpy.times.push(Math.min(...numpy.times));
    }
    return result;
  } finally {
    await server.remove();
  }
}

/** Over a connection that stays open. `fetch` would make a copy of the body first, which is no time of the server's. */
const agent = new Agent({ keepAlive: true });
function posted(url, body) {
  return new Promise((resolve, reject) => {
    const headers = { 'content-type': 'text/csv', 'content-length': body.length };
    const sending = request(url, { method: 'POST', headers, agent }, async (answer) => {
      const chunks = await answer.toArray();
      resolve({ status: answer.statusCode, text: Buffer.concat(chunks).toString() });
    });
    sending.on('error', reject);
    sending.end(body);
  });
}

async function numpyTime(csv) {
  try {
    return JSON.parse(await run('/usr/bin/python3', [path.join(ROOT, 'scripts/bench/numpyCase.py'), csv, '2'], { quiet: true }));
  } catch {
    return null;
  }
}
