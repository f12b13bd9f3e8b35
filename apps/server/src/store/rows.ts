import type { SavedMark, SavedReading, TraceInfo, TuneHead } from '@yield/contract';
import type { MarkRow, ReadingRow, TraceRow, TuneRow } from '../database/entities.ts';

// Rows as they are stored, turned into what the core and the answers have.

export const headOf = ({
  id,
  name,
  vehicle,
  version,
  updatedAt,
}: Pick<TuneRow, 'id' | 'name' | 'vehicle' | 'version' | 'updatedAt'>): TuneHead => ({
  id,
  name,
  vehicle,
  version,
  updatedAt: updatedAt.toISOString(),
});

const voided = (reason: string | null): { voidedReason?: string } => (reason === null ? {} : { voidedReason: reason });

/** A reading that was stored long after, or before, the time that it says: offline, or by a clock that was off. */
const NOTABLE_APART_MS = 3_600_000;
const storedApart = (takenAt: Date, storedAt: Date): { storedAt?: string } =>
  Math.abs(takenAt.getTime() - storedAt.getTime()) > NOTABLE_APART_MS ? { storedAt: storedAt.toISOString() } : {};

const onRevision = (version: number | null): { chainVersion?: number } => (version === null ? {} : { chainVersion: version });

type ReadRow = Pick<
  ReadingRow,
  'id' | 'tuneId' | 'stepId' | 'kind' | 'value' | 'resolution' | 'conditions' | 'takenAt' | 'storedAt' | 'voidedReason' | 'chainVersion'
>;

/** Asks a database: a DataSource, or a thread's own connection. */
export interface Queried {
  query: <T>(sql: string, parameters: unknown[]) => Promise<T>;
}

/** A reading as asked of the database: conditions as text, times in ms since 1970. */
type RawReadRow = Omit<ReadRow, 'conditions' | 'takenAt' | 'storedAt'> & { conditionsText: string; takenMs: number; storedMs: number };

/**
 * The readings of tunes, oldest first. Not as entities: of thousands of rows, making those takes longer than reading them. Readings taken
 * one after the other mostly share their conditions, which are parsed once then, and are one object.
 */
export async function readingRowsOf(database: Queried, tuneIds: readonly string[], ids?: readonly string[]): Promise<ReadRow[]> {
  const rows = await database.query<RawReadRow[]>(
    `SELECT "id", "tune_id" AS "tuneId", "step_id" AS "stepId", "kind", "value", "resolution", "conditions"::text AS "conditionsText",
      (extract(epoch FROM "taken_at") * 1000)::float8 AS "takenMs", (extract(epoch FROM "stored_at") * 1000)::float8 AS "storedMs",
      "voided_reason" AS "voidedReason", "chain_version" AS "chainVersion"
     FROM "reading" WHERE "tune_id" = ANY($1) AND ($2::uuid[] IS NULL OR "id" = ANY($2)) ORDER BY "taken_at", "stored_at"`,
    [tuneIds, ids ?? null],
  );
  const parsed = new Map<string, ReadRow['conditions']>();
  const conditionsOf = (text: string): ReadRow['conditions'] => {
    const found = parsed.get(text) ?? (JSON.parse(text) as ReadRow['conditions']);
    parsed.set(text, found);
    return found;
  };
  return rows.map(({ conditionsText, takenMs, storedMs, ...row }) => ({
    ...row,
    conditions: conditionsOf(conditionsText),
    takenAt: new Date(takenMs),
    storedAt: new Date(storedMs),
  }));
}

type TraceReadRow = Omit<TraceRow, 'bytes' | 'contentType' | 'clientAt' | 'voidedAt' | 'device' | 'deviceCount'>;

/** The captures of tunes without their bytes, oldest first. */
export const traceRowsOf = (database: Queried, tuneIds: readonly string[]): Promise<TraceReadRow[]> =>
  database.query<TraceReadRow[]>(
    `SELECT "id", "tune_id" AS "tuneId", "step_id" AS "stepId", "file_name" AS "fileName", "byte_length" AS "byteLength", "sha256",
      "channel_index" AS "channelIndex", "full_scale_volt" AS "fullScaleVolt", "probe", "analysis", "analysis_version" AS "analysisVersion",
      "conditions", "taken_at" AS "takenAt", "stored_at" AS "storedAt", "voided_reason" AS "voidedReason", "chain_version" AS "chainVersion"
     FROM "trace" WHERE "tune_id" = ANY($1) ORDER BY "taken_at", "stored_at"`,
    [tuneIds],
  );

/** What was ticked, chosen and skipped at the steps of tunes. */
export const markRowsOf = (database: Queried, tuneIds: readonly string[]): Promise<MarkRow[]> =>
  database.query<MarkRow[]>(
    `SELECT "tune_id" AS "tuneId", "step_id" AS "stepId", "checks", "basis", "basis_words" AS "basisWords", "values",
      "skipped_reason" AS "skippedReason", "version", "chain_version" AS "chainVersion" FROM "mark" WHERE "tune_id" = ANY($1)`,
    [tuneIds],
  );

export const readingOf = ({
  id,
  stepId,
  kind,
  value,
  resolution,
  conditions,
  takenAt,
  storedAt,
  voidedReason,
  chainVersion,
}: ReadRow): SavedReading => ({
  id,
  stepId,
  kind,
  value,
  resolution,
  conditions,
  takenAt: takenAt.toISOString(),
  ...storedApart(takenAt, storedAt),
  ...voided(voidedReason),
  ...onRevision(chainVersion),
});

export function traceOf(row: TraceReadRow): TraceInfo {
  const { id, stepId, fileName, channelIndex, analysis, conditions, takenAt, voidedReason } = row;
  const { sha256, byteLength, analysisVersion, fullScaleVolt, probe } = row;
  return {
    id,
    stepId,
    fileName,
    channelIndex,
    analysis,
    conditions,
    takenAt: takenAt.toISOString(),
    ...storedApart(takenAt, row.storedAt),
    sha256,
    byteLength,
    analysisVersion,
    ...(fullScaleVolt === null ? {} : { fullScaleVolt }),
    ...(probe === null ? {} : { probe }),
    ...voided(voidedReason),
    ...onRevision(row.chainVersion),
  };
}

export const markOf = ({ stepId, checks, basis, basisWords, values, skippedReason, version, chainVersion }: MarkRow): SavedMark => ({
  stepId,
  checks,
  version,
  ...(basis === null ? {} : { basis }),
  ...(basisWords === null ? {} : { basisWords }),
  ...(values === null ? {} : { values }),
  ...(skippedReason === null ? {} : { skippedReason }),
  ...onRevision(chainVersion),
});
