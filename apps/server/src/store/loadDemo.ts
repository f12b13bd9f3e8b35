import { createHash } from 'node:crypto';
import { demoTunes, type DemoTune } from '@yield/bench';
import { ANALYSIS_VERSION, conditionsNow, stepsOf } from '@yield/core';
import type { DataSource } from 'typeorm';
import { MarkEntity, ReadingEntity, TraceEntity, TuneEntity } from '../database/entities.ts';
import type { TraceWorkers } from '../traces/traceWorkers.ts';
import { insertTune } from './tuneStore.ts';

/**
 * Puts the demo tunes in that are not there; one that was put away is brought back as it was.
 *
 * @returns how many tunes were added
 */
export async function loadDemo(dataSource: DataSource, workers: TraceWorkers, now: Date): Promise<number> {
  let added = 0;
  for (const tune of await demoTunes(now.getTime())) {
    await dataSource.getRepository(TuneEntity).update({ id: tune.id }, { deletedAt: null });
    const captures = await analysed(tune, workers);
    const isNew = await dataSource.transaction(async (manager) => {
      if (!(await insertTune(manager, tune, tune.chain))) return false;
      const tuneId = tune.id;
      if (tune.readings.length > 0)
        await manager.insert(
          ReadingEntity,
          tune.readings.map((r) => ({ ...r, tuneId, takenAt: new Date(r.takenAt) })),
        );
      if (tune.marks.length > 0)
        await manager.insert(
          MarkEntity,
          tune.marks.map((m) => ({ tuneId, stepId: m.stepId, checks: m.checks, basis: m.basis ?? null })),
        );
      if (captures.length > 0) await manager.insert(TraceEntity, captures);
      return true;
    });
    if (isNew) added += 1;
  }
  return added;
}

function analysed(tune: DemoTune, workers: TraceWorkers) {
  const { rules } = tune.settings;
  const steps = stepsOf(tune.chain, rules);
  return Promise.all(
    tune.captures.map(async ({ id, stepId, fileName, text, takenAt }) => {
      const step = steps.find((s) => s.id === stepId);
      if (step === undefined) throw new Error(`demo capture without a step: ${stepId}`);
      const bytes = Buffer.from(text);
      return {
        id,
        tuneId: tune.id,
        stepId,
        fileName,
        contentType: 'text/csv',
        bytes,
        byteLength: bytes.length,
        sha256: createHash('sha256').update(bytes).digest('hex'),
        channelIndex: 0,
        analysis: await workers.analyse(bytes, { toneHz: step.toneHz, limitThdPercent: rules.limitThdPercent }),
        analysisVersion: ANALYSIS_VERSION,
        conditions: conditionsNow(step, tune.chain, rules),
        takenAt: new Date(takenAt),
      };
    }),
  );
}
