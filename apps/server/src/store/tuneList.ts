import type { TuneListRow } from '@yield/contract';
import { newSituation, runOf, runSummary, SUMMARY_VERSION, type RunSummary } from '@yield/core';
import { In, IsNull, type DataSource } from 'typeorm';
import { ChainEntity, MarkEntity, TraceEntity, TuneEntity, type TuneRow } from '../database/entities.ts';
import { headOf, markOf, readingOf, readingRowsOf, traceOf } from './rows.ts';

/** So many tunes are read at once while summaries are made anew. */
const BATCH = 20;

/** What the summary of a tune was, or would be, worked out from. */
const nowOf = ({ changes }: Pick<TuneRow, 'changes'>): string => `${changes}/${SUMMARY_VERSION}`;

/**
 * All tunes with what is next and what needs attention, the one changed last first.
 *
 * The summary is kept with its tune: one query reads the list. Only of tunes that changed since is it made anew, in batches of
 * four queries, whichever server changed them.
 */
export async function listTunes(dataSource: DataSource): Promise<TuneListRow[]> {
  const rows = await dataSource
    .getRepository(TuneEntity)
    .createQueryBuilder('tune')
    .addSelect(['tune.summary', 'tune.summaryOf'])
    .where({ deletedAt: IsNull() })
    .orderBy({ 'tune.updatedAt': 'DESC', 'tune.name': 'ASC' })
    .getMany();
  const outdated = rows.filter((row) => row.summary === null || row.summaryOf !== nowOf(row));
  const renewed = new Map<string, RunSummary>();
  for (let from = 0; from < outdated.length; from += BATCH) {
    for (const [id, summary] of await renew(dataSource, outdated.slice(from, from + BATCH))) renewed.set(id, summary);
  }
  return rows.flatMap((row) => {
    const summary = renewed.get(row.id) ?? row.summary;
    return summary === null ? [] : [{ ...headOf(row), summary }];
  });
}

async function renew(dataSource: DataSource, tunes: readonly TuneRow[]): Promise<Map<string, RunSummary>> {
  const where = { tuneId: In(tunes.map(({ id }) => id)) };
  const [chains, readings, traces, marks] = await Promise.all([
    dataSource.getRepository(ChainEntity).findBy(where),
    readingRowsOf(
      dataSource,
      tunes.map(({ id }) => id),
    ),
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
    const summary = runSummary(runOf(newSituation(chain, tune.settings, records)));
    made.set(tune.id, summary);
    // Not through the repository: it would count up the tune's version. A change that came meanwhile has another number.
    await dataSource.query('UPDATE "tune" SET "summary" = $1, "summary_of" = $2 WHERE "id" = $3', [
      JSON.stringify(summary),
      nowOf(tune),
      tune.id,
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
