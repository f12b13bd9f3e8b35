import { isDeepStrictEqual } from 'node:util';
import {
  SaveChainSchema,
  SaveTuneSchema,
  type ArchivedTune,
  type Edit,
  type HistoryRow,
  type NewReading,
  type NewTune,
  type SaveChain,
  type SavedMark,
  type SaveMark,
  type SaveTune,
  type SignedSheet,
  type SignSheet,
  type TraceInfo,
  type TuneChanges,
  type TuneDetail,
  type TuneHead,
} from '@yield/contract';
import { validateBody } from '@yield/contract/validate';
import {
  ANALYSIS_VERSION,
  chainFaults,
  changesBetween,
  conflictsOf,
  EMPTY_CHAIN,
  stepIdPattern,
  withChanges,
  withTrueLoads,
  type Chain,
  type ChainChange,
  type TuneSettings,
} from '@yield/core';
import pLimit from 'p-limit';
import { In, IsNull, LessThan, Not, type DataSource, type EntityManager } from 'typeorm';
import { ChainEntity, MarkEntity, ReadingEntity, TraceEntity, TuneEntity, type TraceRow, type TuneRow } from '../database/entities.ts';
import type { Taken } from '../clocks.ts';
import { faulty, notFound, staleSave } from '../problem.ts';
import type { Analyse } from '../traces/traceWorkers.ts';
import { addRevision, changedSince, changeTune, historyOf, NOBODY, record, revisionOf, type Actor } from './history.ts';
import { headOf, markOf, readingOf, readingRowsOf, traceOf } from './rows.ts';
import { signedSheet, signedSheets, signSheet } from './signedSheets.ts';
import type { ShopStore } from './shopStore.ts';
import { inOrder, type TakenColumns } from './takenOrder.ts';
import { inPieces } from './tracePieces.ts';
import { wholeTune } from './wholeTune.ts';

/** Bytes of a capture that are read at a time. */
export const SLICE_BYTES = 4 << 20;

/** So many tunes are read whole at once: those who look wait for each other, and whoever stores a reading finds a connection free. */
const LOOKS = 2;

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
  const look = pLimit(LOOKS);

  async function present(id: string): Promise<TuneRow> {
    const tune = await tunes.findOneBy({ id, deletedAt: IsNull() });
    if (tune === null) throw notFound('This tune');
    return tune;
  }

  const detail = async (id: string): Promise<TuneDetail> => {
    const tune = await look(() => wholeTune(dataSource, id));
    if (tune === undefined) throw notFound('This tune');
    return tune;
  };

  /** Captures that an older version judged are judged anew, from their bytes. */
  async function renewAnalyses({ id, settings }: Pick<TuneRow, 'id' | 'settings'>): Promise<void> {
    const { limitThdPercent } = settings.rules;
    const old = await traces.findBy({ tuneId: id, analysisVersion: LessThan(ANALYSIS_VERSION) });
    for (const row of old) {
      const { conditions, fullScaleVolt, probe } = row;
      const bytes = await bytesOf(row);
      // What that version could read and this one cannot keeps the figures that it has.
      const analysis = await analyse(bytes, { conditions, limitThdPercent, fullScaleVolt, probe }).catch(() => row.analysis);
      await changeTune(dataSource, id, NOBODY, async (manager) => {
        const { affected } = await manager.update(
          TraceEntity,
          { id: row.id, analysisVersion: row.analysisVersion },
          { analysis, analysisVersion: ANALYSIS_VERSION },
        );
        const body = { from: row.analysisVersion, to: ANALYSIS_VERSION };
        return { result: undefined, ...(affected === 0 ? {} : { operation: { kind: 'judged-anew', subject: row.id, body } }) };
      });
    }
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
  const voidOnce = (of: 'reading' | 'trace', where: { id: string; tuneId: string }, reason: string | null, actor: Actor): Promise<void> =>
    changeTune(dataSource, where.tuneId, actor, async (manager) => {
      const entity = of === 'reading' ? ReadingEntity : TraceEntity;
      const asFound = reason === null ? Not(IsNull()) : IsNull();
      const { affected } = await manager.update(entity, { ...where, voidedReason: asFound }, voidedAs(reason));
      if (affected === 0) {
        if (!(await manager.existsBy(entity, where))) throw notFound(of === 'reading' ? 'This reading' : 'This capture');
        return { result: undefined };
      }
      const kind = reason === null ? 'counted-again' : 'void';
      return { result: undefined, operation: { kind, subject: where.id, body: { of, ...(reason === null ? {} : { reason }) } } };
    });

  /** @throws {Problem} where the id is another tune's: a repeat of the same request finds its own */
  async function insertNew(
    tune: Pick<TuneRow, 'id' | 'name' | 'vehicle' | 'settings'>,
    chain: Chain,
    actor: Actor,
    copyOf?: string,
  ): Promise<TuneDetail> {
    if (await dataSource.transaction((manager) => insertTune(manager, tune, chain, actor, copyOf))) return detail(tune.id);
    const known = await tunes.findOneBy({ id: tune.id, name: tune.name, vehicle: tune.vehicle, deletedAt: IsNull() });
    if (known === null) throw faulty([{ pointer: '/id', message: 'another tune is stored under this id' }]);
    return detail(known.id);
  }

  async function read(id: string): Promise<TuneDetail> {
    await renewAnalyses(await present(id));
    return detail(id);
  }

  return {
    create: async ({ id, name, vehicle }: NewTune, actor = NOBODY): Promise<TuneDetail> => {
      const { settings } = await shop.read();
      return insertNew({ id, name, vehicle, settings }, EMPTY_CHAIN, actor);
    },

    /** A tune with the same chain and settings, and nothing measured yet. */
    copy: async (id: string, { id: newId, name, vehicle }: NewTune, actor = NOBODY): Promise<TuneDetail> => {
      const tune = await present(id);
      const chain = await chains.findOneBy({ tuneId: id });
      return insertNew({ id: newId, name, vehicle, settings: tune.settings }, chain?.body ?? EMPTY_CHAIN, actor, id);
    },

    /** Tunes that were put away, the last one first. */
    archive: async (): Promise<ArchivedTune[]> => {
      const rows = await tunes.find({ where: { deletedAt: Not(IsNull()) }, order: { deletedAt: 'DESC' } });
      return rows.map((row) => ({ ...headOf(row), putAwayAt: (row.deletedAt ?? row.updatedAt).toISOString() }));
    },

    read,

    sheets: async (id: string): Promise<SignedSheet[]> => {
      await present(id);
      return signedSheets(dataSource, id);
    },

    signedSheet: async (id: string, issue: number): Promise<SignedSheet> => {
      await present(id);
      return signedSheet(dataSource, id, issue);
    },

    sign: async (id: string, asked: SignSheet, actor = NOBODY): Promise<SignedSheet> => signSheet(dataSource, await read(id), asked, actor),

    /** Every capture of a tune is judged by this version. */
    ready: async (id: string): Promise<void> => renewAnalyses(await present(id)),

    /** What a capture is judged by: nothing else of the tune is read for it. */
    settings: async (id: string): Promise<TuneSettings> => {
      const tune = await tunes.findOne({ select: { id: true, settings: true }, where: { id, deletedAt: IsNull() } });
      if (tune === null) throw notFound('This tune');
      return tune.settings;
    },

    save: async (id: string, { version, name, vehicle, settings }: SaveTune, actor = NOBODY): Promise<TuneHead> =>
      changeTune(dataSource, id, actor, async (manager) => {
        const was = await manager.findOneByOrFail(TuneEntity, { id });
        if (was.version !== version) throw staleSave('This tune', { ...headOf(was), settings: was.settings });
        const changes = changesBetween(editableOf(was), { name, vehicle, settings });
        const result = headOf(await saveHead(manager, id, { name, vehicle, settings }));
        return { result, operation: { kind: 'tune', body: { changes }, touches: true } };
      }),

    /** Whoever asks again, since the answer was lost, is told the same. */
    putAway: async (id: string, actor = NOBODY): Promise<void> => {
      if (await tunes.existsBy({ id, deletedAt: Not(IsNull()) })) return;
      await changeTune(dataSource, id, actor, async (manager) => {
        await manager.update(TuneEntity, { id }, { deletedAt: new Date() });
        return { result: undefined, operation: { kind: 'put-away', body: {} } };
      });
    },

    restore: async (id: string, actor = NOBODY): Promise<void> => {
      await dataSource.transaction(async (manager) => {
        const { affected } = await manager.update(TuneEntity, { id, deletedAt: Not(IsNull()) }, { deletedAt: null });
        if (affected !== 0) await record(manager, id, { kind: 'brought-back', body: {} }, actor);
        else if (!(await manager.existsBy(TuneEntity, { id }))) throw notFound('This tune');
      });
    },

    saveChain: (tuneId: string, { version, chain }: SaveChain, actor = NOBODY): Promise<{ version: number; body: Chain }> =>
      changeTune(dataSource, tuneId, actor, async (manager) => {
        const was = await manager.findOneByOrFail(ChainEntity, { tuneId });
        if (was.version !== version) throw staleSave('The chain', { version: was.version, body: was.body });
        const result = await storeChain(manager, was, chain);
        const changes = changesBetween(was.body, chain);
        return { result, operation: { kind: 'chain', body: { seen: version, changes }, touches: true } };
      }),

    /**
     * Changes single fields of the chain, or of name, vehicle and settings, whatever else was changed meanwhile.
     *
     * @returns the record as it is now; the same edit sent again changes nothing more
     * @throws {Problem} 409 where another edit of the same field, or of what it lies in, came first; 422 where the whole is not valid with it
     */
    edit: (tuneId: string, id: string, edit: Edit, actor = NOBODY): Promise<unknown> =>
      changeTune<unknown>(dataSource, tuneId, actor, async (manager) => {
        const [known] = await manager.query<{ tuneId: string; kind: string; body: { changes: unknown } }[]>(
          'SELECT "tune_id" AS "tuneId", "kind", "body" FROM "operation" WHERE "id" = $1',
          [id],
        );
        if (
          known !== undefined &&
          !isDeepStrictEqual([known.tuneId, known.kind, known.body.changes], [tuneId, edit.kind, plain(edit.changes)])
        )
          throw faulty([{ pointer: '/id', message: 'another operation is stored under this id' }]);
        const operation = { id, kind: edit.kind, body: { seen: edit.seen, changes: edit.changes }, touches: true };
        const changes = edit.changes as ChainChange[];
        if (edit.kind === 'chain') {
          const was = await manager.findOneByOrFail(ChainEntity, { tuneId });
          const current = { version: was.version, body: was.body };
          if (known !== undefined) return { result: current };
          if (conflictsOf(was.body, changes).length > 0) throw staleSave('The chain', current);
          const chain = checkedChain(withChanges(was.body, changes));
          return { result: await storeChain(manager, was, chain), operation };
        }
        const was = await manager.findOneByOrFail(TuneEntity, { id: tuneId });
        const current = { ...headOf(was), settings: was.settings };
        if (known !== undefined) return { result: current };
        if (conflictsOf(editableOf(was), changes).length > 0) throw staleSave('This tune', current);
        const next = withChanges(editableOf(was), changes);
        const checked = validateBody(SaveTuneSchema, { version: was.version, ...next });
        if (checked.kind === 'faulty') throw faulty(checked.faults);
        const head = await saveHead(manager, tuneId, next);
        return { result: { ...headOf(head), settings: head.settings }, operation };
      }),

    /** Sent twice, it is stored once; another figure under the same id is refused, never overwritten. */
    saveReading: async (
      tuneId: string,
      id: string,
      reading: NewReading,
      taken: Taken,
      actor = NOBODY,
    ): Promise<{ outcome: StoreOutcome; takenAt: Date }> => {
      const stored = await changeTune(dataSource, tuneId, actor, async (manager, chainVersion) => {
        const columns = await inOrder(manager, tuneId, taken);
        const added = await manager
          .createQueryBuilder()
          .insert()
          .into(ReadingEntity)
          .values({ ...reading, id, tuneId, chainVersion, ...columns })
          .orIgnore()
          .returning(['id'])
          .execute();
        if ((added.raw as unknown[]).length === 0) return { result: undefined };
        const { stepId, kind, value } = reading;
        return { result: columns, operation: { kind: 'reading', subject: id, body: { stepId, kind, value } } };
      });
      // As it is stored: it may have been put after what the same device sent before it.
      if (stored !== undefined) return { outcome: 'stored', takenAt: stored.takenAt };
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
      return { outcome: 'already there', takenAt: kept.takenAt };
    },

    /**
     * How often anything of a tune was changed, and what was changed after a count.
     *
     * @param since - the count that whoever asks has seen; without it the count alone is told
     */
    changes: async (id: string, since?: number): Promise<TuneChanges> => {
      const tune = await present(id);
      const { changes } = tune;
      if (since === undefined || since >= changes) return { changes };
      const parts = await changedSince(dataSource, id, since, changes);
      if (parts === undefined) return { changes, whole: true };
      const subjects = (...kinds: HistoryRow['kind'][]): string[] => [
        ...new Set(parts.flatMap(({ kind, subject }) => (kinds.includes(kind) && subject !== null ? [subject] : []))),
      ];
      const read = <T>(ids: readonly string[], get: () => Promise<T[]>): Promise<T[]> => (ids.length === 0 ? Promise.resolve([]) : get());
      // Voids name the record alone: it is one of the two.
      const voided = subjects('void', 'counted-again');
      const readingIds = [...subjects('reading'), ...voided];
      const traceIds = [...subjects('capture', 'judged-anew'), ...voided];
      const steps = subjects('mark');
      const has = (wanted: HistoryRow['kind']): boolean => parts.some(({ kind }) => kind === wanted);
      const [readingRows, traceRows, markRows, chain] = await look(() =>
        Promise.all([
          read(readingIds, () => readingRowsOf(dataSource, [id], readingIds)),
          read(traceIds, () => traces.find({ where: { tuneId: id, id: In(traceIds) }, order: { takenAt: 'ASC', storedAt: 'ASC' } })),
          read(steps, () => marks.findBy({ tuneId: id, stepId: In(steps) })),
          has('chain') ? chains.findOneByOrFail({ tuneId: id }) : undefined,
        ]),
      );
      return {
        changes,
        ...(has('tune') ? { head: { ...headOf(tune), settings: tune.settings } } : {}),
        ...(chain === undefined ? {} : { chain: { version: chain.version, body: chain.body } }),
        ...(readingRows.length === 0 ? {} : { readings: readingRows.map(readingOf) }),
        ...(traceRows.length === 0 ? {} : { traces: traceRows.map(traceOf) }),
        ...(markRows.length === 0 ? {} : { marks: markRows.map(markOf) }),
      };
    },

    history: async (id: string, page: { before?: number; limit?: number }): Promise<HistoryRow[]> => {
      await present(id);
      return historyOf(dataSource, id, page);
    },

    revision: async (id: string, version: number): Promise<{ version: number; body: Chain }> => {
      await present(id);
      const now = await chains.findOneBy({ tuneId: id, version });
      return now === null ? revisionOf(dataSource, id, version) : { version: now.version, body: now.body };
    },

    /** @param reason - null counts it again */
    voidReading: (tuneId: string, id: string, reason: string | null, actor = NOBODY): Promise<void> =>
      voidOnce('reading', { id, tuneId }, reason, actor),

    saveMark: async (
      tuneId: string,
      stepId: string,
      { version, checks, basis, basisWords, values, skippedReason }: SaveMark,
      actor = NOBODY,
    ): Promise<SavedMark> => {
      if (!STEP_ID.test(stepId)) throw notFound('This step');
      return changeTune(dataSource, tuneId, actor, async (manager, chainVersion) => {
        const where = { tuneId, stepId };
        const was = await manager.findOneBy(MarkEntity, where);
        if ((was?.version ?? 0) !== version) {
          if (was === null) throw notFound('This step');
          throw staleSave('This step', markOf(was));
        }
        const patch = {
          checks,
          basis: basis ?? null,
          basisWords: basisWords ?? null,
          values: values ?? null,
          skippedReason: skippedReason ?? null,
          chainVersion,
        };
        if (was === null) await manager.insert(MarkEntity, { ...where, ...patch });
        else await manager.update(MarkEntity, where, patch);
        const result = markOf(await manager.findOneByOrFail(MarkEntity, where));
        const body = { ...(was === null ? {} : { before: markOf(was) }), after: result };
        return { result, operation: { kind: 'mark', subject: stepId, body } };
      });
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
      { taken, ...row }: Omit<TraceRow, 'storedAt' | 'voidedAt' | 'voidedReason' | 'chainVersion' | keyof TakenColumns> & { taken: Taken },
      actor = NOBODY,
    ): Promise<{ outcome: StoreOutcome; trace: TraceInfo }> => {
      const { id, tuneId, stepId, fileName } = row;
      const pieces = await inPieces(dataSource, row.bytes);
      const store = () =>
        changeTune<boolean>(dataSource, tuneId, actor, async (manager, chainVersion) => {
          const added = await manager
            .createQueryBuilder()
            .insert()
            .into(TraceEntity)
            .values({
              ...row,
              ...(await inOrder(manager, tuneId, taken)),
              ...(pieces === undefined ? {} : { bytes: pieces.whole }),
              chainVersion,
            })
            .orIgnore()
            .returning(['id'])
            .execute();
          if ((added.raw as unknown[]).length === 0) return { result: false };
          return { result: true, operation: { kind: 'capture', subject: id, body: { stepId, fileName } } };
        });
      let isNew: boolean;
      try {
        isNew = await store();
      } finally {
        await pieces?.drop().catch(() => undefined);
      }
      const kept = await traces.findOneByOrFail({ id });
      return { outcome: isNew ? 'stored' : 'already there', trace: traceOf(kept) };
    },

    /** @param reason - null counts it again */
    voidTrace: (tuneId: string, id: string, reason: string | null, actor = NOBODY): Promise<void> =>
      voidOnce('trace', { id, tuneId }, reason, actor),

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

const editableOf = ({ name, vehicle, settings }: Pick<TuneRow, 'name' | 'vehicle' | 'settings'>) => ({ name, vehicle, settings });

/** @throws {Problem} 422 with what is wrong in the whole, once the edit is made */
function checkedChain(chain: Chain): Chain {
  const shape = validateBody(SaveChainSchema, { version: 1, chain });
  if (shape.kind === 'faulty') throw faulty(shape.faults);
  // Loads follow from wirings: two edits that merge may have changed one each.
  const next = withTrueLoads(chain);
  const faults = chainFaults(next).map((fault) => ({ ...fault, pointer: `/chain${fault.pointer}` }));
  if (faults.length > 0) throw faulty(faults);
  return next;
}

/** Stores a chain as the next revision. The tune is locked: nobody comes in between. */
async function storeChain(
  manager: EntityManager,
  { tuneId, version, body: former }: { tuneId: string; version: number; body: Chain },
  body: Chain,
): Promise<{ version: number; body: Chain }> {
  await addRevision(manager, tuneId, version, former);
  await manager.update(ChainEntity, { tuneId }, { body });
  await addRevision(manager, tuneId, version + 1, body);
  return { version: version + 1, body };
}

async function saveHead(manager: EntityManager, id: string, next: Pick<TuneRow, 'name' | 'vehicle' | 'settings'>): Promise<TuneRow> {
  await manager.update(TuneEntity, { id }, next);
  return manager.findOneByOrFail(TuneEntity, { id });
}

/** @returns false where a tune of this id is there already */
export async function insertTune(
  manager: EntityManager,
  tune: Pick<TuneRow, 'id' | 'name' | 'vehicle' | 'settings'>,
  chain: Chain,
  actor: Actor = NOBODY,
  copyOf?: string,
): Promise<boolean> {
  const result = await manager.createQueryBuilder().insert().into(TuneEntity).values(tune).orIgnore().returning(['id']).execute();
  if ((result.raw as unknown[]).length === 0) return false;
  await manager.createQueryBuilder().insert().into(ChainEntity).values({ tuneId: tune.id, body: chain }).execute();
  await addRevision(manager, tune.id, 1, chain);
  const { id, name, vehicle } = tune;
  const operation =
    copyOf === undefined
      ? ({ kind: 'created', body: { name, vehicle } } as const)
      : ({ kind: 'copied', subject: copyOf, body: { name, vehicle } } as const);
  await record(manager, id, operation, actor);
  return true;
}
