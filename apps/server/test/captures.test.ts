// Captures that are too long, too many, dropped half-way, or no captures at all.
import { once } from 'node:events';
import { request, type ClientRequest } from 'node:http';
import type { AddressInfo } from 'node:net';
import { analyseCapture } from '@yield/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startTraceWorkers } from '../src/traces/traceWorkers.ts';
import { startTestServer, type TestServer } from './testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

const trace = (body: string | Buffer, type = 'text/csv') => server.api.post('/api/v1/calc/trace').set('content-type', type).send(body);
const table = (count: number): string =>
  `Time,CH1\n${Array.from({ length: count }, (_, i) => `${(i * 1e-5).toFixed(5)},${Math.sin(i / 9).toFixed(4)}`).join('\n')}\n`;

describe('a capture at the door', () => {
  it.each([
    ['a header of 20,000 spaces', `a${' '.repeat(20_000)}b(\n1,2\n`],
    ['20,000 columns', `${Array.from({ length: 20_000 }, (_, i) => i).join(',')}\n`.repeat(3)],
    ['line feeds alone', '\n'.repeat(500_000)],
    ['a time base of the smallest number', 'Time,CH1\n0,1\n5e-324,1\n1e-323,1\n'],
    ['figures beyond any voltage', 'Time,CH1\n0,1e308\n1e-5,-1e308\n2e-5,1e308\n'],
  ])('is refused in words: %s', async (_, body) => {
    const answer = await trace(body);
    expect(answer.status).toBe(422);
    expect((answer.body as { detail: string }).detail.length).toBeGreaterThan(20);
  });
  it('has no null in its answer, whatever its header is called', async () => {
    for (const unit of ['constructor', '__proto__']) {
      const answer = await trace(table(400).replace('CH1', `CH1 (${unit})`)).expect(200);
      expect(answer.text).not.toContain('null');
    }
    const silent = await trace(`Time,CH1\n${Array.from({ length: 400 }, (_, i) => `${i * 1e-5},5e-324`).join('\n')}\n`).expect(200);
    expect(silent.text).not.toContain('null');
  });
  it('as a WAV cut short within its format is refused in words', async () => {
    const wav = Buffer.alloc(12 + 8 + 18);
    wav.write('RIFF', 0);
    wav.write('WAVEfmt ', 8);
    wav.writeUInt32LE(40, 16);
    wav.writeUInt16LE(0xfffe, 20);
    wav.writeUInt16LE(1, 22);
    wav.writeUInt32LE(48_000, 24);
    wav.writeUInt16LE(16, 34);
    await trace(wav, 'audio/wav').expect(422);
  });
  it('that never ends its line is refused while it still comes in', async () => {
    const listening = server.app.listen(0, '127.0.0.1');
    await once(listening, 'listening');
    const { port } = listening.address() as AddressInfo;
    let sent = 0;
    const status = await new Promise<number | undefined>((resolve, reject) => {
      const sending = request(
        { port, host: '127.0.0.1', method: 'POST', path: '/api/v1/calc/trace', headers: { 'content-type': 'text/csv' } },
        (answer) => {
          answer.resume();
          resolve(answer.statusCode);
        },
      );
      sending.on('error', reject);
      const chunk = Buffer.alloc(1 << 16, 'x');
      const more = (): void => {
        if (sending.destroyed || sent > 200_000_000) return;
        sent += chunk.length;
        sending.write(chunk, () => setImmediate(more));
      };
      more();
      sending.once('response', () => sending.destroy());
    });
    listening.close();
    expect(status).toBe(422);
    expect(sent).toBeLessThan(100_000_000);
  });
});

describe('the threads that read captures', () => {
  const long = Buffer.from(table(200_000));
  it('end a task that nobody waits for', async () => {
    const workers = startTraceWorkers();
    const gone = new AbortController();
    const task = workers.run('trace', { bytes: long, options: {} }, gone.signal);
    gone.abort();
    await expect(task).rejects.toMatchObject({ status: 499 });
    await expect(workers.run('trace', { bytes: Buffer.from(table(500)), options: {} })).resolves.toMatchObject({
      channels: [{ name: 'CH1' }],
    });
    await workers.close();
  });
  it('end one that takes too long, and say so', async () => {
    const workers = startTraceWorkers({ taskMs: 1, queue: 4 });
    await expect(workers.run('trace', { bytes: long, options: {} })).rejects.toMatchObject({ status: 422, code: 'too-much' });
    await workers.close();
  });
  it('turn away what would wait too long', async () => {
    const workers = startTraceWorkers({ taskMs: 60_000, queue: 1 });
    const results = await Promise.allSettled(Array.from({ length: 8 }, () => workers.run('trace', { bytes: long, options: {} })));
    const refused = results.filter((result) => result.status === 'rejected');
    expect(refused.length).toBeGreaterThan(0);
    for (const { reason } of refused) expect(reason).toMatchObject({ status: 503, code: 'too-busy' });
    await workers.close();
  });
});

describe('a large table over a quick line', () => {
  const COUNT = 220_000;
  const row = (i: number, otherHz: number): string =>
    `${(i * 1e-5).toFixed(6)},${(2 * Math.sin(2 * Math.PI * 997 * i * 1e-5)).toFixed(6)},${Math.cos(2 * Math.PI * otherHz * i * 1e-5).toFixed(6)}`;
  const two = (otherHz: number, change: (rows: string[]) => unknown = () => undefined): Buffer => {
    const rows = Array.from({ length: COUNT }, (_, i) => row(i, otherHz));
    change(rows);
    return Buffer.from(`Time,CH1,CH2\n${rows.join('\n')}\n`);
  };

  it.each([997, 1003])('is judged by two threads as by one, with %i Hz on its second channel', async (otherHz) => {
    const bytes = two(otherHz);
    const answer = await trace(bytes).expect(200);
    expect(answer.body).toEqual(JSON.parse(JSON.stringify(analyseCapture(bytes, {}))));
  });
  it.each<[string, (rows: string[]) => unknown, string]>([
    ['a word among the figures', (rows) => (rows[200_000] = '2.0,1.0,off'), 'Line 200002: “off” in CH2 is not a number'],
    ['a value left out', (rows) => (rows[199_000] = '1.99,1.0'), 'CH2 has no value; 199000 rows before it were complete'],
    ['a line without an end', (rows) => (rows[205_000] = '1'.repeat(20_000)), 'has more than 16384 characters'],
    ['time that runs backwards', (rows) => (rows[210_000] = row(0, 997)), 'Time runs backwards at row 210001'],
  ])('has its fault told where it is, in its last part: %s', async (_, change, words) => {
    const answer = await trace(two(997, change)).expect(422);
    expect((answer.body as { detail: string }).detail).toContain(words);
  });

  /** Sends the head of a table, rests, and then does what is to be done. */
  const sending = async (after: (socket: ClientRequest, rest: Buffer) => void, restMs: number): Promise<number | undefined> => {
    const bytes = two(997);
    const listening = server.app.listen(0, '127.0.0.1');
    await once(listening, 'listening');
    const { port } = listening.address() as AddressInfo;
    const headers = { 'content-type': 'text/csv', 'content-length': bytes.length };
    const status = await new Promise<number | undefined>((resolve) => {
      const going = request({ port, host: '127.0.0.1', method: 'POST', path: '/api/v1/calc/trace', headers }, (answer) => {
        answer.resume();
        resolve(answer.statusCode);
      });
      going.on('error', () => resolve(undefined));
      going.write(bytes.subarray(0, 3_000_000));
      setTimeout(() => after(going, bytes.subarray(3_000_000)), restMs);
    });
    listening.closeAllConnections();
    listening.close();
    return status;
  };
  it('is read once it is whole where the line rests', async () => {
    expect(await sending((going, rest) => going.end(rest), 900)).toBe(200);
  });
  it('that breaks off leaves no thread behind', async () => {
    for (let i = 0; i < 3; i += 1) expect(await sending((going) => going.destroy(), 50)).toBeUndefined();
    const answer = await trace(table(500)).expect(200);
    expect((answer.body as { channels: unknown[] }).channels).toHaveLength(1);
  });
});
