// Tunes whole, out and in: the round trip, what is here already, copies, and archives that are damaged, hostile or foreign.
import { createHash, randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { once } from 'node:events';
import { buffer } from 'node:stream/consumers';
import type { BroughtIn, Manifest, SignedSheet, TuneDetail, TuneFile } from '@yield/contract';
import { analyseCapture, CoreError, seededRandom, traceOptionsOf } from '@yield/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import yazl from 'yazl';
import { csvText } from '../src/exchange/csvText.ts';
import { importZip, type ImportParts } from '../src/exchange/importZip.ts';
import { openZip } from '../src/exchange/readZip.ts';
import { NOBODY } from '../src/store/history.ts';
import { startTestServer, type TestServer } from './testServer.ts';

const BUS = '3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0001';
const CAR = '3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0002';
const LIMITS = { entries: 1000, fileBytes: 100_000_000, totalBytes: 100_000_000 };

const folder = mkdtempSync(path.join(os.tmpdir(), 'yield-exchange-'));
afterAll(() => rmSync(folder, { recursive: true }));
let serial = 0;
const onDisk = (bytes: Uint8Array): string => {
  const file = path.join(folder, `${(serial += 1)}.zip`);
  writeFileSync(file, bytes);
  return file;
};
async function unpacked(zip: Uint8Array): Promise<Map<string, Buffer>> {
  const { entries, close } = await openZip(onDisk(zip), LIMITS);
  const files = new Map<string, Buffer>();
  for (const [name, entry] of entries) files.set(name, await entry.read());
  close();
  return files;
}
async function packed(files: ReadonlyMap<string, Uint8Array | string>): Promise<Buffer> {
  const zip = new yazl.ZipFile();
  for (const [name, content] of files) zip.addBuffer(Buffer.from(content), name);
  zip.end();
  return buffer(zip.outputStream);
}
const hashOf = (content: Uint8Array | string): string => createHash('sha256').update(content).digest('hex');

/** The same archive with one file changed, and its hash with it. */
function withFile(files: ReadonlyMap<string, Buffer>, name: string, content: string): Promise<Buffer> {
  const manifest = JSON.parse(files.get('manifest.json')!.toString()) as Manifest;
  manifest.files = manifest.files.map((file) =>
    file.path === name ? { ...file, sha256: hashOf(content), byteLength: Buffer.byteLength(content) } : file,
  );
  return packed(new Map<string, Uint8Array | string>([...files, [name, content], ['manifest.json', JSON.stringify(manifest)]]));
}

const download = (server: TestServer, place: string) =>
  server.api
    .get(`/api/v1${place}`)
    .buffer(true)
    .parse((response, done) => {
      const chunks: Buffer[] = [];
      response.on('data', (chunk: Buffer) => chunks.push(chunk));
      response.on('end', () => done(null, Buffer.concat(chunks)));
    })
    .expect(200)
    .then(({ body }) => body as Buffer);
const upload = (server: TestServer, zip: Buffer) => server.api.post('/api/v1/import').set('content-type', 'application/zip').send(zip);
const broughtIn = async (server: TestServer, zip: Buffer): Promise<BroughtIn[]> =>
  (await upload(server, zip).expect(200)).body as BroughtIn[];
const detail = async (server: TestServer, id: string): Promise<TuneDetail> =>
  (await server.api.get(`/api/v1/tunes/${id}`).expect(200)).body as TuneDetail;
const sign = async (server: TestServer, id: string, leftOpen = 'the reading corner, next week') =>
  server.api
    .post(`/api/v1/tunes/${id}/sheets`)
    .send({ id: randomUUID(), seen: (await detail(server, id)).changes, signedBy: 'A. Tuner', leftOpen });

describe('tunes out and in', () => {
  let server: TestServer;
  let fresh: TestServer;
  let zip: Buffer;
  beforeAll(async () => {
    server = await startTestServer();
    fresh = await startTestServer();
    await server.api.post('/api/v1/demo').expect(200);
    const { readings } = await detail(server, BUS);
    await server.api.post(`/api/v1/tunes/${BUS}/readings/${readings[0]!.id}/void`).send({ reason: '=the wrong coil' }).expect(204);
    await sign(server, BUS).then(({ status }) => expect(status).toBe(201));
    zip = await download(server, `/tunes/${BUS}/export.zip`);
  });
  afterAll(async () => {
    await fresh.close();
    await server.close();
  });

  it('hold every file that the manifest names, each with its hash, and nothing else', async () => {
    const files = await unpacked(zip);
    const manifest = JSON.parse(files.get('manifest.json')!.toString()) as Manifest;
    expect(manifest.files.map(({ path: name }) => name).sort()).toEqual(
      [...files.keys()].filter((name) => name !== 'manifest.json').sort(),
    );
    for (const { path: name, sha256, byteLength } of manifest.files) {
      expect(hashOf(files.get(name)!)).toBe(sha256);
      expect(files.get(name)!.length).toBe(byteLength);
    }
    expect([...files.keys()]).toEqual(
      expect.arrayContaining(['schema.json', `tunes/${BUS}/sheets/issue-1.pdf`, `tunes/${BUS}/readings.csv`]),
    );
    // No cell of it is a formula.
    expect(files.get(`tunes/${BUS}/readings.csv`)!.toString()).toContain(`,"'=the wrong coil",`);
  });

  const withoutArrival = (bytes: Buffer): string => {
    const tune = JSON.parse(bytes.toString()) as TuneFile;
    const last = tune.operations.pop()!;
    expect(last).toMatchObject({ kind: 'brought-in', body: { outcome: 'restored', provenance: { kind: 'elsewhere' } } });
    return `${JSON.stringify({ ...tune, changes: tune.changes - 1 }, null, 1)}\n`;
  };

  it('come into an empty store as they were: exported again they are the same, byte for byte', async () => {
    const all = await download(server, '/export.zip');
    const outcomes = await broughtIn(fresh, all);
    expect(outcomes.map(({ outcome }) => outcome)).toEqual(['restored', 'restored', 'restored', 'restored']);
    const again = await unpacked(await download(fresh, '/export.zip'));
    const first = await unpacked(all);
    expect([...again.keys()]).toEqual([...first.keys()]);
    for (const [name, bytes] of first) {
      if (name.endsWith('.pdf') || name === 'manifest.json' || name.endsWith('/signature.json')) continue;
      // That it was brought in stands in its history; everything else is as it was.
      const now = name.endsWith('/tune.json') ? withoutArrival(again.get(name)!) : again.get(name)!;
      expect(hashOf(now), name).toBe(hashOf(bytes));
    }
    // What is judged is judged alike: the steps stand where they stood.
    for (const id of [BUS, CAR]) {
      const [here, there] = await Promise.all([server, fresh].map((each) => each.api.get(`/api/v1/tunes/${id}/run`).expect(200)));
      expect(there!.body).toEqual(here!.body);
    }
    // A second time nothing is done.
    expect((await broughtIn(fresh, all)).map(({ outcome }) => outcome)).toEqual(Array(4).fill('already here'));
  });

  it('come as a copy where another state is here, twice without harm', async () => {
    const tunesBefore = (await fresh.api.get('/api/v1/tunes').expect(200)).body as unknown[];
    const car = await download(fresh, `/tunes/${CAR}/export.zip`);
    const { readings } = await detail(fresh, CAR);
    await fresh.api.post(`/api/v1/tunes/${CAR}/readings/${readings[0]!.id}/void`).send({ reason: 'a slip' }).expect(204);
    const [copy] = await broughtIn(fresh, car);
    expect(copy).toMatchObject({ name: 'Driving-school car', outcome: 'copied' });
    expect(copy!.id).not.toBe(CAR);
    expect(await broughtIn(fresh, car)).toEqual([{ id: copy!.id, name: copy!.name, outcome: 'already here' }]);
    expect((await fresh.api.get('/api/v1/tunes').expect(200)).body).toHaveLength(tunesBefore.length + 1);
    const [own, theirs] = [await detail(fresh, CAR), await detail(fresh, copy!.id)];
    expect(theirs.readings).toHaveLength(own.readings.length);
    expect(theirs.readings[0]!.voidedReason).toBeUndefined();
    expect(theirs.traces.map(({ sha256 }) => sha256)).toEqual(own.traces.map(({ sha256 }) => sha256));
    const history = (await fresh.api.get(`/api/v1/tunes/${copy!.id}/history`).expect(200)).body as { kind: string }[];
    expect(history[0]!.kind).toBe('brought-in');
  });

  it('as the first version wrote them are read for good', async () => {
    const older = await startTestServer();
    try {
      const [van] = await broughtIn(older, readFileSync(new URL('./fixtures/export1.zip', import.meta.url)));
      expect(van).toMatchObject({ name: 'Puppet theatre van', outcome: 'restored' });
      const { traces, chain } = await detail(older, van!.id);
      expect(traces.map(({ fileName }) => fileName)).toEqual(['left-ear.txt', 'middle-of-the-head.txt', 'right-ear.txt']);
      expect(chain.body.channels).toHaveLength(7);
      const sheets = (await older.api.get(`/api/v1/tunes/${van!.id}/sheets`).expect(200)).body as SignedSheet[];
      expect(sheets).toMatchObject([{ issue: 1, signedBy: 'M. Lantern', leftOpen: 'everything but the bass' }]);
    } finally {
      await older.close();
    }
  });

  const counts = async (of: TestServer): Promise<string> =>
    JSON.stringify(
      await of.dataSource.query(
        `SELECT (SELECT count(*) FROM "tune") t, (SELECT count(*) FROM "reading") r, (SELECT count(*) FROM "trace") c, (SELECT count(*) FROM "operation") o`,
      ),
    );

  it.each<[string, (files: Map<string, Buffer>) => Promise<Buffer> | Buffer, RegExp]>([
    ['no ZIP at all', () => Buffer.from('\x89PNG\r\n\x1a\n a picture that is called .zip'), /no ZIP archive/],
    ['cut short', () => zip.subarray(0, zip.length - 4000), /no ZIP archive/],
    ['without a manifest', (files) => packed(new Map([...files].filter(([name]) => name !== 'manifest.json'))), /manifest.json is missing/],
    [
      'a file more than the manifest names',
      (files) => packed(new Map<string, Uint8Array | string>([...files, ['evil.txt', 'x']])),
      /evil.txt: the manifest does not name/,
    ],
    [
      'a file that is another one',
      (files) => packed(new Map<string, Uint8Array | string>([...files, [`tunes/${BUS}/tune.json`, '{}']])),
      /its hash is another one/,
    ],
    [
      'a newer version',
      (files) => withFile(files, `tunes/${BUS}/tune.json`, JSON.stringify({ format: 'yield-tune', version: 2 })),
      /newer Yield/,
    ],
    ['of another program', (files) => withFile(files, `tunes/${BUS}/tune.json`, '[]'), /not written by Yield/],
    ['JSON that is none', (files) => withFile(files, `tunes/${BUS}/tune.json`, '{"format":'), /not valid JSON/],
    [
      'JSON of a million levels',
      (files) => withFile(files, `tunes/${BUS}/tune.json`, `${'['.repeat(1e6)}${']'.repeat(1e6)}`),
      /not valid JSON|not written by Yield/,
    ],
    [
      'a bomb',
      (files) => packed(new Map<string, Uint8Array | string>([...files, ['zeros', Buffer.alloc(90_000_000)]])),
      /thousand times its size|manifest does not name/,
    ],
  ])('refuse %s, and change nothing', async (_, made, words) => {
    const before = await counts(fresh);
    const { body } = (await upload(fresh, await made(await unpacked(zip))).expect(422)) as {
      body: { errors: { message: string }[]; detail: string };
    };
    expect(`${body.detail} ${JSON.stringify(body.errors)}`).toMatch(words);
    expect(await counts(fresh)).toBe(before);
  });

  it('refuse a place outside of the archive', async () => {
    // No library writes such a name: it is put into the bytes, in the file's own head and in the list at the end.
    const bytes = await packed(new Map([['aaaaaaaaaaaa', 'x']]));
    const evil = Buffer.from(bytes.toString('latin1').replaceAll('aaaaaaaaaaaa', '../../../etc'), 'latin1');
    const { body } = (await upload(fresh, evil).expect(422)) as { body: { errors: { message: string }[] } };
    expect(body.errors[0]!.message).toContain('names a place outside of it');
  });

  it('another kind of body is refused, and one that is too large', async () => {
    await fresh.api.post('/api/v1/import').send({}).expect(415);
  });

  it('of a tune that was tampered with, say where, or take it as a copy: never as the tune itself', async () => {
    const files = await unpacked(zip);
    const name = `tunes/${BUS}/tune.json`;
    const tune = JSON.parse(files.get(name)!.toString()) as TuneFile;
    const tampered = (changes: object): Promise<Buffer> => withFile(files, name, JSON.stringify({ ...tune, ...changes }));
    const [reading] = tune.readings;
    for (const changes of [
      { readings: [{ ...reading, value: -4 }] },
      { readings: [reading, reading] },
      { readings: [{ ...reading, kind: 'gain-voltage' }] },
      { captures: tune.captures.map((capture) => ({ ...capture, path: '../outside' })) },
      { changes: 1 },
      { chain: { ...tune.chain, body: { ...tune.chain.body, amplifiers: [] } } },
      { id: randomUUID() },
      { somethingElse: 1 },
    ])
      await upload(fresh, await tampered(changes)).expect(422);
    const [copy] = await broughtIn(fresh, await tampered({ name: 'Not the bus' }));
    expect(copy!.outcome).toBe('copied');
    expect((await detail(fresh, BUS)).name).toBe('Mobile library bus');
  });

  it('of a thousand damaged ones none comes in, and none leaves a row', async () => {
    const trailer = '3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0003';
    const small = await download(fresh, `/tunes/${trailer}/export.zip`);
    const random = seededRandom('damaged archives');
    const pick = (below: number): number => Math.floor(random.uniform() * below);
    const before = await counts(fresh);
    const judge: ImportParts['analyse'] = (capture, of) => analyseCapture(capture, traceOptionsOf(of));
    const parts = { dataSource: fresh.dataSource, analyse: judge, traceLimitBytes: 1e6 };
    const tally = { refused: 0, same: 0 };
    for (let run = 0; run < 1000; run += 1) {
      const bytes = Buffer.from(small);
      const kind = pick(4);
      if (kind === 0) for (let k = 0; k <= pick(4); k += 1) bytes[pick(bytes.length)] = pick(256);
      if (kind === 1) bytes.copy(bytes, pick(bytes.length), pick(bytes.length), pick(bytes.length));
      const made =
        kind === 2
          ? bytes.subarray(0, pick(bytes.length))
          : kind === 3
            ? Buffer.concat([bytes.subarray(0, pick(bytes.length)), bytes.subarray(pick(bytes.length))])
            : bytes;
      const file = path.join(folder, 'damaged.zip');
      writeFileSync(file, made);
      try {
        const outcomes = await importZip(file, parts, NOBODY);
        // What was damaged says nothing of the data, such as the time of a file.
        expect(outcomes.map(({ outcome }) => outcome)).toEqual(['already here']);
        tally.same += 1;
      } catch (error) {
        if (!(error instanceof CoreError)) throw error;
        tally.refused += 1;
      }
    }
    expect(await counts(fresh)).toBe(before);
    expect(tally.refused).toBeGreaterThan(500);
  }, 120_000);

  it('an export that nobody reads to its end lets go', async () => {
    const { body } = {
      body: await new Promise<number>((resolve, reject) => {
        const listening = server.app.listen(0, '127.0.0.1', () => {
          const { port } = listening.address() as { port: number };
          void fetch(`http://127.0.0.1:${port}/api/v1/export.zip`, { headers: { host: `127.0.0.1:${port}` } })
            .then(async (response) => {
              const reader = response.body!.getReader();
              await reader.read();
              await reader.cancel();
              listening.close();
              await once(listening, 'close');
              resolve(response.status);
            })
            .catch(reject);
        });
      }),
    };
    expect(body).toBe(200);
    await server.api.get('/api/v1/health').expect(200);
  });

  it('a signature wants a word on what is open, and what was seen; a signed sheet stays as it was', async () => {
    await sign(server, CAR, '').then(({ status, body }) => {
      expect(status).toBe(422);
      expect(JSON.stringify(body)).toContain('say what was left, and why');
    });
    const { changes } = await detail(server, CAR);
    const asked = { id: randomUUID(), seen: changes, signedBy: 'A. Tuner', leftOpen: 'the boot, tomorrow' };
    const first = (await server.api.post(`/api/v1/tunes/${CAR}/sheets`).send(asked).expect(201)).body as SignedSheet;
    expect(first).toMatchObject({ issue: 1, signedBy: 'A. Tuner', changes });
    // Sent again it is the same one.
    expect((await server.api.post(`/api/v1/tunes/${CAR}/sheets`).send(asked).expect(201)).body).toEqual(first);
    // What was not seen is not signed.
    await server.api
      .post(`/api/v1/tunes/${CAR}/sheets`)
      .send({ ...asked, id: randomUUID() })
      .expect(409);
    await sign(server, CAR).then(({ body }) => expect(body).toMatchObject({ issue: 2 }));
    const sheets = (await server.api.get(`/api/v1/tunes/${CAR}/sheets`).expect(200)).body as SignedSheet[];
    expect(sheets.map(({ issue }) => issue)).toEqual([1, 2]);
    expect(sheets[0]).toEqual(first);
    await server.api.get(`/api/v1/tunes/${CAR}/sheet.pdf?issue=1`).expect(200).expect('content-type', 'application/pdf');
    await server.api.get(`/api/v1/tunes/${CAR}/sheet.pdf?issue=9`).expect(404);
    await expect(server.dataSource.query(`UPDATE "signed_sheet" SET "signed_by" = 'Somebody'`)).rejects.toThrow('only ever added to');
  });
});

it('CSV: quotes, commas and line ends are kept, formulas made text, figures left alone', () =>
  expect(csvText([['a,b', 'say "x"', '=1+1', '-4', -4, '@cmd', 'plain'], []])).toBe(
    `"a,b","say ""x""","'=1+1","'-4",-4,"'@cmd",plain\r\n\r\n`,
  ));
