import { createHash } from 'node:crypto';
import { DEMO_IDS, type DemoTune } from '@yield/bench';
import { ANALYSIS_VERSION } from '@yield/core';
import { In, IsNull, Not, type DataSource, type EntityManager } from 'typeorm';
import { MarkEntity, ReadingEntity, TraceEntity, TuneEntity } from '../database/entities.ts';
import { startThreads } from '../threads.ts';
import { analyseWith, type TraceWorkers } from '../traces/traceWorkers.ts';
import type { DemoTask } from './demoTask.ts';
import { NOBODY, record } from './history.ts';
import { insertTune } from './tuneStore.ts';

/**
 * Puts the demo tunes in that are not there; one that was put away is brought back as it was.
 *
 * @returns how many tunes were added
 */
export async function loadDemo(dataSource: DataSource, workers: TraceWorkers, now: Date): Promise<number> {
  const known = await dataSource.getRepository(TuneEntity).find({ select: { id: true, deletedAt: true }, where: { id: In(DEMO_IDS) } });
  // Made once and for all: what is only put away is brought back, and nothing is worked out again for it.
  if (known.length === DEMO_IDS.length) {
    const away = known.filter(({ deletedAt }) => deletedAt !== null);
    if (away.length > 0)
      await dataSource.transaction(async (manager) => {
        for (const { id } of away) await bringBack(manager, id);
      });
    return 0;
  }
  // Ten windows that ask at once wait for one and the same.
  const going = loading.get(dataSource);
  if (going !== undefined) return going.then(() => 0);
  const made = loadAnew(dataSource, workers, now).finally(() => loading.delete(dataSource));
  loading.set(dataSource, made);
  return made;
}

const loading = new WeakMap<DataSource, Promise<number>>();

async function loadAnew(dataSource: DataSource, workers: TraceWorkers, now: Date): Promise<number> {
  const tunes = await makeDemo(now);
  const captures = await Promise.all(tunes.map((tune) => analysed(tune, workers)));
  // All of them or none: a start that is killed meanwhile finds an empty store again, and begins anew.
  return dataSource.transaction(async (manager) => {
    let added = 0;
    for (const [i, tune] of tunes.entries()) {
      await bringBack(manager, tune.id);
      if (!(await insertTune(manager, tune, tune.chain))) continue;
      const tuneId = tune.id;
      if (tune.readings.length > 0)
        await manager.insert(
          ReadingEntity,
          tune.readings.map((r) => ({ ...r, tuneId, takenAt: new Date(r.takenAt), storedAt: new Date(r.takenAt), clientAt: null })),
        );
      if (tune.marks.length > 0)
        await manager.insert(
          MarkEntity,
          tune.marks.map((m) => ({
            tuneId,
            stepId: m.stepId,
            checks: m.checks,
            basis: m.basis ?? null,
            basisWords: m.basisWords ?? null,
            values: m.values ?? null,
          })),
        );
      if (captures[i]!.length > 0) await manager.insert(TraceEntity, captures[i]!);
      added += 1;
    }
    return added;
  });
}

/** The demo's captures take a second to work out: on a thread, which ends with it. */
async function makeDemo(now: Date): Promise<readonly DemoTune[]> {
  const threads = startThreads<DemoTask, readonly DemoTune[]>({
    code: new URL('./demoTask', import.meta.url),
    threads: 1,
    idleMs: 0,
    taskMs: 120_000,
    waiting: 0,
    words: {
      busy: 'The demo is being made. Try again in a moment.',
      tooMuch: 'The demo takes too long to make.',
      gone: 'The request was dropped before its answer was ready.',
    },
  });
  try {
    return await threads.run({ now: now.getTime() });
  } finally {
    await threads.close();
  }
}

async function bringBack(manager: EntityManager, id: string): Promise<void> {
  const { affected } = await manager.update(TuneEntity, { id, deletedAt: Not(IsNull()) }, { deletedAt: null });
  if (affected !== 0) await record(manager, id, { kind: 'brought-back', body: {} }, NOBODY);
}

function analysed(tune: DemoTune, workers: TraceWorkers) {
  const { limitThdPercent } = tune.settings.rules;
  const analyse = analyseWith(workers);
  return Promise.all(
    tune.captures.map(async ({ content, conditions, takenAt, ...capture }) => {
      const bytes = typeof content === 'string' ? Buffer.from(content) : Buffer.from(content);
      return {
        ...capture,
        tuneId: tune.id,
        bytes,
        byteLength: bytes.length,
        sha256: createHash('sha256').update(bytes).digest('hex'),
        channelIndex: 0,
        analysis: await analyse(bytes, { conditions, limitThdPercent, fullScaleVolt: null, probe: null }),
        analysisVersion: ANALYSIS_VERSION,
        conditions,
        takenAt: new Date(takenAt),
        storedAt: new Date(takenAt),
        clientAt: null,
      };
    }),
  );
}
