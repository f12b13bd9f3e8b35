import { createHash } from 'node:crypto';
import type { TuneFile } from '@yield/contract';
import { type Chain, type ResponsePoint } from '@yield/core';
import { pictureSvg, sheetWiring, systemPicture, wiringPicture } from '@yield/sheet';
import { threadDatabase, type Query } from '../database/threadQuery.ts';
import { keysOf } from '../signing/keys.ts';
import { tuneParts } from '../signing/signedParts.ts';
import { settled, type TaskResult } from '../taskResult.ts';
import { csvText } from './csvText.ts';
import { folderOf, readTuneFile, tuneFileText } from './tuneFile.ts';
import { standBack } from '../standBack.ts';

standBack();

export interface ExportTask {
  databaseUrl: string;
  tuneId: string;
}

export interface ExportFile {
  path: string;
  bytes: Uint8Array;
  /** hexadecimal */
  sha256: string;
}

/** One tune as it goes into an archive; its captures and the PDFs of its sheets are put in by whoever asked. */
export interface ExportedTune {
  id: string;
  name: string;
  folder: string;
  files: ExportFile[];
  captures: TuneFile['captures'];
  sheets: Pick<TuneFile['sheets'][number], 'issue' | 'sheet'>[];
  /** what could not be made for people; the data themselves are there */
  leftOut: string[];
}

export const exportFile = (path: string, content: string | Uint8Array): ExportFile => {
  const bytes = typeof content === 'string' ? Buffer.from(content) : content;
  return { path, bytes, sha256: createHash('sha256').update(bytes).digest('hex') };
};

/** Runs on a worker thread with a connection of its own: reads a tune whole, signs it and makes its texts and drawings. */
export default async function runExportTask({ databaseUrl, tuneId }: ExportTask): Promise<TaskResult<ExportedTune>> {
  return await settled(async () => {
    const database = threadDatabase(databaseUrl);
    const signer = await keysOf(database).signer();
    const [file, analysed] = await database.snapshot(async (query) => [await readTuneFile({ query }, tuneId), await curves(query, tuneId)]);
    const folder = folderOf(tuneId);
    const files: ExportFile[] = [];
    const leftOut: string[] = [];
    const add = (path: string, text: string): void => {
      files.push(exportFile(`${folder}${path}`, text));
    };
    /** Made for people: what is odd in one of them keeps nothing else out. */
    const forPeople = (what: string, work: () => void): void => {
      try {
        work();
      } catch {
        leftOut.push(couldNotBeMade(`${folder}${what}`));
      }
    };
    add('tune.json', tuneFileText(file));
    add('signature.json', `${JSON.stringify(signer.sign(tuneParts(file)), null, 1)}\n`);
    add('readings.csv', readingsCsv(file));
    forPeople('curves/', () => {
      for (const [name, text] of curveFiles(analysed)) add(`curves/${name}.csv`, text);
    });
    forPeople('wiring/', () => {
      for (const [name, text] of wirings(file.chain.body)) add(`wiring/${name}.svg`, text);
    });
    for (const { issue, sheet } of file.sheets)
      forPeople(`sheets/issue-${issue}.svg`, () => add(`sheets/issue-${issue}.svg`, pictureSvg(systemPicture(sheet))));
    const { id, name, captures, sheets } = file;
    return { id, name, folder, files, captures, sheets: sheets.map(({ issue, sheet }) => ({ issue, sheet })), leftOut };
  });
}

export const couldNotBeMade = (what: string): string => `${what}: it could not be made of what is stored.`;

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

const curves = (query: Query, tuneId: string): Promise<Analysed[]> =>
  query<Analysed[]>(
    `SELECT "id", "analysis"->'channels' AS "channels" FROM "trace" WHERE "tune_id" = $1 ORDER BY "taken_at", "stored_at", "id"`,
    [tuneId],
  );

/** What was measured over frequency: a file for each capture that has it. */
const curveFiles = (analysed: readonly Analysed[]): [name: string, text: string][] =>
  analysed.flatMap(({ id, channels }): [string, string][] => {
    const lines = channels.flatMap(({ name, response, curve }) =>
      (curve ?? response?.points ?? []).map(({ hertz, db, phaseDeg }) => [name, hertz, db, phaseDeg ?? '']),
    );
    return lines.length === 0 ? [] : [[id, csvText([['channel', 'frequency Hz', 'level dB', 'phase deg'], ...lines])]];
  });
