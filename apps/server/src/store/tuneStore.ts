import type {
  NewReading,
  NewTune,
  SaveChain,
  SavedMark,
  SaveMark,
  SaveTune,
  TraceInfo,
  TuneDetail,
  TuneHead,
  TuneListRow,
} from '@yield/contract';
import { DEFAULT_RULES, runSummary, STEP_ID_PATTERN, type Chain, type Meter, type Reading } from '@yield/core';
import { IsNull, type DataSource, type EntityManager } from 'typeorm';
import {
  ChainEntity,
  MarkEntity,
  ReadingEntity,
  TraceEntity,
  TuneEntity,
  type MarkRow,
  type ReadingRow,
  type TraceRow,
  type TuneRow,
} from '../database/entities.ts';
import { faulty, notFound, staleSave } from '../problem.ts';

// A plain handheld meter, until the tuner enters the figures of theirs. Common practice, no source.
const USUAL_METER: Meter = { percent: 1, digits: 3, highestHz: 400, trueRms: true };

const EMPTY_CHAIN: Chain = {
  source: { name: 'Source', volumeSteps: 40, workingVolume: 30, volumeBasis: 'assumed' },
  amplifiers: [],
  channels: [],
};

const STEP_ID = new RegExp(STEP_ID_PATTERN);

export type StoreOutcome = 'stored' | 'already there';
export type TuneStore = ReturnType<typeof tuneStore>;

/** Everything that is kept of a tune. Editable records are saved by version; readings and traces are only ever added and voided. */
export function tuneStore(dataSource: DataSource) {
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
      readings.find({ where, order: { takenAt: 'ASC' } }),
      traces.find({ where, order: { takenAt: 'ASC' } }),
      marks.findBy(where),
    ]);
    return {
      ...headOf(tune),
      settings: tune.settings,
      chain: { version: chain?.version ?? 1, body: chain?.body ?? EMPTY_CHAIN },
      readings: readingRows.map(readingOf),
      traces: traceRows.map(traceOf),
      marks: markRows.map(markOf),
    };
  }

  return {
    list: async (): Promise<TuneListRow[]> => {
      const rows = await tunes.find({ where: { deletedAt: IsNull() }, order: { updatedAt: 'DESC', name: 'ASC' } });
      return Promise.all(
        rows.map(async (tune) => {
          const { chain, settings, ...records } = await detail(tune);
          return { ...headOf(tune), summary: runSummary(chain.body, settings, records) };
        }),
      );
    },

    create: async ({ id, name, vehicle }: NewTune): Promise<TuneDetail> => {
      await dataSource.transaction((manager) =>
        insertTune(manager, { id, name, vehicle, settings: { rules: DEFAULT_RULES, meter: USUAL_METER } }, EMPTY_CHAIN),
      );
      return detail(await present(id));
    },

    read: async (id: string): Promise<TuneDetail> => detail(await present(id)),

    save: async (id: string, { version, name, vehicle, settings }: SaveTune): Promise<TuneHead> => {
      // TypeORM's save() does not compare versions; this statement does, and counts up by itself.
      const { affected } = await tunes.update({ id, version, deletedAt: IsNull() }, { name, vehicle, settings });
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
      const { affected } = await chains.update({ tuneId, version }, { body: chain });
      const now = await chains.findOneByOrFail({ tuneId });
      if (affected === 0) throw staleSave('The chain', { version: now.version, body: now.body });
      // Not through the repository: that would count up the tune's own version and refuse its open form.
      await dataSource.query('UPDATE "tune" SET "updated_at" = now() WHERE "id" = $1', [tuneId]);
      return { version: now.version, body: now.body };
    },

    /** Sent twice, it is stored once; another figure under the same id is refused, never overwritten. */
    saveReading: async (tuneId: string, id: string, reading: NewReading): Promise<StoreOutcome> => {
      await present(tuneId);
      const result = await readings
        .createQueryBuilder()
        .insert()
        .values({ ...reading, id, tuneId, takenAt: new Date(reading.takenAt) })
        .orIgnore()
        .returning(['id'])
        .execute();
      if ((result.raw as unknown[]).length > 0) return 'stored';
      const kept = await readings.findOneByOrFail({ id });
      if (kept.tuneId !== tuneId || kept.value !== reading.value || kept.stepId !== reading.stepId) {
        throw faulty([{ pointer: '/id', message: 'another reading is stored under this id' }]);
      }
      return 'already there';
    },

    voidReading: async (tuneId: string, id: string, reason: string): Promise<void> => {
      const { affected } = await readings.update({ id, tuneId }, { voidedAt: new Date(), voidedReason: reason });
      if (affected === 0) throw notFound('This reading');
    },

    saveMark: async (tuneId: string, stepId: string, { version, checks, basis, values, skippedReason }: SaveMark): Promise<SavedMark> => {
      await present(tuneId);
      if (!STEP_ID.test(stepId)) throw notFound('This step');
      const patch = { checks, basis: basis ?? null, values: values ?? null, skippedReason: skippedReason ?? null };
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
      return markOf(now);
    },

    /** Stores the bytes as they came, with their hash and the analysis. Sent twice, it is stored once. */
    saveTrace: async (
      row: Omit<TraceRow, 'storedAt' | 'voidedAt' | 'voidedReason'>,
    ): Promise<{ outcome: StoreOutcome; trace: TraceInfo }> => {
      await present(row.tuneId);
      const result = await traces.createQueryBuilder().insert().values(row).orIgnore().returning(['id']).execute();
      const kept = await traces.findOneByOrFail({ id: row.id });
      if (kept.tuneId !== row.tuneId || kept.sha256 !== row.sha256)
        throw faulty([{ pointer: '/id', message: 'another capture is stored under this id' }]);
      return { outcome: (result.raw as unknown[]).length > 0 ? 'stored' : 'already there', trace: traceOf(kept) };
    },

    voidTrace: async (tuneId: string, id: string, reason: string): Promise<void> => {
      const { affected } = await traces.update({ id, tuneId }, { voidedAt: new Date(), voidedReason: reason });
      if (affected === 0) throw notFound('This capture');
    },

    traceHead: async (tuneId: string, id: string): Promise<TraceRow> => {
      const row = await traces.findOneBy({ id, tuneId });
      if (row === null) throw notFound('This capture');
      return row;
    },

    /** A slice of the original file: a whole one of 256 MB would not fit into one text of the driver's. */
    traceSlice: async (id: string, from: number, length: number): Promise<Buffer> => {
      const rows = await dataSource.query<{ slice: Buffer }[]>(
        'SELECT substring("bytes" from $2::int for $3::int) AS "slice" FROM "trace" WHERE "id" = $1',
        [id, from + 1, length],
      );
      return rows[0]?.slice ?? Buffer.alloc(0);
    },
  };
}

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

const headOf = ({ id, name, vehicle, version, updatedAt }: TuneRow): TuneHead => ({
  id,
  name,
  vehicle,
  version,
  updatedAt: updatedAt.toISOString(),
});

const voided = (reason: string | null): { voidedReason?: string } => (reason === null ? {} : { voidedReason: reason });

function readingOf({ id, stepId, kind, value, resolution, conditions, takenAt, voidedReason }: ReadingRow): Reading {
  // Kind and conditions were checked together when the reading came in.
  return { id, stepId, kind, value, resolution, conditions, takenAt: takenAt.toISOString(), ...voided(voidedReason) } as Reading;
}

function traceOf(row: TraceRow): TraceInfo {
  const {
    id,
    stepId,
    fileName,
    channelIndex,
    analysis,
    conditions,
    takenAt,
    voidedReason,
    sha256,
    byteLength,
    analysisVersion,
    fullScaleVolt,
    probe,
  } = row;
  return {
    id,
    stepId,
    fileName,
    channelIndex,
    analysis,
    conditions,
    takenAt: takenAt.toISOString(),
    sha256,
    byteLength,
    analysisVersion,
    ...(fullScaleVolt === null ? {} : { fullScaleVolt }),
    ...(probe === null ? {} : { probe }),
    ...voided(voidedReason),
  };
}

function markOf({ stepId, checks, basis, values, skippedReason, version }: MarkRow): SavedMark {
  return {
    stepId,
    checks,
    version,
    ...(basis === null ? {} : { basis }),
    ...(values === null ? {} : { values }),
    ...(skippedReason === null ? {} : { skippedReason }),
  };
}
