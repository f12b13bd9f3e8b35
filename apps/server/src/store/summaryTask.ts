import { emptySummary, runOf, runSummary, settledSituation, SUMMARY_VERSION, type RunSummary } from '@yield/core';
import pg from 'pg';
import type { ChainRow, MarkRow, TuneRow } from '../database/entities.ts';
import { markOf, readingOf, readingRowsOf, traceOf, traceRowsOf } from './rows.ts';

export interface SummaryTask {
  databaseUrl: string;
  ids: readonly string[];
}

/** What the summary of a tune was, or would be, worked out from. */
export const summaryKey = ({ changes }: Pick<TuneRow, 'changes'>): string => `${changes}/${SUMMARY_VERSION}`;

/** A connection of the thread's own. Not through TypeORM: reading that library takes longer than the work. */
const pools = new Map<string, pg.Pool>();

function queryOn(databaseUrl: string): <T>(sql: string, parameters: unknown[]) => Promise<T> {
  let pool = pools.get(databaseUrl);
  if (pool === undefined) {
    pool = new pg.Pool({ connectionString: databaseUrl, max: 1, idleTimeoutMillis: 30_000, statement_timeout: STATEMENT_MS });
    // Whoever waits for a query is told by the query.
    pool.on('error', () => undefined);
    pools.set(databaseUrl, pool);
  }
  const own = pool;
  return async <T>(sql: string, parameters: unknown[]) => (await own.query(sql, parameters)).rows as T;
}

const STATEMENT_MS = 60_000;

/** Runs on a worker thread: reads a few tunes whole, works them out, and keeps what came of it. */
export default async function runSummaryTask({ databaseUrl, ids }: SummaryTask): Promise<Record<string, RunSummary>> {
  const query = queryOn(databaseUrl);
  const tunes = await query<Pick<TuneRow, 'id' | 'changes' | 'settings'>[]>(
    'SELECT "id", "changes", "settings" FROM "tune" WHERE "id" = ANY($1)',
    [ids],
  );
  const chains = await query<Pick<ChainRow, 'tuneId' | 'body'>[]>(
    'SELECT "tune_id" AS "tuneId", "body" FROM "chain" WHERE "tune_id" = ANY($1)',
    [ids],
  );
  const readings = await readingRowsOf({ query }, ids);
  const traces = await traceRowsOf({ query }, ids);
  const marks = await query<MarkRow[]>(
    `SELECT "tune_id" AS "tuneId", "step_id" AS "stepId", "checks", "basis", "basis_words" AS "basisWords", "values",
      "skipped_reason" AS "skippedReason", "version", "chain_version" AS "chainVersion" FROM "mark" WHERE "tune_id" = ANY($1)`,
    [ids],
  );
  const [readingsBy, tracesBy, marksBy] = [byTune(readings), byTune(traces), byTune(marks)];
  const made: Record<string, RunSummary> = {};
  const kept: { id: string; changes: number; summary_of: string; summary: RunSummary }[] = [];
  for (const tune of tunes) {
    const { id, changes, settings } = tune;
    const chain = chains.find(({ tuneId }) => tuneId === id)?.body;
    if (chain === undefined) continue;
    made[id] = summed(() =>
      settledSituation(chain, settings, {
        readings: (readingsBy.get(id) ?? []).map(readingOf),
        traces: (tracesBy.get(id) ?? []).map(traceOf),
        marks: (marksBy.get(id) ?? []).map(markOf),
      }),
    );
    kept.push({ id, changes, summary_of: summaryKey(tune), summary: made[id] });
  }
  // Not through the repository: it would count up the tune's version. A change that came meanwhile has another number.
  await query(
    `UPDATE "tune" SET "summary" = "new"."summary", "summary_of" = "new"."summary_of"
     FROM jsonb_to_recordset($1::jsonb) AS "new" ("id" uuid, "changes" integer, "summary_of" text, "summary" jsonb)
     WHERE "tune"."id" = "new"."id" AND "tune"."changes" = "new"."changes"`,
    [JSON.stringify(kept)],
  );
  return made;
}

/** A tune that cannot be worked out at all is a row that says so: the list is everybody's. */
function summed(make: () => ReturnType<typeof settledSituation>): RunSummary {
  try {
    return runSummary(runOf(make()));
  } catch {
    return { ...emptySummary(), fault: 'This tune cannot be worked out. Open its history, or export it and report it.' };
  }
}

function byTune<T extends { tuneId: string }>(rows: readonly T[]): Map<string, T[]> {
  const by = new Map<string, T[]>();
  for (const row of rows) {
    const own = by.get(row.tuneId);
    if (own === undefined) by.set(row.tuneId, [row]);
    else own.push(row);
  }
  return by;
}
