import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import { expect, it } from 'vitest';
import { fuzz } from '../../../scripts/lib/fuzz.mjs';
import { startTestServer } from './testServer.ts';

// `npm run fuzz` asks thirty thousand times.
it('answers odd requests with words, whatever they are', async () => {
  const server = await startTestServer();
  await server.api.post('/api/v1/demo').expect(200);
  // Run from its sources, a thread reads all of them when it begins: on a busy machine longer than any question may wait.
  await server.api.get('/api/v1/tunes/3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0001/sheet.pdf').expect(200);
  const listener = server.app.listen(0, '127.0.0.1');
  await once(listener, 'listening');
  const { faults } = await fuzz(`http://127.0.0.1:${(listener.address() as AddressInfo).port}`, { seed: 7, requests: 700 });
  listener.closeAllConnections();
  listener.close();
  await server.close();
  // How long an answer took says something of the machine, not of the answer.
  expect(faults.filter((fault) => !/ took |^took /.test(` ${fault}`))).toEqual([]);
}, 120_000);
