import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Response, Router } from 'express';
import type { DataSource } from 'typeorm';
import { operationRouter } from '../operationRouter.ts';
import type { Exporter } from '../exchange/exporter.ts';
import { exportZip } from '../exchange/exportZip.ts';
import { importFolder } from '../exchange/leftBehind.ts';
import type { Importer } from '../exchange/importer.ts';
import type { MakeSheet } from '../handover/sheetMaker.ts';
import { notFound, Problem } from '../problem.ts';
import { actorOf, idOf } from '../requests.ts';
import type { ServerSettings } from '../settings.ts';
import { untilGone } from '../untilGone.ts';

interface Parts {
  dataSource: DataSource;
  exporter: Exporter;
  importer: Importer;
  makeSheet: MakeSheet;
}

/** Tunes whole, out and in. */
export function exchangeRoutes(settings: ServerSettings, parts: Parts): Router {
  const { dataSource, importer } = parts;
  const { router, on } = operationRouter('');

  const send = async (response: Response, ids: readonly string[], fileName: string): Promise<void> => {
    const zip = await exportZip(parts, ids, untilGone(response));
    response.attachment(fileName).type('application/zip');
    // Ends with its reader: one that goes away takes nothing more from the database.
    await pipeline(zip, response).catch((error: unknown) => {
      if (!response.destroyed) throw error;
    });
  };

  on('exportTune', async (request, response) => {
    const id = idOf(request, 'tuneId');
    const [tune] = await dataSource.query<{ name: string }[]>('SELECT "name" FROM "tune" WHERE "id" = $1 AND "deleted_at" IS NULL', [id]);
    if (tune === undefined) throw notFound('This tune');
    await send(response, [id], `${tune.name}.zip`);
  });

  on('exportAll', async (_request, response) => {
    const rows = await dataSource.query<{ id: string }[]>('SELECT "id" FROM "tune" WHERE "deleted_at" IS NULL ORDER BY "id"');
    if (rows.length === 0) throw new Problem('not-found', 'There is no tune to export yet.');
    await send(
      response,
      rows.map(({ id }) => id),
      `tunes-${new Date().toISOString().slice(0, 10)}.zip`,
    );
  });

  on('bringIn', async (request, response) => {
    const type = (request.headers['content-type'] ?? '').split(';')[0]!.trim().toLowerCase();
    if (type !== 'application/zip') throw new Problem('unsupported-file-type', 'Send the archive as application/zip.');
    const folder = await mkdtemp(path.join(os.tmpdir(), importFolder(process.pid)));
    try {
      const file = path.join(folder, 'archive.zip');
      // To disk, not to memory: an archive of many captures is larger than that.
      await pipeline(request, atMost(settings.importLimitBytes), createWriteStream(file));
      response.json(await importer.bringIn(file, actorOf(request), untilGone(response)));
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  });
  return router;
}

/** Lets so many bytes through, and no more. */
function atMost(limit: number): Transform {
  let length = 0;
  return new Transform({
    transform(chunk: Buffer, _encoding, done) {
      length += chunk.length;
      if (length > limit) done(Object.assign(new Error('too large'), { type: 'entity.too.large', limit }));
      else done(null, chunk);
    },
  });
}
