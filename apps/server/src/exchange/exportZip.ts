import { Readable } from 'node:stream';
import { EXPORT_VERSION, TuneFileSchema, type Manifest, type TuneFile } from '@yield/contract';
import type { DataSource } from 'typeorm';
import yazl from 'yazl';
import type { MakeSheet } from '../handover/sheetMaker.ts';
import { Problem } from '../problem.ts';
import { SLICE_BYTES } from '../store/tuneStore.ts';
import type { Exporter } from './exporter.ts';
import { couldNotBeMade, exportFile, type ExportedTune, type ExportFile } from './exportTask.ts';

/** Every file has the same time: an archive of the same data is the same archive. */
const MTIME = new Date(Date.UTC(2000, 0, 1));

const README = `An export of Yield. manifest.json lists the tunes, and every file with its SHA-256; schema.json describes tune.json.
tune.json holds everything that is stored of a tune, signature.json the signature of the installation that wrote it (Ed25519 over the
SHA-256 of each part in its canonical form), captures/ the captures as they came. The other files are made from these for
people: readings.csv, curves/, wiring/, sheets/. They are left alone when the archive is brought in again.
`;

interface Parts {
  dataSource: DataSource;
  exporter: Exporter;
  makeSheet: MakeSheet;
}

/**
 * Tunes as one ZIP, byte after byte as its reader takes them: captures are read from the database piece by piece.
 *
 * @param tuneIds - those of tunes that are there
 * @param signal - whoever asked has gone
 */
export async function exportZip(
  { dataSource, exporter, makeSheet }: Parts,
  tuneIds: readonly string[],
  signal: AbortSignal,
): Promise<Readable> {
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
  const add = ({ path, bytes, sha256 }: ExportFile): void => {
    files.push({ path, sha256, byteLength: bytes.length });
    zip.addBuffer(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength), path, { mtime: MTIME });
  };
  const capture = ({ path, id, sha256, byteLength }: TuneFile['captures'][number]): void => {
    files.push({ path, sha256, byteLength });
    zip.addReadStreamLazy(path, { mtime: MTIME, size: byteLength }, (taken) => {
      // The library hears nothing of a stream that it was given later.
      taken(
        null,
        slicesOf(dataSource, id, byteLength).on('error', (error) => zip.emit('error', error)),
      );
    });
  };
  add(exportFile('README.txt', README));
  add(exportFile('schema.json', `${JSON.stringify(TuneFileSchema, null, 1)}\n`));
  const leftOut: string[] = [];
  const addTune = async (tuneId: string): Promise<void> => {
    const tune = await exporter.tune(tuneId, signal).catch((error: unknown) => {
      // One that was put away since the list was read is not missed.
      if (tuneIds.length > 1 && error instanceof Problem && error.status === 404) return undefined;
      throw error;
    });
    if (tune === undefined) return;
    tunes.push({ id: tune.id, name: tune.name, folder: tune.folder });
    tune.files.forEach(add);
    leftOut.push(...tune.leftOut);
    for (const path of await addPdfs(tune, makeSheet, add)) leftOut.push(couldNotBeMade(path));
    tune.captures.forEach(capture);
  };
  const finish = (): void => {
    if (leftOut.length > 0) add(exportFile('left-out.txt', `${leftOut.join('\n')}\n`));
    const manifest: Manifest = { format: 'yield-export', version: EXPORT_VERSION, tunes, files };
    zip.addBuffer(Buffer.from(`${JSON.stringify(manifest, null, 1)}\n`), 'manifest.json', { mtime: MTIME });
    zip.end();
  };
  const [first, ...rest] = tuneIds;
  // What is wrong from the start is answered with words; the others come while the first ones travel.
  if (first !== undefined) await addTune(first);
  if (rest.length === 0) finish();
  else {
    const others = async (): Promise<void> => {
      for (const tuneId of rest) await addTune(tuneId);
      finish();
    };
    others().catch((error: unknown) => zip.emit('error', error instanceof Error ? error : new Error(String(error))));
  }
  if (failure !== undefined) throw failure;
  return output;
}

/** @returns paths of those that could not be made */
async function addPdfs({ id, folder, sheets }: ExportedTune, makeSheet: MakeSheet, add: (file: ExportFile) => void): Promise<string[]> {
  const failed: string[] = [];
  for (const { issue, sheet } of sheets) {
    const path = `${folder}sheets/issue-${issue}.pdf`;
    try {
      add(exportFile(path, await makeSheet(`${id}/export/${issue}`, { sheet, paper: 'a4' })));
    } catch (error) {
      if (error instanceof Problem) throw error;
      failed.push(path);
    }
  }
  return failed;
}

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
