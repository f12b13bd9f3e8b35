import { say } from '@yield/words';
import {
  EMPTY_CHAIN,
  emptySummary,
  runOf,
  runReport,
  runSummary,
  settledSituation,
  SUMMARY_VERSION,
  type RunSummary,
  type Situation,
} from '@yield/core';
import type { ChainRow, TuneRow } from '../database/entities.ts';
import { threadDatabase, type Query } from '../database/threadQuery.ts';
import { markOf, markRowsOf, readingOf, readingRowsOf, traceOf, traceRowsOf } from './rows.ts';
import { wholeTune } from './wholeTune.ts';
import { standBack } from '../standBack.ts';

standBack();

/** Tunes to be summed up, one whose run is to be told, or one to be told whole. */
export type SummaryTask = { databaseUrl: string } & ({ ids: readonly string[] } | { runOf: string; hasWords: boolean } | { tune: string });

/** What the summary of a tune was, or would be, worked out from. */
export const summaryKey = ({ changes }: Pick<TuneRow, 'changes'>): string => `${changes}/${SUMMARY_VERSION}`;

interface Read {
  id: string;
  changes: number;
  /** @throws where what is stored makes no tune */
  situation: () => Situation;
}

/** Everything that is stored of a few tunes. */
async function readTunes(query: Query, ids: readonly string[]): Promise<Read[]> {
  const tunes = await query<Pick<TuneRow, 'id' | 'changes' | 'settings'>[]>(
    'SELECT "id", "changes", "settings" FROM "tune" WHERE "id" = ANY($1)',
    [ids],
  );
  const chains = await query<Pick<ChainRow, 'tuneId' | 'body'>[]>(
    'SELECT "tune_id" AS "tuneId", "body" FROM "chain" WHERE "tune_id" = ANY($1)',
    [ids],
  );
  const readings = byTune(await readingRowsOf({ query }, ids));
  const traces = byTune(await traceRowsOf({ query }, ids));
  const marks = byTune(await markRowsOf({ query }, ids));
  return tunes.map(({ id, changes, settings }) => ({
    id,
    changes,
    situation: () =>
      settledSituation(chains.find(({ tuneId }) => tuneId === id)?.body ?? EMPTY_CHAIN, settings, {
        readings: (readings.get(id) ?? []).map(readingOf),
        traces: (traces.get(id) ?? []).map(traceOf),
        marks: (marks.get(id) ?? []).map(markOf),
      }),
  }));
}

/** Runs on a worker thread: reads tunes whole and works them out. @returns summaries, which are kept, or the text of one tune or run */
export default async function runSummaryTask(task: SummaryTask): Promise<Record<string, RunSummary> | string> {
  const { query } = threadDatabase(task.databaseUrl);
  if ('tune' in task) {
    const tune = await wholeTune({ query }, task.tune);
    return tune === undefined ? '' : JSON.stringify(tune);
  }
  if ('runOf' in task) {
    const [tune] = await readTunes(query, [task.runOf]);
    if (tune === undefined) return '';
    const now = tune.situation();
    return JSON.stringify(runReport(runOf(now), now, task.hasWords ? say : undefined));
  }
  return summaries(query, await readTunes(query, task.ids));
}

async function summaries(query: Query, tunes: readonly Read[]): Promise<Record<string, RunSummary>> {
  const made: Record<string, RunSummary> = {};
  const kept: { id: string; changes: number; summary_of: string; summary: RunSummary }[] = [];
  for (const { id, changes, situation } of tunes) {
    made[id] = summed(situation);
    kept.push({ id, changes, summary_of: summaryKey({ changes }), summary: made[id] });
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
function summed(make: () => Situation): RunSummary {
  try {
    return runSummary(runOf(make()), say);
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
