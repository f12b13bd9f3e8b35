import { randomUUID } from 'node:crypto';
import type { DataSource } from 'typeorm';

/** Below this the bytes go along with the row. */
const MIN_BYTES = 8_000_000;
const PIECE_BYTES = 2_000_000;

/** A large capture on its way into the database: sent at once, its bytes would hold the server up while they are copied for the line. */
export interface Pieces {
  /** SQL for the whole, for the statement that stores the row */
  whole: () => string;
  /** lets go of the pieces, once the row is stored or is not to be */
  drop: () => Promise<void>;
}

/** Brings the bytes in piece by piece. @returns undefined where there are few of them */
export async function inPieces(dataSource: DataSource, bytes: Buffer): Promise<Pieces | undefined> {
  if (bytes.length < MIN_BYTES) return undefined;
  const id = randomUUID();
  const drop = async (): Promise<void> => {
    await dataSource.query('DELETE FROM "trace_piece" WHERE "upload_id" = $1', [id]);
  };
  try {
    for (let from = 0, n = 0; from < bytes.length; from += PIECE_BYTES, n += 1)
      await dataSource.query('INSERT INTO "trace_piece" ("upload_id", "n", "bytes") VALUES ($1, $2, $3)', [
        id,
        n,
        bytes.subarray(from, from + PIECE_BYTES),
      ]);
  } catch (error) {
    await drop().catch(() => undefined);
    throw error;
  }
  // The id is made here: nothing of a request stands in this text.
  return { whole: () => `(SELECT string_agg("bytes", ''::bytea ORDER BY "n") FROM "trace_piece" WHERE "upload_id" = '${id}')`, drop };
}

/** Pieces that a server which was killed left behind. No capture is an hour on its way from here to the database. */
export async function sweepPieces(dataSource: DataSource): Promise<void> {
  await dataSource.query(`DELETE FROM "trace_piece" WHERE "at" < now() - interval '1 hour'`);
}
