import type { TuneListQuery, TuneListRow } from '@yield/contract';
import { SUMMARY_VERSION, type RunSummary } from '@yield/core';
import { Piscina } from 'piscina';
import { In, type DataSource } from 'typeorm';
import { ChainEntity, MarkEntity, TraceEntity, type TuneRow } from '../database/entities.ts';
import { threadCode } from '../threadCode.ts';
import { headOf, markOf, readingOf, readingRowsOf, traceOf } from './rows.ts';
import type { SummaryTask } from './summaryTask.ts';

/** So many tunes are read at once while summaries are made anew. */
const BATCH = 10;
/** So many tunes are listed where nobody says how many. */
export const USUAL_PAGE = 200;

/** What the summary of a tune was, or would be, worked out from. */
const nowOf = ({ changes }: Pick<TuneRow, 'changes'>): string => `${changes}/${SUMMARY_VERSION}`;

export interface TuneListPage {
  rows: TuneListRow[];
  /** of all that were sought, however many are on this page */
  total: number;
}

/** The list of tunes. Summaries are worked out on a thread of their own: the list of a full store never holds up a reading. */
export interface TuneList {
  page: (query: TuneListQuery) => Promise<TuneListPage>;
  /** Makes every summary that a newer version, or another server, left outdated, a few at a time. */
  renewAll: () => Promise<void>;
  close: () => Promise<void>;
}

const LEFT = `COALESCE(("summary"->>'total')::int - ("summary"->'counts'->>'done')::int - ("summary"->'counts'->>'skipped')::int, 0)`;
const ORDER = {
  changed: '"updated_at" DESC, "name" ASC',
  name: 'lower("name") ASC, "updated_at" DESC',
  open: `${LEFT} DESC, "updated_at" DESC`,
} as const;

type ListedRow = Pick<TuneRow, 'id' | 'name' | 'vehicle' | 'version' | 'updatedAt' | 'changes' | 'summary' | 'summaryOf' | 'settings'>;
const COLUMNS = `"id", "name", "vehicle", "version", "updated_at" AS "updatedAt", "changes", "summary", "summary_of" AS "summaryOf", "settings"`;

export function tuneList(dataSource: DataSource): TuneList {
  const pool = new Piscina<SummaryTask, RunSummary>({
    ...threadCode(new URL('./summaryTask', import.meta.url)),
    minThreads: 0,
    maxThreads: 1,
    idleTimeout: 120_000,
  });
  /** Thirty readers of one list ask for one summary once. */
  const making = new Map<string, Promise<RunSummary | undefined>>();

  /** The summaries of these tunes, made anew where their tune changed since. */
  async function renewed(tunes: readonly ListedRow[]): Promise<Map<string, RunSummary>> {
    const made = new Map<string, RunSummary>();
    for (let from = 0; from < tunes.length; from += BATCH) {
      const batch = tunes.slice(from, from + BATCH);
      const fresh = batch.filter((tune) => !making.has(`${tune.id}/${nowOf(tune)}`));
      if (fresh.length > 0) {
        const all = summariesOf(dataSource, pool, fresh);
        for (const tune of fresh) {
          const key = `${tune.id}/${nowOf(tune)}`;
          making.set(
            key,
            all.then((found) => found.get(tune.id)).finally(() => making.delete(key)),
          );
        }
      }
      const summaries = await Promise.all(batch.map((tune) => making.get(`${tune.id}/${nowOf(tune)}`) ?? Promise.resolve(undefined)));
      batch.forEach(({ id }, i) => {
        const summary = summaries[i];
        if (summary !== undefined) made.set(id, summary);
      });
    }
    return made;
  }

  return {
    page: async ({ search = '', sort = 'changed', limit = USUAL_PAGE, offset = 0 }) => {
      const rows = await dataSource.query<(ListedRow & { total: string })[]>(
        `SELECT ${COLUMNS}, count(*) OVER () AS "total" FROM "tune"
         WHERE "deleted_at" IS NULL AND ($1 = '' OR strpos(lower("name" || ' ' || "vehicle"), lower($1)) > 0)
         ORDER BY ${ORDER[sort]} LIMIT $2 OFFSET $3`,
        [search.trim(), limit, offset],
      );
      const fresh = await renewed(rows.filter((row) => row.summary === null || row.summaryOf !== nowOf(row)));
      return {
        total: Number(rows[0]?.total ?? 0),
        rows: rows.flatMap((row) => {
          const summary = fresh.get(row.id) ?? row.summary;
          return summary === null ? [] : [{ ...headOf(row), summary }];
        }),
      };
    },
    renewAll: async () => {
      const rows = await dataSource.query<ListedRow[]>(
        `SELECT ${COLUMNS} FROM "tune" WHERE "deleted_at" IS NULL
         AND ("summary" IS NULL OR "summary_of" IS DISTINCT FROM "changes" || '/' || $1) ORDER BY "updated_at" DESC`,
        [SUMMARY_VERSION],
      );
      await renewed(rows);
    },
    close: () => pool.destroy(),
  };
}

/** Reads a few tunes whole, works them out, and keeps what came of it. */
async function summariesOf(
  dataSource: DataSource,
  pool: Piscina<SummaryTask, RunSummary>,
  tunes: readonly ListedRow[],
): Promise<Map<string, RunSummary>> {
  const ids = tunes.map(({ id }) => id);
  const where = { tuneId: In(ids) };
  const [chains, readings, traces, marks] = await Promise.all([
    dataSource.getRepository(ChainEntity).findBy(where),
    readingRowsOf(dataSource, ids),
    dataSource.getRepository(TraceEntity).find({ where, order: { takenAt: 'ASC', storedAt: 'ASC' } }),
    dataSource.getRepository(MarkEntity).findBy(where),
  ]);
  const [readingsBy, tracesBy, marksBy] = [byTune(readings), byTune(traces), byTune(marks)];
  const made = new Map<string, RunSummary>();
  for (const tune of tunes) {
    const chain = chains.find(({ tuneId }) => tuneId === tune.id)?.body;
    if (chain === undefined) continue;
    const records = {
      readings: (readingsBy.get(tune.id) ?? []).map(readingOf),
      traces: (tracesBy.get(tune.id) ?? []).map(traceOf),
      marks: (marksBy.get(tune.id) ?? []).map(markOf),
    };
    const summary = await pool.run({ chain, settings: tune.settings, records });
    made.set(tune.id, summary);
    // Not through the repository: it would count up the tune's version. A change that came meanwhile has another number.
    await dataSource.query('UPDATE "tune" SET "summary" = $1, "summary_of" = $2 WHERE "id" = $3 AND "changes" = $4', [
      JSON.stringify(summary),
      nowOf(tune),
      tune.id,
      tune.changes,
    ]);
  }
  return made;
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
