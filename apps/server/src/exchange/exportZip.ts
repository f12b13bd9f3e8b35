import { createHash } from 'node:crypto';
import { Readable } from 'node:stream';
import { EXPORT_VERSION, TuneFileSchema, type Manifest, type TuneFile } from '@yield/contract';
import { CoreError, pictureSvg, sheetWiring, systemPicture, wiringPicture, type Chain, type ResponsePoint } from '@yield/core';
import type { DataSource } from 'typeorm';
import yazl from 'yazl';
import type { MakeSheet } from '../handover/sheetMaker.ts';
import { Problem } from '../problem.ts';
import { SLICE_BYTES } from '../store/tuneStore.ts';
import { keysOf } from '../signing/keys.ts';
import { tuneParts } from '../signing/signedParts.ts';
import { csvText } from './csvText.ts';
import { folderOf, tuneFileOf, tuneFileText } from './tuneFile.ts';

/** Every file has the same time: an archive of the same data is the same archive. */
const MTIME = new Date(Date.UTC(2000, 0, 1));

const sha256 = (bytes: Buffer): string => createHash('sha256').update(bytes).digest('hex');

const README = `An export of Yield. manifest.json lists the tunes, and every file with its SHA-256; schema.json describes tune.json.
tune.json holds everything that is stored of a tune, signature.json the signature of the installation that wrote it (Ed25519 over the
SHA-256 of each part in its canonical form), captures/ the captures as they came. The other files are made from these for
people: readings.csv, curves/, wiring/, sheets/. They are left alone when the archive is brought in again.
`;

/**
 * Tunes as one ZIP, byte after byte as its reader takes them: captures are read from the database piece by piece.
 *
 * @param tuneIds - those of tunes that are there
 */
export async function exportZip(dataSource: DataSource, makeSheet: MakeSheet, tuneIds: readonly string[]): Promise<Readable> {
  const zip = new yazl.ZipFile();
  const output = zip.outputStream as unknown as Readable;
  // A capture that cannot be read any more ends the archive, and whoever reads it is told; heard by nobody, it would end the server. The
  // first captures are read while the rest is still put together: nobody reads the archive then.
  let failure: Error | undefined;
  output.on('error', () => undefined);
  zip.on('error', (error: Error) => {
    failure ??= error;
    output.destroy(error);
  });
  const files: Manifest['files'] = [];
  const tunes: Manifest['tunes'] = [];
  const add = (path: string, content: string | Buffer): void => {
    const bytes = Buffer.from(content);
    files.push({ path, sha256: sha256(bytes), byteLength: bytes.length });
    zip.addBuffer(bytes, path, { mtime: MTIME });
  };
  const capture = (path: string, { id, sha256: hash, byteLength }: TuneFile['captures'][number]): void => {
    files.push({ path, sha256: hash, byteLength });
    zip.addReadStreamLazy(path, { mtime: MTIME, size: byteLength }, (taken) => {
      // The library hears nothing of a stream that it was given later.
      taken(
        null,
        slicesOf(dataSource, id, byteLength).on('error', (error) => zip.emit('error', error)),
      );
    });
  };
  const signer = await keysOf(dataSource).signer();
  add('README.txt', README);
  add('schema.json', `${JSON.stringify(TuneFileSchema, null, 1)}\n`);
  /** What could not be made for people; the data themselves are there. */
  const leftOut: string[] = [];
  const forPeople = async (what: string, work: () => Promise<void> | void): Promise<void> => {
    try {
      await work();
    } catch (error) {
      if (error instanceof Problem || isOfDatabase(error)) throw error;
      leftOut.push(`${what}: it could not be made of what is stored.`);
    }
  };
  for (const tuneId of tuneIds) {
    const file = await tuneFileOf(dataSource, tuneId);
    await breath();
    const folder = folderOf(tuneId);
    tunes.push({ id: file.id, name: file.name, folder });
    add(`${folder}tune.json`, tuneFileText(file));
    await breath();
    add(`${folder}signature.json`, `${JSON.stringify(signer.sign(tuneParts(file)), null, 1)}\n`);
    await breath();
    add(`${folder}readings.csv`, readingsCsv(file));
    await forPeople(`${folder}curves/`, async () => {
      for (const [name, text] of await curves(dataSource, tuneId)) add(`${folder}curves/${name}.csv`, text);
    });
    await forPeople(`${folder}wiring/`, () => {
      for (const [name, text] of wirings(file.chain.body)) add(`${folder}wiring/${name}.svg`, text);
    });
    for (const { issue, sheet } of file.sheets)
      await forPeople(`${folder}sheets/issue-${issue}`, async () => {
        add(`${folder}sheets/issue-${issue}.svg`, pictureSvg(systemPicture(sheet)));
        add(`${folder}sheets/issue-${issue}.pdf`, Buffer.from(await makeSheet(`${tuneId}/export/${issue}`, { sheet, paper: 'a4' })));
      });
    for (const each of file.captures) capture(each.path, each);
  }
  if (leftOut.length > 0) add('left-out.txt', `${leftOut.join('\n')}\n`);
  const manifest: Manifest = { format: 'yield-export', version: EXPORT_VERSION, tunes, files };
  zip.addBuffer(Buffer.from(`${JSON.stringify(manifest, null, 1)}\n`), 'manifest.json', { mtime: MTIME });
  zip.end();
  if (failure !== undefined) throw failure;
  return output;
}

/** Lets others have their turn between two pieces of work. */
const breath = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));

/** Told by the driver with a code: nothing of the tune is odd. */
const isOfDatabase = (error: unknown): boolean =>
  (error as { code?: unknown } | undefined)?.code !== undefined && !(error instanceof CoreError);

function slicesOf(dataSource: DataSource, id: string, byteLength: number): Readable {
  const slices = async function* (): AsyncGenerator<Buffer> {
    for (let from = 0; from < byteLength; from += SLICE_BYTES) {
      const [row] = await dataSource.query<{ slice: Buffer }[]>(
        'SELECT substring("bytes" from $2::int for $3::int) AS "slice" FROM "trace" WHERE "id" = $1',
        [id, from + 1, SLICE_BYTES],
      );
      yield row?.slice ?? Buffer.alloc(0);
    }
  };
  return Readable.from(slices(), { objectMode: false, highWaterMark: SLICE_BYTES });
}

/** Readings with what held, a row each. */
function readingsCsv({ readings }: TuneFile): string {
  const rows = readings.map(({ id, stepId, kind, value, resolution, takenAt, voidedReason, chainVersion, conditions }) => [
    takenAt,
    stepId,
    kind,
    value,
    resolution,
    voidedReason ?? '',
    chainVersion ?? '',
    JSON.stringify(conditions),
    id,
  ]);
  return csvText([
    ['taken at', 'step', 'kind', 'value', 'resolution', 'void because', 'revision of the chain', 'conditions', 'id'],
    ...rows,
  ]);
}

/** A drawing for each channel whose wiring is known, by its place in the chain: ids may hold what no file name does. */
function wirings({ channels }: Chain): [name: string, text: string][] {
  return channels.flatMap((channel, k): [string, string][] => {
    const wiring = sheetWiring(channel);
    return wiring === undefined ? [] : [[`channel-${k + 1}`, pictureSvg(wiringPicture(channel.name, wiring))]];
  });
}

interface Analysed {
  id: string;
  channels: { name: string; response?: { kind: string; points?: ResponsePoint[] }; curve?: ResponsePoint[] }[];
}

/** What was measured over frequency: a file for each capture that has it. */
async function curves(dataSource: DataSource, tuneId: string): Promise<[name: string, text: string][]> {
  const rows = await dataSource.query<Analysed[]>(
    `SELECT "id", "analysis"->'channels' AS "channels" FROM "trace" WHERE "tune_id" = $1 ORDER BY "taken_at", "stored_at", "id"`,
    [tuneId],
  );
  return rows.flatMap(({ id, channels }): [string, string][] => {
    const lines = channels.flatMap(({ name, response, curve }) =>
      (curve ?? response?.points ?? []).map(({ hertz, db, phaseDeg }) => [name, hertz, db, phaseDeg ?? '']),
    );
    return lines.length === 0 ? [] : [[id, csvText([['channel', 'frequency Hz', 'level dB', 'phase deg'], ...lines])]];
  });
}
