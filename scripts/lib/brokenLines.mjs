// Breaks the line to the database at random bytes while each part of the server is at work.
import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { seededRandom } from './fuzz.mjs';
import { startFaultyProxy } from './faultyProxy.mjs';
import { anyFreePort } from './ports.mjs';
import { SERVER_MAIN } from './project.mjs';

const sleep = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/**
 * @param databaseUrl - of a database that this may fill
 * @returns { rounds, table, faults }: how each kind of request ended, by its name
 */
export async function brokenLines(databaseUrl, { seed, rounds }) {
  const random = seededRandom(seed);
  const target = new URL(databaseUrl);
  const proxy = await startFaultyProxy({ host: target.hostname, port: Number(target.port) });
  target.port = String(proxy.port);
  const port = await anyFreePort('127.0.0.1');
  const url = `http://127.0.0.1:${port}`;
  const server = spawn(process.execPath, [SERVER_MAIN], {
    env: { ...process.env, PORT: String(port), HOST: '127.0.0.1', DATABASE_URL: target.href },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  const faults = [];
  let said = '';
  server.stderr.on('data', (text) => (said = (said + text).slice(-3000)));
  let isOver = false;
  server.once('exit', (code, signal) => {
    if (!isOver) faults.push(`the server ended by itself (${code ?? signal}): ${said}`);
  });
  await new Promise((resolve, reject) => {
    server.stdout.on('data', (text) => String(text).includes('listening on') && resolve());
    server.once('exit', () => reject(new Error(`the server did not start: ${said}`)));
  });

  const api = (path, options = {}) => fetch(`${url}/api/v1${path}`, { signal: AbortSignal.timeout(30_000), ...options });
  const tunes = await (await api('/tunes')).json();
  const bus = tunes.find(({ name }) => name === 'Mobile library bus').id;
  const detail = await (await api(`/tunes/${bus}`)).json();
  const model = detail.readings.find(({ kind }) => kind === 'gain-voltage') ?? detail.readings[0];
  const archive = Buffer.from(await (await api(`/tunes/${bus}/export.zip`)).arrayBuffer());
  const capture = detail.traces[0];
  const csv = `TIME,CH1\n${Array.from({ length: 20_000 }, (_, i) => `${i * 1e-5},${Math.sin(i / 30).toFixed(4)}`).join('\n')}\n`;
  const json = { 'content-type': 'application/json' };
  const loadTrace = detail.traces.find(({ conditions }) => conditions.at === 'load') ?? capture;

  const requests = {
    export: () => api(`/tunes/${bus}/export.zip`),
    'export of all': () => api('/export.zip'),
    import: () => api('/import', { method: 'POST', headers: { 'content-type': 'application/zip' }, body: archive }),
    PDF: () => api(`/tunes/${bus}/sheet.pdf?paper=${['a4', 'letter', 'card'][Math.floor(random() * 3)]}`),
    'capture in': () =>
      api(
        `/tunes/${bus}/traces/${randomUUID()}?${new URLSearchParams({ stepId: loadTrace.stepId, fileName: 'x.csv', takenAt: new Date().toISOString(), conditions: JSON.stringify(loadTrace.conditions) })}`,
        { method: 'PUT', headers: { 'content-type': 'text/csv' }, body: csv },
      ),
    'capture out': () => api(`/tunes/${bus}/traces/${capture.id}/file`),
    events: async () => {
      const response = await api(`/tunes/${bus}/events?device=${randomUUID()}`, { signal: AbortSignal.timeout(400) });
      return { status: response.status, arrayBuffer: () => response.arrayBuffer().catch(() => undefined) };
    },
    list: () => api('/tunes'),
    run: () => api(`/tunes/${bus}/run`),
    gear: () => api('/gear'),
    reading: () => {
      const { stepId, kind, resolution, conditions } = model;
      const body = { stepId, kind, value: 1 + random(), resolution, conditions, takenAt: new Date().toISOString() };
      return api(`/tunes/${bus}/readings/${randomUUID()}`, { method: 'PUT', headers: json, body: JSON.stringify(body) });
    },
    edit: () =>
      api(`/tunes/${bus}/edits/${randomUUID()}`, {
        method: 'PUT',
        headers: json,
        body: JSON.stringify({ kind: 'tune', seen: 1, changes: [{ path: ['vehicle'], before: 'x', after: 'y' }] }),
      }),
  };
  const names = Object.keys(requests);
  const table = Object.fromEntries(names.map((name) => [name, {}]));
  const count = (name, ended) => (table[name][ended] = (table[name][ended] ?? 0) + 1);

  for (let round = 0; round < rounds && faults.length === 0; round += 1) {
    const name = names[round % names.length];
    proxy.cutAfter(Math.floor(10 ** (2.5 + random() * 4)));
    // Others are at work as well when a line breaks.
    const also = names[Math.floor(random() * names.length)];
    await Promise.all(
      [name, also].map(async (each) => {
        try {
          const response = await requests[each]();
          const { status } = response;
          await response.arrayBuffer();
          count(each, status);
          if (status >= 500 && status !== 503) faults.push(`${each}: ${status}`);
        } catch (error) {
          if (error.name === 'TimeoutError' && each !== 'events') faults.push(`${each}: no answer within 30 s`);
          else count(each, 'broken off');
        }
      }),
    );
    proxy.heal();
    let isBack = false;
    for (let waited = 0; waited < 100 && !isBack; waited += 1) {
      isBack = await api('/health').then(
        ({ status }) => status === 200,
        () => false,
      );
      if (!isBack) await sleep(100);
    }
    if (!isBack) faults.push(`after ${name} the server did not find its database again: ${said}`);
  }
  isOver = true;
  const gone = new Promise((resolve) => server.once('close', resolve));
  server.kill('SIGTERM');
  await gone;
  await proxy.close();
  return { rounds, table, faults };
}
