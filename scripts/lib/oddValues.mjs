// Puts odd values in the place of single figures and texts of what is sound, and sends it by every way that stores something.
//
// Either the door refuses it and says where, or everything else still answers, and the odd record can be voided.
import { randomUUID } from 'node:crypto';
import { seededRandom } from './fuzz.mjs';
import { unzipped, withFiles } from './zipFiles.mjs';

const TEXTS = [
  '',
  ' ',
  '-',
  'A1 and B1',
  'A1+A1',
  '((A1',
  '__proto__',
  'constructor',
  'toString',
  'x'.repeat(190),
  'x'.repeat(5000),
  '\u202e left',
  '<b>loud</b>',
  '{"a":',
  '0',
  'NaN',
  '1e999',
  '../../..',
  'gain:',
  'A'.repeat(64),
  '2026-13-45T99:00:00Z',
  '0000-01-01T00:00:00Z',
  '2026-01-01T00:00:00+23:59',
  '9999-12-31T23:59:59.999Z',
];
const NUMBERS = [
  0,
  -1,
  -0.001,
  1e-30,
  1e-12,
  1e-6,
  5e-324,
  0.1,
  0.5,
  1.5,
  7,
  40,
  999,
  1000,
  2 ** 31 - 1,
  2 ** 31,
  1e9,
  1e15,
  1e30,
  1e308,
  -1e9,
];
const OTHERS = [null, true, [], {}, [[]], { a: 1 }];

/** Every place in a value that holds a figure, a text or a yes or no. */
function placesIn(value, path = []) {
  if (typeof value !== 'object' || value === null) return [path];
  return Object.entries(value).flatMap(([key, inner]) => placesIn(inner, [...path, key]));
}

function at(value, path) {
  return path.reduce((node, key) => node?.[key], value);
}

/** A copy with something else in one place. */
function changed(value, path, odd) {
  const copy = structuredClone(value);
  const parent = at(copy, path.slice(0, -1));
  parent[path.at(-1)] = odd;
  return copy;
}

/**
 * @param url - of a running server with the demo tunes
 * @returns { asked, refused, accepted, faults, fields }: how many fields there are to put something odd into
 */
export async function oddValues(url, { seed, writes, archives }) {
  const random = seededRandom(seed);
  const pick = (list) => list[Math.floor(random() * list.length)];
  const result = { asked: 0, refused: 0, accepted: 0, faults: [] };
  const json = { 'content-type': 'application/json' };
  const api = (path, options) => fetch(`${url}/api/v1${path}`, { signal: AbortSignal.timeout(60_000), ...options });
  const read = async (path) => (await api(path)).json();
  const odd = (old) => {
    if (random() < 0.08) return pick(OTHERS);
    if (random() < 0.05) return pick([...TEXTS, ...NUMBERS]);
    return typeof old === 'number' ? pick(NUMBERS) : typeof old === 'string' ? pick(TEXTS) : pick(OTHERS);
  };

  const tunes = await Promise.all((await read('/tunes')).map(({ id }) => read(`/tunes/${id}`)));
  const gear = (await read('/gear')).slice(0, 12);

  /** What is sound, by the way that it is stored. */
  const templates = tunes.flatMap((tune) => {
    const base = `/tunes/${tune.id}`;
    const readings = tune.readings.filter(({ conditions }) => conditions !== undefined);
    return [
      ...readings.map(({ stepId, kind, value, resolution, conditions, takenAt }) => ({
        of: 'reading',
        tune: tune.id,
        path: (id) => `${base}/readings/${id}`,
        body: { stepId, kind, value, resolution, conditions, takenAt },
      })),
      ...tune.marks.map(({ stepId, version: _version, chainVersion: _chain, ...mark }) => ({
        of: 'mark',
        tune: tune.id,
        path: () => `${base}/marks/${stepId}`,
        version: async () => (await read(base)).marks.find((each) => each.stepId === stepId)?.version ?? 0,
        body: mark,
      })),
      ...[1, 2, 3, 4, 5, 6].map(() => ({
        of: 'chain',
        tune: tune.id,
        path: () => `${base}/chain`,
        version: async () => (await read(base)).chain.version,
        body: { chain: tune.chain.body },
      })),
      ...[1, 2].map(() => ({
        of: 'settings',
        tune: tune.id,
        path: () => base,
        version: async () => (await read(base)).version,
        body: { name: tune.name, vehicle: tune.vehicle, settings: tune.settings },
      })),
    ];
  });
  for (const { kind, name, body } of gear)
    templates.push({
      of: 'gear',
      path: (id) => `/gear/${id}`,
      version: async () => 0,
      body: { kind, body: { ...body, name: `${name} ${randomUUID().slice(0, 8)}` } },
    });
  /** Every field that there is, once: two readings of one kind have the same ones. */
  const fields = [
    ...new Map(
      templates.flatMap((template) => placesIn(template.body).map((place) => [patternOf(template, place), { template, place }])),
    ).values(),
  ];
  shuffle(fields, random);

  /** What was let in since everything was looked at last. */
  let since = [];
  async function lookAround(also = []) {
    const ids = [...tunes.map(({ id }) => id), ...also];
    const paths = ['/health', '/tunes', '/gear', '/shop', '/tunes/archive'];
    for (const id of ids)
      paths.push(`/tunes/${id}`, `/tunes/${id}/run`, `/tunes/${id}/history`, `/tunes/${id}/changes?since=1`, `/tunes/${id}/sheets`);
    paths.push(`/tunes/${pick(ids)}/sheet.pdf`, `/tunes/${pick(ids)}/export.zip`);
    for (const path of paths) {
      const response = await api(path).catch((error) => ({ status: 0, text: async () => String(error) }));
      if (response.status !== 200)
        result.faults.push(
          `${path} is ${response.status} after ${JSON.stringify(since).slice(0, 1200)}: ${(await response.text()).slice(0, 200)}`,
        );
      else await response.arrayBuffer();
    }
    since = [];
  }

  for (let n = 0; n < writes; n += 1) {
    const { template, place } = fields[n % fields.length];
    const { of, path, version, body, tune } = template;
    const value = odd(at(body, place));
    const id = randomUUID();
    const sent = { ...changed(body, place, value), ...(version === undefined ? {} : { version: await version() }) };
    result.asked += 1;
    const response = await api(path(id), { method: 'PUT', headers: json, body: JSON.stringify(sent) });
    const told = `${of} /${place.join('/')} = ${JSON.stringify(value)?.slice(0, 80)}`;
    if (response.status >= 500) result.faults.push(`${told}: ${response.status}`);
    else if (response.status >= 400) {
      result.refused += 1;
      const { errors } = await response.json();
      if (!Array.isArray(errors) || errors.length === 0 || typeof errors[0].pointer !== 'string')
        result.faults.push(`${told}: refused without saying where`);
    } else {
      result.accepted += 1;
      await response.arrayBuffer();
      since.push(told);
      if (since.length >= 15) await lookAround();
      // What is odd and was let in can be taken back.
      if (of === 'reading') {
        const voided = await api(`/tunes/${tune}/readings/${id}/void`, { method: 'POST', headers: json, body: '{"reason":"odd"}' });
        if (voided.status !== 204) result.faults.push(`${told}: cannot be voided, ${voided.status}`);
      }
    }
    // Now and then all is set right again: of a chain that is odd all over, every change is refused.
    if (n % 40 === 39) await restored(tunes, read, api, json);
  }
  await lookAround();
  await restored(tunes, read, api, json);

  const source = tunes.find(({ captures = [], traces = [] }) => captures.length + traces.length < 8) ?? tunes[0];
  const files = await unzipped(Buffer.from(await (await api(`/tunes/${source.id}/export.zip`)).arrayBuffer()));
  const name = [...files.keys()].find((each) => each.endsWith('/tune.json'));
  const file = JSON.parse(files.get(name).toString('utf8'));
  const places = [...new Map(placesIn(file).map((place) => [patternOf({ of: 'archive', body: {} }, place), place])).values()];
  shuffle(places, random);
  for (let n = 0; n < archives; n += 1) {
    const place = places[n % places.length];
    const value = odd(at(file, place));
    const told = `archive /${place.join('/')} = ${JSON.stringify(value)?.slice(0, 80)}`;
    const text = Buffer.from(`${JSON.stringify(changed(file, place, value), null, 1)}\n`);
    const bytes = await withFiles(files, new Map([[name, text]]));
    result.asked += 1;
    const response = await api('/import', { method: 'POST', headers: { 'content-type': 'application/zip' }, body: bytes });
    if (response.status >= 500) result.faults.push(`${told}: ${response.status}`);
    else if (response.status >= 400) {
      result.refused += 1;
      await response.arrayBuffer();
    } else {
      result.accepted += 1;
      const brought = (await response.json()).map(({ id }) => id).filter((id) => tunes.every((tune) => tune.id !== id));
      since.push(told);
      await lookAround(brought);
      for (const id of brought) await api(`/tunes/${id}`, { method: 'DELETE' });
    }
  }
  return { ...result, fields: fields.length };
}

const patternOf = ({ of, body }, place) => `${of} ${body.kind ?? ''} ${place.map((key) => (/^\d+$/.test(key) ? '*' : key)).join('/')}`;

/** @see Fisher and Yates */
function shuffle(list, random) {
  for (let i = list.length - 1; i > 0; i -= 1) {
    const k = Math.floor(random() * (i + 1));
    [list[i], list[k]] = [list[k], list[i]];
  }
}

/** Chains and settings as they were. */
async function restored(tunes, read, api, headers) {
  for (const { id, name, vehicle, settings, chain } of tunes) {
    const now = await read(`/tunes/${id}`);
    await api(`/tunes/${id}/chain`, { method: 'PUT', headers, body: JSON.stringify({ version: now.chain.version, chain: chain.body }) });
    await api(`/tunes/${id}`, { method: 'PUT', headers, body: JSON.stringify({ version: now.version, name, vehicle, settings }) });
  }
}
