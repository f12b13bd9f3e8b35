import { watchHealth } from './health.mjs';

// Asks every address of the OpenAPI document with what nobody would send, and with what somebody might.

/** @returns a source of numbers from 0 to 1 that gives the same row for the same seed (mulberry32, public domain) */
export function seededRandom(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

const HOSTILE = [
  null,
  '',
  ' ',
  'x'.repeat(5000),
  '\u0000',
  '\ud800',
  '__proto__',
  'constructor',
  '../../etc/passwd',
  "'; DROP TABLE tune; --",
  '<script>alert(1)</script>',
  'NaN',
  '1e999',
  -1,
  0,
  5e-324,
  1.7e308,
  -1.7e308,
  2 ** 31,
  2 ** 53,
  0.1 + 0.2,
  true,
  [],
  {},
  [[[[[[[[]]]]]]]],
  { __proto__: null, constructor: { prototype: {} } },
  Array.from({ length: 300 }, (_, i) => i),
];
/** What a client may say of itself. */
const HEADERS = [
  { 'yield-sent-at': '-271821-04-20T00:00:00.000Z' },
  { 'yield-sent-at': '0000-01-01T00:00:00Z' },
  { 'yield-sent-at': 'now' },
  { 'yield-device': 'me', 'yield-count': '1' },
  { 'yield-device': '3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0001', 'yield-count': '1e400' },
  { 'yield-who': '%E0%A4%A' },
  { 'accept-language': '\u00ff'.repeat(50) },
  { 'content-type': 'application/json; charset=utf-16' },
  { range: 'bytes=5-1' },
];
const nested = (depth) => `${'[{"a":'.repeat(depth)}1${'}]'.repeat(depth)}`;

const WORDS = [
  'A',
  'B1',
  'A1|A2',
  'A1+A2',
  '(A1+A2)|(B1+B2)',
  'gain:bass',
  'front-left',
  'Bass',
  'left',
  'gain:x',
  '2026-01-01T00:00:00.000Z',
];

/** A value for a schema: mostly one that fits it, now and then one that does not. */
function valueFor(schema, random, depth = 0) {
  const pick = (list) => list[Math.floor(random() * list.length)];
  if (random() < 0.04) return pick(HOSTILE);
  if (schema === undefined || depth > 8) return pick(HOSTILE);
  if ('const' in schema) return schema.const;
  if (schema.enum !== undefined) return pick(schema.enum);
  const choices = schema.anyOf ?? schema.oneOf;
  if (choices !== undefined) return valueFor(pick(choices), random, depth + 1);
  switch (schema.type) {
    case 'object': {
      const own = {};
      for (const [name, inner] of Object.entries(schema.properties ?? {}))
        if (schema.required?.includes(name) ? random() > 0.01 : random() > 0.5) own[name] = valueFor(inner, random, depth + 1);
      for (const inner of Object.values(schema.patternProperties ?? {}))
        for (const name of ['A1', 'A2', 'B1'].slice(0, Math.ceil(random() * 3))) own[name] = valueFor(inner, random, depth + 1);
      if (random() < 0.02) own[pick(['__proto__x', 'constructor', 'extra', ''])] = pick(HOSTILE);
      return own;
    }
    case 'array': {
      const [least, most] = [schema.minItems ?? 0, Math.min(schema.maxItems ?? 12, 60)];
      return Array.from({ length: least + Math.floor(random() ** 2 * (most - least + 1)) }, () =>
        valueFor(schema.items, random, depth + 1),
      );
    }
    case 'integer':
    case 'number': {
      const low = schema.minimum ?? schema.exclusiveMinimum ?? -1000;
      const high = schema.maximum ?? schema.exclusiveMaximum ?? 20_000;
      const value = random() < 0.5 ? low + (high - low) * random() ** 8 : low + random() * Math.min(100, high - low);
      return schema.type === 'integer' ? Math.round(value) : value;
    }
    case 'boolean':
      return random() < 0.5;
    case 'string':
      if (schema.format === 'uuid') return uuid(random);
      if (schema.format === 'date-time') return new Date(1.7e12 + random() * 1e11).toISOString();
      return pick(WORDS);
    default:
      return pick(HOSTILE);
  }
}

/** An address holds no half characters, and not everything is a text. */
const inAddress = (value) =>
  encodeURIComponent((typeof value === 'object' ? JSON.stringify(value) : String(value)).slice(0, 3000).toWellFormed());

const uuid = (random) => {
  const hex = Array.from({ length: 32 }, () => Math.floor(random() * 16).toString(16)).join('');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-4${hex.slice(13, 16)}-a${hex.slice(17, 20)}-${hex.slice(20)}`;
};

const MAX_MS = 5000;
/** Every tune of the store in one archive: the store grows, and this is asked less often. */
const isWholeStore = ({ address }) => address.startsWith('/api/v1/export.zip');
const MAX_REFUSED_BYTES = 1_000_000;
const MAX_HEALTH_MS = 500;
/** So many are asked at once. */
const BESIDE = 6;

/**
 * @param url - of a running server
 * @returns { requests, statuses, faults, slowestMs, slowestHealthMs }: each fault with what was asked
 */
export async function fuzz(url, { seed, requests, onProgress = () => undefined }) {
  const random = seededRandom(seed);
  const pick = (list) => list[Math.floor(random() * list.length)];
  const { paths } = await (await fetch(`${url}/api/v1/openapi.json`)).json();
  const operations = Object.entries(paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, operation]) => ({ path, method, operation })),
  );
  const tunes = (await (await fetch(`${url}/api/v1/tunes`)).json()).map(({ id }) => id);
  const result = { requests: 0, statuses: {}, faults: [], slowestMs: 0, slowestHealthMs: 0 };

  const make = () => {
    let { path, method, operation } = pick(operations);
    if (isWholeStore({ address: path }) && random() < 0.9) ({ path, method, operation } = pick(operations));
    const address = path.replace(/\{(\w+)\}/g, (_, name) => {
      if (random() < 0.05) return inAddress(pick(HOSTILE));
      if (name === 'tuneId') return random() < 0.8 ? pick(tunes) : uuid(random);
      if (name === 'version') return String(Math.floor(random() * 4));
      return name.endsWith('Id') && name !== 'stepId' ? uuid(random) : encodeURIComponent(pick(WORDS));
    });
    const query = (operation.parameters ?? [])
      .filter((parameter) => parameter.in === 'query' && (parameter.required ? random() > 0.03 : random() > 0.5))
      .map(({ name, schema }) => `${name}=${inAddress(valueFor(schema, random))}`);
    const contents = Object.entries(operation.requestBody?.content ?? {});
    const headers = {};
    let body;
    if (contents.length > 0) {
      const [type, { schema }] = pick(contents);
      headers['content-type'] = random() < 0.97 ? type : pick(['text/html', 'multipart/form-data', 'application/x-www-form-urlencoded']);
      if (type === 'application/json') {
        body = JSON.stringify(valueFor(schema, random));
        if (random() < 0.03) body = body.slice(0, Math.floor(body.length * random()));
        // Deep, anywhere in it: nothing that reads it later may go down so far.
        if (random() < 0.01) body = body.replace(/:[^,:{}[\]]+/, `:${nested(pick([50, 1500, 20_000]))}`);
      } else {
        const rows = Array.from(
          { length: Math.floor(random() * 200) },
          (_, i) => `${i * 1e-4},${random() < 0.01 ? 'x' : (random() * 2 - 1).toFixed(4)}`,
        );
        body =
          random() < 0.5
            ? `TIME,CH1\n${rows.join('\n')}`
            : Buffer.from(Array.from({ length: Math.floor(random() * 500) }, () => Math.floor(random() * 256)));
      }
    }
    if (random() < 0.02) Object.assign(headers, pick(HEADERS));
    const isHead = method === 'get' && random() < 0.03;
    return {
      method: isHead ? 'HEAD' : method.toUpperCase(),
      address: `${address}${query.length === 0 ? '' : `?${query.join('&')}`}`,
      headers,
      body,
    };
  };

  const told = ({ method, address, body }, why) =>
    result.faults.push(`${why}: ${method} ${address.slice(0, 200)} ${typeof body === 'string' ? body.slice(0, 300) : ''}`);

  const ask = async (request) => {
    const began = performance.now();
    const abort = new AbortController();
    const isStream = request.address.includes('/events');
    const timer = setTimeout(() => abort.abort(), 20_000);
    try {
      const { method, headers, body } = request;
      const response = await fetch(`${url}${request.address}`, { method, headers, body, signal: abort.signal });
      // Of what goes on for as long as the store is large, or for ever, the beginning is looked at.
      const isLong = response.ok && (isStream || isWholeStore(request));
      const size = isLong ? 0 : (await response.arrayBuffer()).byteLength;
      if (isLong) abort.abort();
      const took = performance.now() - began;
      result.statuses[response.status] = (result.statuses[response.status] ?? 0) + 1;
      result.slowestMs = Math.max(result.slowestMs, took);
      if (response.status >= 500) told(request, `status ${response.status}`);
      if (took > MAX_MS) told(request, `took ${Math.round(took)} ms`);
      if (response.status >= 400 && size > MAX_REFUSED_BYTES) told(request, `${size} bytes to a refused body`);
    } catch (error) {
      if (!(isStream && abort.signal.aborted)) told(request, `no answer (${error.cause?.code ?? error.message})`);
    } finally {
      clearTimeout(timer);
    }
  };

  const health = watchHealth(url);
  await Promise.all(
    Array.from({ length: BESIDE }, async () => {
      while (result.requests < requests) {
        result.requests += 1;
        if (result.requests % 5000 === 0) onProgress(result);
        await ask(make());
      }
    }),
  );
  const healths = await health.end();
  result.slowestHealthMs = Math.max(...healths);
  for (const took of healths) if (took > MAX_HEALTH_MS) result.faults.push(`health took ${Math.round(took)} ms`);
  return result;
}
