import type { TuneDetail } from '@yield/contract';
import { EMPTY_CHAIN, type Chain } from '@yield/core';
import { type Provenance } from '@yield/sheet';
import type { TuneRow } from '../database/entities.ts';
import { headOf, markOf, markRowsOf, readingOf, readingRowsOf, traceOf, traceRowsOf, type Queried } from './rows.ts';

/** Everything that is kept of a tune but the bytes of its captures; undefined where there is no such tune, or it was put away. */
export async function wholeTune(database: Queried, id: string): Promise<TuneDetail | undefined> {
  // Its count of changes first: what is stored meanwhile comes twice then, and is never missed.
  const [tune] = await database.query<Pick<TuneRow, 'id' | 'name' | 'vehicle' | 'version' | 'updatedAt' | 'changes' | 'settings'>[]>(
    `SELECT "id", "name", "vehicle", "version", "updated_at" AS "updatedAt", "changes", "settings" FROM "tune"
     WHERE "id" = $1 AND "deleted_at" IS NULL`,
    [id],
  );
  if (tune === undefined) return undefined;
  const [[chain], readings, traces, marks, origin] = await Promise.all([
    database.query<{ version: number; body: Chain }[]>('SELECT "version", "body" FROM "chain" WHERE "tune_id" = $1', [id]),
    readingRowsOf(database, [id]),
    traceRowsOf(database, [id]),
    markRowsOf(database, [id]),
    originIn(database, id),
  ]);
  return {
    ...headOf(tune),
    ...(origin === undefined ? {} : { origin }),
    changes: tune.changes,
    settings: tune.settings,
    chain: chain ?? { version: 1, body: EMPTY_CHAIN },
    readings: readings.map(readingOf),
    traces: traces.map(traceOf),
    marks: marks.map(markOf),
  };
}

/** Where a tune comes from: who signed the archive that it came in last; undefined of a tune that was made here. */
async function originIn(database: Queried, tuneId: string): Promise<TuneDetail['origin']> {
  const [row] = await database.query<{ at: Date; provenance: Provenance | null; name: string | null }[]>(
    `SELECT "at", "body"->'provenance' AS "provenance", k."name" FROM "operation" o
     LEFT JOIN "known_key" k ON k."key" = "body"->'provenance'->>'key'
     WHERE "tune_id" = $1 AND "kind" = 'brought-in' ORDER BY "change" DESC LIMIT 1`,
    [tuneId],
  );
  if (row === undefined) return undefined;
  const { at, provenance, name } = row;
  // Named since, or by another name: the key is the same.
  const known = provenance === null || provenance.kind === 'unsigned' || name === null ? provenance : { ...provenance, name };
  return { at: at.toISOString(), provenance: known ?? { kind: 'unsigned' } };
}
