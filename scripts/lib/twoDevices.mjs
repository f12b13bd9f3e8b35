// Two devices at one tune, each with a clock of its own that jumps, lines that lose answers, and turns in any order.
import { randomUUID } from 'node:crypto';
import { seededRandom } from './fuzz.mjs';

/**
 * @param url - of a running server with the demo tunes
 * @returns { runs, sent, faults }: whatever was entered is stored once, each device's in its order, and both see the same
 */
export async function twoDevices(url, { seed, runs }) {
  const random = seededRandom(seed);
  const result = { runs, sent: 0, faults: [] };
  const api = (path, options) => fetch(`${url}/api/v1${path}`, { signal: AbortSignal.timeout(30_000), ...options });
  const json = { 'content-type': 'application/json' };
  const tunes = await (await api('/tunes')).json();
  const source = await (await api(`/tunes/${tunes.find(({ name }) => name === 'Mobile library bus').id}`)).json();
  const { stepId, kind, resolution, conditions } = source.readings.find((reading) => reading.kind === 'gain-voltage');

  for (let run = 0; run < runs; run += 1) {
    const tuneId = randomUUID();
    await api(`/tunes/${source.id}/copy`, {
      method: 'POST',
      headers: json,
      body: JSON.stringify({ id: tuneId, name: `Two devices ${run}`, vehicle: '' }),
    });
    const devices = [0, 1].map((k) => ({
      id: randomUUID(),
      count: Math.floor(random() * 1e12),
      offMs: (random() - 0.5) * 86_400_000 * k,
      queue: [],
      entered: [],
    }));
    let value = 0;
    const total = 6 + Math.floor(random() * 8);
    for (let n = 0; n < total; n += 1) {
      const device = devices[Math.floor(random() * 2)];
      // A clock that somebody sets, or that a dead battery sets.
      if (random() < 0.25) device.offMs += (random() - 0.6) * 4 * 3_600_000;
      device.count += 1;
      value += 1;
      const entry = { id: randomUUID(), value, count: device.count, takenAt: new Date(Date.now() + device.offMs).toISOString() };
      device.queue.push(entry);
      device.entered.push(entry);
      if (random() < 0.5) await drain(device);
    }
    for (const device of random() < 0.5 ? devices : [...devices].reverse()) await drain(device);

    async function drain(device) {
      while (device.queue.length > 0) {
        const entry = device.queue[0];
        const headers = {
          ...json,
          'yield-sent-at': new Date(Date.now() + device.offMs).toISOString(),
          'yield-device': device.id,
          'yield-count': String(entry.count),
        };
        const body = JSON.stringify({ stepId, kind, value: entry.value, resolution, conditions, takenAt: entry.takenAt });
        const response = await api(`/tunes/${tuneId}/readings/${entry.id}`, { method: 'PUT', headers, body });
        result.sent += 1;
        await response.arrayBuffer();
        // The answer is lost on its way: it is sent once more.
        if (response.ok && random() < 0.15) continue;
        if (!response.ok) result.faults.push(`run ${run}: ${response.status} to ${body.slice(0, 120)}`);
        device.queue.shift();
      }
    }

    const { readings } = await (await api(`/tunes/${tuneId}`)).json();
    const wanted = devices.flatMap(({ entered }) => entered.map(({ id }) => id));
    if (readings.length !== wanted.length || wanted.some((id) => readings.filter((reading) => reading.id === id).length !== 1))
      result.faults.push(`run ${run}: ${wanted.length} entered, ${readings.length} stored`);
    for (const { entered } of devices) {
      const own = readings.filter(({ id }) => entered.some((entry) => entry.id === id)).map(({ value: each }) => each);
      if (own.some((each, i) => i > 0 && each < own[i - 1]))
        result.faults.push(`run ${run}: one device's readings stand as ${own.join(', ')}`);
    }
    const again = await (await api(`/tunes/${tuneId}`)).json();
    if (JSON.stringify(again.readings) !== JSON.stringify(readings)) result.faults.push(`run ${run}: read twice, it is not the same`);
    await api(`/tunes/${tuneId}`, { method: 'DELETE' });
  }
  return result;
}
