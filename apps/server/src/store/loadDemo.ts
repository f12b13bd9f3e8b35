import { createHash } from 'node:crypto';
import { demoTunes, type DemoTune } from '@yield/bench';
import { ANALYSIS_VERSION } from '@yield/core';
import type { DataSource } from 'typeorm';
import { MarkEntity, ReadingEntity, TraceEntity, TuneEntity } from '../database/entities.ts';
import { analyseWith, type TraceWorkers } from '../traces/traceWorkers.ts';
import { insertTune } from './tuneStore.ts';

/**
 * Puts the demo tunes in that are not there; one that was put away is brought back as it was.
 *
 * @returns how many tunes were added
 */
export async function loadDemo(dataSource: DataSource, workers: TraceWorkers, now: Date): Promise<number> {
  const tunes = await demoTunes(now.getTime());
  const captures = await Promise.all(tunes.map((tune) => analysed(tune, workers)));
  // All of them or none: a start that is killed meanwhile finds an empty store again, and begins anew.
  return dataSource.transaction(async (manager) => {
    let added = 0;
    for (const [i, tune] of tunes.entries()) {
      await manager.update(TuneEntity, { id: tune.id }, { deletedAt: null });
      if (!(await insertTune(manager, tune, tune.chain))) continue;
      const tuneId = tune.id;
      if (tune.readings.length > 0)
        await manager.insert(
          ReadingEntity,
          tune.readings.map((r) => ({ ...r, tuneId, takenAt: new Date(r.takenAt), clientAt: null })),
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
        clientAt: null,
      };
    }),
  );
}
