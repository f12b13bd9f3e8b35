import { isDeepStrictEqual } from 'node:util';
import type {
  ArchivedTune,
  NewReading,
  NewTune,
  SaveChain,
  SavedMark,
  SaveMark,
  SaveTune,
  TraceInfo,
  TuneDetail,
  TuneHead,
} from '@yield/contract';
import {
  ANALYSIS_VERSION,
  EMPTY_CHAIN,
  newSituation,
  runOf,
  runReport,
  stepIdPattern,
  type Chain,
  type RunReport,
  type TuneSettings,
} from '@yield/core';
import { IsNull, LessThan, Not, type DataSource, type EntityManager, type Repository } from 'typeorm';
import {
  ChainEntity,
  MarkEntity,
  ReadingEntity,
  TraceEntity,
  TuneEntity,
  type ReadingRow,
  type TraceRow,
  type TuneRow,
} from '../database/entities.ts';
import type { Taken } from '../clocks.ts';
import { faulty, notFound, staleSave } from '../problem.ts';
import type { Analyse } from '../traces/traceWorkers.ts';
import { headOf, markOf, readingOf, readingRowsOf, traceOf } from './rows.ts';
import type { ShopStore } from './shopStore.ts';

/** Bytes of a capture that are read at a time. */
export const SLICE_BYTES = 4 << 20;

const STEP_ID = new RegExp(stepIdPattern());

export type StoreOutcome = 'stored' | 'already there';
export type TuneStore = ReturnType<typeof tuneStore>;

/** Everything that is kept of a tune. Editable records are saved by version; readings and traces are only ever added and voided. */
export function tuneStore(dataSource: DataSource, analyse: Analyse, shop: Pick<ShopStore, 'read'>) {
  const tunes = dataSource.getRepository(TuneEntity);
  const chains = dataSource.getRepository(ChainEntity);
  const readings = dataSource.getRepository(ReadingEntity);
  const traces = dataSource.getRepository(TraceEntity);
  const marks = dataSource.getRepository(MarkEntity);

  async function present(id: string): Promise<TuneRow> {
    const tune = await tunes.findOneBy({ id, deletedAt: IsNull() });
    if (tune === null) throw notFound('This tune');
    return tune;
  }

  async function detail(tune: TuneRow): Promise<TuneDetail> {
    const where = { tuneId: tune.id };
    const [chain, readingRows, traceRows, markRows] = await Promise.all([
      chains.findOneBy(where),
      readingRowsOf(dataSource, [tune.id]),
      traces.find({ where, order: { takenAt: 'ASC', storedAt: 'ASC' } }),
      marks.findBy(where),
    ]);
    return {
      ...headOf(tune),
      changes: tune.changes,
      settings: tune.settings,
      chain: { version: chain?.version ?? 1, body: chain?.body ?? EMPTY_CHAIN },
      readings: readingRows.map(readingOf),
      traces: traceRows.map(traceOf),
      marks: markRows.map(markOf),
    };
  }

  /** A reading or a tick leaves the tune's own version alone: an open form of it is still good. */
  const changed = (manager: EntityManager, id: string, touched = false): Promise<unknown> =>
    manager.query(`UPDATE "tune" SET "changes" = "changes" + 1${touched ? ', "updated_at" = now()' : ''} WHERE "id" = $1`, [id]);

  /** Captures that an older version judged are judged anew, from their bytes. */
  async function renewAnalyses({ id, settings }: Pick<TuneRow, 'id' | 'settings'>): Promise<void> {
    const { limitThdPercent } = settings.rules;
    const old = await traces.findBy({ tuneId: id, analysisVersion: LessThan(ANALYSIS_VERSION) });
    for (const row of old) {
      const { conditions, fullScaleVolt, probe } = row;
      const bytes = await bytesOf(row);
      // What that version could read and this one cannot keeps the figures that it has.
      const analysis = await analyse(bytes, { conditions, limitThdPercent, fullScaleVolt, probe }).catch(() => row.analysis);
      await traces.update({ id: row.id }, { analysis, analysisVersion: ANALYSIS_VERSION });
    }
    if (old.length > 0) await changed(dataSource.manager, id);
  }

  async function bytesOf({ id, byteLength }: Pick<TraceRow, 'id' | 'byteLength'>): Promise<Buffer> {
    const slices: Buffer[] = [];
    for (let from = 0; from < byteLength; from += SLICE_BYTES) slices.push(await traceSlice(id, from, SLICE_BYTES));
    return Buffer.concat(slices);
  }

  /** A slice of the original file: a whole one of 256 MB would not fit into one text of the driver's. */
  async function traceSlice(id: string, from: number, length: number): Promise<Buffer> {
    const rows = await dataSource.query<{ slice: Buffer }[]>(
      'SELECT substring("bytes" from $2::int for $3::int) AS "slice" FROM "trace" WHERE "id" = $1',
      [id, from + 1, length],
    );
    return rows[0]?.slice ?? Buffer.alloc(0);
  }

  /** Voids, or counts again. What was voided stays so for the reason that was given first. */
  async function voidOnce(
    records: Repository<ReadingRow> | Repository<TraceRow>,
    where: { id: string; tuneId: string },
    reason: string | null,
    what: string,
  ): Promise<void> {
    const asFound = reason === null ? Not(IsNull()) : IsNull();
    const { affected } = await (records as Repository<ReadingRow>).update({ ...where, voidedReason: asFound }, voidedAs(reason));
    if (affected !== 0) await changed(dataSource.manager, where.tuneId);
    else if (!(await (records as Repository<ReadingRow>).existsBy(where))) throw notFound(what);
  }

  /** @throws {Problem} where the id is another tune's: a repeat of the same request finds its own */
  async function insertNew(tune: Pick<TuneRow, 'id' | 'name' | 'vehicle' | 'settings'>, chain: Chain): Promise<TuneDetail> {
    if (await dataSource.transaction((manager) => insertTune(manager, tune, chain))) return detail(await present(tune.id));
    const known = await tunes.findOneBy({ id: tune.id, name: tune.name, vehicle: tune.vehicle, deletedAt: IsNull() });
    if (known === null) throw faulty([{ pointer: '/id', message: 'another tune is stored under this id' }]);
    return detail(known);
  }

  async function read(id: string): Promise<TuneDetail> {
    const tune = await present(id);
    await renewAnalyses(tune);
    return detail(tune);
  }

  return {
    create: async ({ id, name, vehicle }: NewTune): Promise<TuneDetail> => {
      const { settings } = await shop.read();
      return insertNew({ id, name, vehicle, settings }, EMPTY_CHAIN);
    },

    /** A tune with the same chain and settings, and nothing measured yet. */
    copy: async (id: string, { id: newId, name, vehicle }: NewTune): Promise<TuneDetail> => {
      const tune = await present(id);
      const chain = await chains.findOneBy({ tuneId: id });
      return insertNew({ id: newId, name, vehicle, settings: tune.settings }, chain?.body ?? EMPTY_CHAIN);
    },

    /** Tunes that were put away, the last one first. */
    archive: async (): Promise<ArchivedTune[]> => {
      const rows = await tunes.find({ where: { deletedAt: Not(IsNull()) }, order: { deletedAt: 'DESC' } });
      return rows.map((row) => ({ ...headOf(row), putAwayAt: (row.deletedAt ?? row.updatedAt).toISOString() }));
    },

    read,

    run: async (id: string): Promise<RunReport> => {
      const { chain, settings, ...records } = await read(id);
      const now = newSituation(chain.body, settings, records);
      return runReport(runOf(now), now);
    },

    /** What a capture is judged by: nothing else of the tune is read for it. */
    settings: async (id: string): Promise<TuneSettings> => {
      const tune = await tunes.findOne({ select: { id: true, settings: true }, where: { id, deletedAt: IsNull() } });
      if (tune === null) throw notFound('This tune');
      return tune.settings;
    },

    save: async (id: string, { version, name, vehicle, settings }: SaveTune): Promise<TuneHead> => {
      // TypeORM's save() does not compare versions; this statement does, and counts up by itself.
      const { affected } = await tunes.update(
        { id, version, deletedAt: IsNull() },
        { name, vehicle, settings, changes: () => '"changes" + 1' },
      );
      const now = await present(id);
      if (affected === 0) throw staleSave('This tune', { ...headOf(now), settings: now.settings });
      return headOf(now);
    },

    putAway: async (id: string): Promise<void> => {
      await present(id);
      await tunes.update({ id }, { deletedAt: new Date() });
    },

    restore: async (id: string): Promise<void> => {
      const { affected } = await tunes.update({ id }, { deletedAt: null });
      if (affected === 0) throw notFound('This tune');
    },

    saveChain: async (tuneId: string, { version, chain }: SaveChain): Promise<{ version: number; body: Chain }> => {
      await present(tuneId);
      const affected = await dataSource.transaction(async (manager) => {
        const result = await manager.update(ChainEntity, { tuneId, version }, { body: chain });
        await changed(manager, tuneId, result.affected !== 0);
        return result.affected;
      });
      const now = await chains.findOneByOrFail({ tuneId });
      if (affected === 0) throw staleSave('The chain', { version: now.version, body: now.body });
      return { version: now.version, body: now.body };
    },

    /** Sent twice, it is stored once; another figure under the same id is refused, never overwritten. */
    saveReading: async (tuneId: string, id: string, reading: NewReading, taken: Taken): Promise<StoreOutcome> => {
      await present(tuneId);
      const isNew = await dataSource.transaction(async (manager) => {
        const result = await manager
          .createQueryBuilder()
          .insert()
          .into(ReadingEntity)
          .values({ ...reading, id, tuneId, ...taken })
          .orIgnore()
          .returning(['id'])
          .execute();
        if ((result.raw as unknown[]).length === 0) return false;
        await changed(manager, tuneId);
        return true;
      });
      if (isNew) return 'stored';
      const kept = await readings.findOneByOrFail({ id });
      const { value, stepId, kind, resolution, conditions } = kept;
      const isSame = isDeepStrictEqual(
        {
          tuneId: kept.tuneId,
          value,
          stepId,
          kind,
          resolution,
          conditions: plain(conditions),
          at: (kept.clientAt ?? kept.takenAt).getTime(),
        },
        {
          tuneId,
          value: reading.value,
          stepId: reading.stepId,
          kind: reading.kind,
          resolution: reading.resolution,
          conditions: plain(reading.conditions),
          at: taken.clientAt.getTime(),
        },
      );
      if (!isSame) {
        throw faulty([{ pointer: '/id', message: 'another reading is stored under this id' }]);
      }
      return 'already there';
    },

    /** How often anything of a tune was changed: another figure than before says that it is to be read again. */
    changes: async (id: string): Promise<number> => {
      const tune = await tunes.findOne({ select: { id: true, changes: true }, where: { id, deletedAt: IsNull() } });
      if (tune === null) throw notFound('This tune');
      return tune.changes;
    },

    /** @param reason - null counts it again */
    voidReading: async (tuneId: string, id: string, reason: string | null): Promise<void> => {
      await voidOnce(readings, { id, tuneId }, reason, 'This reading');
    },

    saveMark: async (
      tuneId: string,
      stepId: string,
      { version, checks, basis, basisWords, values, skippedReason }: SaveMark,
    ): Promise<SavedMark> => {
      await present(tuneId);
      if (!STEP_ID.test(stepId)) throw notFound('This step');
      const patch = {
        checks,
        basis: basis ?? null,
        basisWords: basisWords ?? null,
        values: values ?? null,
        skippedReason: skippedReason ?? null,
      };
      const saved =
        version === 0
          ? (
              (
                await marks
                  .createQueryBuilder()
                  .insert()
                  .values({ tuneId, stepId, ...patch })
                  .orIgnore()
                  .returning(['version'])
                  .execute()
              ).raw as unknown[]
            ).length > 0
          : ((await marks.update({ tuneId, stepId, version }, patch)).affected ?? 0) > 0;
      const now = await marks.findOneBy({ tuneId, stepId });
      if (now === null) throw notFound('This step');
      if (!saved) throw staleSave('This step', markOf(now));
      await changed(dataSource.manager, tuneId);
      return markOf(now);
    },

    /** The capture that is stored under this id, where it is this one. @throws {Problem} where it is another one */
    sameTrace: async (
      tuneId: string,
      id: string,
      sha256: string,
      upload: Pick<TraceRow, 'stepId' | 'conditions' | 'fullScaleVolt' | 'probe'>,
    ): Promise<TraceInfo | undefined> => {
      const kept = await traces.findOneBy({ id });
      if (kept === null) return undefined;
      const { stepId, conditions, fullScaleVolt, probe } = kept;
      const isSame = isDeepStrictEqual(plain({ stepId, conditions, fullScaleVolt, probe }), plain(upload));
      if (kept.tuneId !== tuneId || kept.sha256 !== sha256 || !isSame)
        throw faulty([{ pointer: '/id', message: 'another capture is stored under this id' }]);
      return traceOf(kept);
    },

    /** Stores the bytes as they came, with their hash and the analysis. Sent twice, it is stored once. */
    saveTrace: async (
      row: Omit<TraceRow, 'storedAt' | 'voidedAt' | 'voidedReason'>,
    ): Promise<{ outcome: StoreOutcome; trace: TraceInfo }> => {
      const isNew = await dataSource.transaction(async (manager) => {
        const result = await manager.createQueryBuilder().insert().into(TraceEntity).values(row).orIgnore().returning(['id']).execute();
        if ((result.raw as unknown[]).length === 0) return false;
        await changed(manager, row.tuneId);
        return true;
      });
      const kept = await traces.findOneByOrFail({ id: row.id });
      return { outcome: isNew ? 'stored' : 'already there', trace: traceOf(kept) };
    },

    /** @param reason - null counts it again */
    voidTrace: async (tuneId: string, id: string, reason: string | null): Promise<void> => {
      await voidOnce(traces, { id, tuneId }, reason, 'This capture');
    },

    traceHead: async (tuneId: string, id: string): Promise<TraceRow> => {
      const row = await traces.findOneBy({ id, tuneId });
      if (row === null) throw notFound('This capture');
      return row;
    },

    traceSlice,
  };
}

/** Fields that are undefined, or in another order, are not stored otherwise. */
const plain = (value: unknown): unknown => JSON.parse(JSON.stringify(value));

const voidedAs = (reason: string | null): { voidedAt: Date | null; voidedReason: string | null } => ({
  voidedAt: reason === null ? null : new Date(),
  voidedReason: reason,
});

export async function insertTune(
  manager: EntityManager,
  tune: Pick<TuneRow, 'id' | 'name' | 'vehicle' | 'settings'>,
  chain: Chain,
): Promise<boolean> {
  const result = await manager.createQueryBuilder().insert().into(TuneEntity).values(tune).orIgnore().returning(['id']).execute();
  if ((result.raw as unknown[]).length === 0) return false;
  await manager.createQueryBuilder().insert().into(ChainEntity).values({ tuneId: tune.id, body: chain }).execute();
  return true;
}
