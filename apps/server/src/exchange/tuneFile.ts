import { EXPORT_VERSION, type TuneFile } from '@yield/contract';
import type { EntityManager } from 'typeorm';
import { notFound } from '../problem.ts';
import { told } from '../told.ts';

type Query = Pick<EntityManager, 'query'>;

/** Where a capture's bytes lie in an archive: its id first, so that two of one name do not meet. */
export const capturePath = (folder: string, id: string, fileName: string): string =>
  `${folder}captures/${id}-${fileName
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9._-]+/g, '-')
    .replace(/\.{2,}/g, '.')
    .slice(-80)}`;

/** Folder of a tune in an archive. */
export const folderOf = (tuneId: string): string => `tunes/${tuneId}/`;

/**
 * Everything that is stored of one tune, but its captures' bytes, in an order that is always the same.
 *
 * @throws {Problem} 404 where there is no such tune, 422 never: what is stored is valid
 */
export async function readTuneFile(manager: Query, id: string, { withPutAway = false } = {}): Promise<TuneFile> {
  const [tune] = await manager.query<Record<string, never>[]>(
    `SELECT "id", "name", "vehicle", "settings", "version", "created_at" AS "createdAt", "updated_at" AS "updatedAt", "changes"
     FROM "tune" WHERE "id" = $1${withPutAway ? '' : ' AND "deleted_at" IS NULL'}`,
    [id],
  );
  if (tune === undefined) throw notFound('This tune');
  const rowsOf = (sql: string): Promise<Record<string, never>[]> => manager.query<Record<string, never>[]>(sql, [id]);
  const [chain] = await rowsOf('SELECT "version", "body" FROM "chain" WHERE "tune_id" = $1');
  const voiding = `"taken_at" AS "takenAt", "client_at" AS "clientAt", "stored_at" AS "storedAt", "voided_at" AS "voidedAt",
    "voided_reason" AS "voidedReason", "chain_version" AS "chainVersion"`;
  const readings = await rowsOf(
    `SELECT "id", "step_id" AS "stepId", "kind", "value", "resolution", "conditions", ${voiding} FROM "reading" WHERE "tune_id" = $1
     ORDER BY "taken_at", "stored_at", "id"`,
  );
  const captures = await rowsOf(
    `SELECT "id", "step_id" AS "stepId", "file_name" AS "fileName", "content_type" AS "contentType", "sha256",
      "byte_length" AS "byteLength", "channel_index" AS "channelIndex", "full_scale_volt" AS "fullScaleVolt", "probe", "conditions", ${voiding}
     FROM "trace" WHERE "tune_id" = $1 ORDER BY "taken_at", "stored_at", "id"`,
  );
  const marks = await rowsOf(
    `SELECT "step_id" AS "stepId", "version", "checks", "basis", "basis_words" AS "basisWords", "values", "skipped_reason" AS "skippedReason",
      "chain_version" AS "chainVersion" FROM "mark" WHERE "tune_id" = $1 ORDER BY "step_id" COLLATE "C"`,
  );
  const operations = await rowsOf(
    `SELECT "id", "kind", "subject", "body", "chain_version" AS "chainVersion", "change", "at", "client_at" AS "clientAt", "who"
     FROM "operation" WHERE "tune_id" = $1 ORDER BY "change"`,
  );
  const revisions = await rowsOf('SELECT "version", "body" FROM "chain_revision" WHERE "tune_id" = $1 ORDER BY "version"');
  const sheets = await rowsOf(
    `SELECT "id", "issue", "signed_by" AS "signedBy", "signed_at" AS "signedAt", "left_open" AS "leftOpen",
      "chain_version" AS "chainVersion", "changes", "sheet", "signature" FROM "signed_sheet" WHERE "tune_id" = $1 ORDER BY "issue"`,
  );
  const { version, ...head } = told(tune) as Record<string, unknown>;
  const file = {
    format: 'yield-tune',
    version: EXPORT_VERSION,
    ...head,
    headVersion: version,
    chain,
    revisions,
    readings: readings.map(told),
    captures: captures.map((row) => {
      const capture = told(row) as unknown as { id: string; fileName: string };
      return { ...capture, path: capturePath(folderOf(id), capture.id, capture.fileName) };
    }),
    marks: marks.map(told),
    operations: operations.map(told),
    sheets: sheets.map(told),
  };
  return file as unknown as TuneFile;
}

/** As it stands in an archive. */
export const tuneFileText = (file: TuneFile): string => `${JSON.stringify(file, null, 1)}\n`;
