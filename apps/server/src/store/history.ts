import { randomUUID } from 'node:crypto';
import type { HistoryRow, OperationKind } from '@yield/contract';
import type { Chain } from '@yield/core';
import type { DataSource, EntityManager } from 'typeorm';
import { notFound } from '../problem.ts';

/** Who changes something, as far as the browser says: there are no accounts. */
export interface Actor {
  who: string | null;
  /** by the client's own clock */
  clientAt: Date | null;
  /** told the tune's count of changes with each of this change's operations */
  onChange?: (changes: number) => void;
}
export const NOBODY: Actor = { who: null, clientAt: null };

/** What is put on the record of a tune. */
export interface NewOperation {
  /** made where the change was made; one is made here where none came */
  id?: string;
  kind: OperationKind;
  /** the step, the reading or the capture that it is about */
  subject?: string;
  /** what was changed, with what stood there before */
  body: object;
  /** the tune itself was edited: it comes first in the list */
  touches?: boolean;
}

/** The channel on which servers of one database tell each other that a tune changed. */
export const TUNE_CHANGED = 'yield_tune';

/**
 * One change of a tune, and its entry on the record, both or neither.
 *
 * Changes of one tune come one after the other, whichever server they reach: `work` sees the chain's present revision, and
 * nothing of the tune changes until it is through. Where it gives no operation, nothing was changed.
 *
 * @throws {Problem} 404 where the tune is not there
 */
export async function changeTune<T>(
  dataSource: DataSource,
  tuneId: string,
  actor: Actor,
  work: (manager: EntityManager, chainVersion: number) => Promise<{ result: T; operation?: NewOperation }>,
): Promise<T> {
  return dataSource.transaction(async (manager) => {
    const [row] = await manager.query<{ version: number }[]>(
      `SELECT COALESCE("chain"."version", 1) AS "version" FROM "tune" LEFT JOIN "chain" ON "chain"."tune_id" = "tune"."id"
       WHERE "tune"."id" = $1 AND "tune"."deleted_at" IS NULL FOR UPDATE OF "tune"`,
      [tuneId],
    );
    if (row === undefined) throw notFound('This tune');
    const { result, operation } = await work(manager, row.version);
    if (operation !== undefined) await record(manager, tuneId, operation, actor);
    return result;
  });
}

/** Puts an operation on the record, counts the tune's changes up, and tells every server once it is stored. */
export async function record(
  manager: EntityManager,
  tuneId: string,
  { id = randomUUID(), kind, subject, body, touches = false }: NewOperation,
  { who, clientAt, onChange }: Actor,
): Promise<void> {
  const [stored] = await manager.query<{ change: number }[]>(
    `WITH counted AS (
       UPDATE "tune" SET "changes" = "changes" + 1${touches ? ', "updated_at" = now()' : ''} WHERE "id" = $1 RETURNING "changes"
     ), added AS (
       INSERT INTO "operation" ("id", "tune_id", "kind", "subject", "body", "chain_version", "change", "client_at", "who")
       SELECT $2, $1, $3, $4, $5, COALESCE((SELECT "version" FROM "chain" WHERE "tune_id" = $1), 1), "changes", $6, $7 FROM counted
       RETURNING "change"
     )
     SELECT "change", pg_notify('${TUNE_CHANGED}', json_build_object('tuneId', $1::text, 'changes', "change")::text) FROM added`,
    [tuneId, id, kind, subject ?? null, JSON.stringify(body), clientAt, who],
  );
  if (stored !== undefined) onChange?.(stored.change);
}

/** Stores the chain's next revision beside the present one. */
export const addRevision = (manager: EntityManager, tuneId: string, version: number, body: Chain): Promise<unknown> =>
  manager.query('INSERT INTO "chain_revision" ("tune_id", "version", "body") VALUES ($1, $2, $3) ON CONFLICT DO NOTHING', [
    tuneId,
    version,
    JSON.stringify(body),
  ]);

interface Row {
  id: string;
  kind: OperationKind;
  subject: string | null;
  body: Record<string, unknown>;
  chainVersion: number;
  change: number;
  at: Date;
  clientAt: Date | null;
  who: string | null;
}

/** The record of a tune, the newest first. */
export async function historyOf(
  dataSource: DataSource,
  tuneId: string,
  { before, limit = 100 }: { before?: number; limit?: number },
): Promise<HistoryRow[]> {
  const rows = await dataSource.query<Row[]>(
    `SELECT "id", "kind", "subject", "body", "chain_version" AS "chainVersion", "change", "at", "client_at" AS "clientAt", "who"
     FROM "operation" WHERE "tune_id" = $1 AND "change" < $2 ORDER BY "change" DESC LIMIT $3`,
    [tuneId, before ?? 2_147_483_647, limit],
  );
  return rows.map(({ at, clientAt, subject, who, ...row }) => ({
    ...row,
    at: at.toISOString(),
    ...(clientAt === null ? {} : { clientAt: clientAt.toISOString() }),
    ...(subject === null ? {} : { subject }),
    ...(who === null ? {} : { who }),
  }));
}

/** The chain as it was at a revision. @throws {Problem} 404 where that revision is not on the record */
export async function revisionOf(dataSource: DataSource, tuneId: string, version: number): Promise<{ version: number; body: Chain }> {
  const [row] = await dataSource.query<{ version: number; body: Chain }[]>(
    'SELECT "version", "body" FROM "chain_revision" WHERE "tune_id" = $1 AND "version" = $2',
    [tuneId, version],
  );
  if (row === undefined) throw notFound(`Revision ${version} of the chain`);
  return row;
}

/**
 * Which parts of a tune were changed after a count of changes; undefined where the record does not hold all of them, as on a store
 * whose record began later, or where they are so many that the tune is sooner read whole.
 *
 * @param since - the count that is known, @param until - the present one
 */
export async function changedSince(
  dataSource: DataSource,
  tuneId: string,
  since: number,
  until: number,
): Promise<{ kind: OperationKind; subject: string | null }[] | undefined> {
  if (until - since > MAX_PARTS) return undefined;
  const rows = await dataSource.query<{ kind: OperationKind; subject: string | null }[]>(
    'SELECT "kind", "subject" FROM "operation" WHERE "tune_id" = $1 AND "change" > $2 AND "change" <= $3',
    [tuneId, since, until],
  );
  return rows.length === until - since ? rows : undefined;
}

/** More than this is sooner read as a whole. */
const MAX_PARTS = 200;
