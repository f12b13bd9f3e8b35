import type { TuneListQuery, TuneListRow } from '@yield/contract';
import { emptySummary, SUMMARY_VERSION, type RunSummary } from '@yield/core';
import os from 'node:os';
import pLimit from 'p-limit';
import type { DataSource } from 'typeorm';
import type { TuneRow } from '../database/entities.ts';
import { startThreads } from '../threads.ts';
import { headOf } from './rows.ts';
import { summaryKey, type SummaryTask } from './summaryTask.ts';

/** So many tunes are read at once while summaries are made anew; beside the work fewer, so that whoever asks waits for less. */
const BATCH = { asked: 4, beside: 4 };
const THREADS = Math.max(1, Math.min(4, os.availableParallelism()));
/** A list does not wait longer for summaries: what is missing by then comes with the next look. */
const PATIENCE_MS = 1600;
/** So many pages are read at once, so that connections stay free for whoever stores something. */
const PAGES = 2;
/** So many tunes are listed where nobody says how many. */
export const USUAL_PAGE = 200;

export interface TuneListPage {
  rows: TuneListRow[];
  /** of all that were sought, however many are on this page */
  total: number;
  /** rows of this page whose summary is still being worked out */
  pending: number;
}

/** The list of tunes. Summaries are worked out on a thread of their own: the list of a full store never holds up a reading. */
export interface TuneList {
  page: (query: TuneListQuery) => Promise<TuneListPage>;
  /** Makes every summary that a newer version, or another server, left outdated, a few at a time. */
  renewAll: () => Promise<void>;
  /** The run of a tune as text, worked out beside everything else; undefined where there is no such tune. */
  run: (id: string, hasWords: boolean) => Promise<string | undefined>;
  /** A tune whole, as text, put together beside everything else; undefined where there is no such tune. */
  tune: (id: string) => Promise<string | undefined>;
  close: () => Promise<void>;
}

const LEFT = `COALESCE(("summary"->>'total')::int - ("summary"->'counts'->>'done')::int - ("summary"->'counts'->>'skipped')::int, 0)`;
const ORDER = {
  changed: '"updated_at" DESC, "name" ASC',
  name: 'lower("name") ASC, "updated_at" DESC',
  open: `${LEFT} DESC, "updated_at" DESC`,
} as const;

type ListedRow = Pick<TuneRow, 'id' | 'name' | 'vehicle' | 'version' | 'updatedAt' | 'changes' | 'summary' | 'summaryOf'>;
const COLUMNS = `"id", "name", "vehicle", "version", "updated_at" AS "updatedAt", "changes", "summary", "summary_of" AS "summaryOf"`;

export function tuneList(dataSource: DataSource, databaseUrl: string, patienceMs = PATIENCE_MS): TuneList {
  const threads = startThreads<SummaryTask, Record<string, RunSummary> | string>({
    code: new URL('./summaryTask', import.meta.url),
    threads: THREADS,
    idleMs: 120_000,
    taskMs: 120_000,
    waiting: Infinity,
    words: {
      busy: 'Too many summaries wait.',
      tooMuch: 'These tunes take too long to sum up.',
      gone: 'The request was dropped before its answer was ready.',
    },
  });
  /** Thirty readers of one list ask for one summary once. */
  const making = new Map<string, Promise<RunSummary | undefined>>();

  /** Has the summaries of these tunes made, unless they are being made already. @returns those of all of them, each by and by */
  function make(tunes: readonly ListedRow[], batch: number): Map<string, Promise<RunSummary | undefined>> {
    const keyOf = (tune: ListedRow): string => `${tune.id}/${summaryKey(tune)}`;
    const fresh = tunes.filter((tune) => !making.has(keyOf(tune)));
    for (let from = 0; from < fresh.length; from += batch) {
      const some = fresh.slice(from, from + batch);
      const made = threads.run({ databaseUrl, ids: some.map(({ id }) => id) });
      for (const tune of some)
        making.set(
          keyOf(tune),
          made.then((all) => (all as Record<string, RunSummary>)[tune.id]).finally(() => making.delete(keyOf(tune))),
        );
    }
    return new Map(tunes.map((tune) => [tune.id, making.get(keyOf(tune))!]));
  }

  const look = pLimit(PAGES);

  const told = async (task: SummaryTask): Promise<string | undefined> => {
    const text = (await threads.run(task, undefined, { isFollowing: true })) as string;
    return text === '' ? undefined : text;
  };

  return {
    page: async ({ search = '', sort = 'changed', limit = USUAL_PAGE, offset = 0 }) => {
      const rows = await look(() =>
        dataSource.query<(ListedRow & { total: string })[]>(
          `SELECT ${COLUMNS}, count(*) OVER () AS "total" FROM "tune"
         WHERE "deleted_at" IS NULL AND ($1 = '' OR strpos(lower("name" || ' ' || "vehicle"), lower($1)) > 0)
         ORDER BY ${ORDER[sort]} LIMIT $2 OFFSET $3`,
          [search.trim(), limit, offset],
        ),
      );
      const fresh = await madeWithin(make(rows.filter(isOutdated), BATCH.asked), patienceMs);
      const listed = rows.map((row): TuneListRow => {
        if (!isOutdated(row)) return { ...headOf(row), summary: row.summary ?? emptySummary() };
        const own = fresh.get(row.id);
        return own === undefined
          ? { ...headOf(row), summary: row.summary ?? emptySummary(), isPending: true }
          : { ...headOf(row), summary: own };
      });
      return { total: Number(rows[0]?.total ?? 0), rows: listed, pending: listed.filter(({ isPending }) => isPending === true).length };
    },
    renewAll: async () => {
      const rows = await dataSource.query<ListedRow[]>(
        `SELECT ${COLUMNS} FROM "tune" WHERE "deleted_at" IS NULL
         AND ("summary" IS NULL OR "summary_of" IS DISTINCT FROM "changes" || '/' || $1) ORDER BY "updated_at" DESC`,
        [SUMMARY_VERSION],
      );
      // So few at a time that whoever asks for a page is next.
      const atOnce = BATCH.beside * THREADS;
      for (let from = 0; from < rows.length; from += atOnce)
        await Promise.allSettled(make(rows.slice(from, from + atOnce), BATCH.beside).values());
    },
    run: (id, hasWords) => told({ databaseUrl, runOf: id, hasWords }),
    tune: (id) => told({ databaseUrl, tune: id }),
    close: threads.close,
  };
}

const isOutdated = (row: ListedRow): boolean => row.summary === null || row.summaryOf !== summaryKey(row);

/** What of it is there within so many milliseconds; one that fails holds up no other. */
async function madeWithin(asked: ReadonlyMap<string, Promise<RunSummary | undefined>>, ms: number): Promise<Map<string, RunSummary>> {
  const made = new Map<string, RunSummary>();
  const all = [...asked].map(async ([id, coming]) => {
    const summary = await coming.catch(() => undefined);
    if (summary !== undefined) made.set(id, summary);
  });
  let timer: ReturnType<typeof setTimeout> | undefined;
  const patience = new Promise<void>((resolve) => {
    timer = setTimeout(resolve, ms);
  });
  await Promise.race([Promise.all(all), patience]);
  clearTimeout(timer);
  return new Map(made);
}
