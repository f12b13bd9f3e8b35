import { createHash } from 'node:crypto';
import { ConditionsSchema, LineConditionsSchema, RAW_CAPTURE_TYPES, TraceUploadQuery, VoidSchema } from '@yield/contract';
import { validateBody, type Validation } from '@yield/contract/validate';
import { ANALYSIS_VERSION, type Conditions, type LineConditions, type SweepSpec } from '@yield/core';
import express, { Router } from 'express';
import { faulty } from '../problem.ts';
import { bodyOf, idOf, queryOf, rawBytes } from '../requests.ts';
import type { ServerSettings } from '../settings.ts';
import type { TuneStore } from '../store/tuneStore.ts';
import type { TraceWorkers } from '../traces/traceWorkers.ts';

const SLICE_BYTES = 4 << 20;

/** Captures of a tune: the file as it came, and what it shows. */
export function traceRoutes(settings: ServerSettings, store: TuneStore, workers: TraceWorkers): Router {
  const router = Router({ mergeParams: true });

  router.put('/:traceId', express.raw({ type: [...RAW_CAPTURE_TYPES], limit: settings.traceLimitBytes }), async (request, response) => {
    const tuneId = idOf(request, 'tuneId');
    const id = idOf(request, 'traceId');
    const query = queryOf(TraceUploadQuery, request);
    const conditions = conditionsOf(query.stepId, query.conditions);
    const bytes = rawBytes(request);
    const { rules } = (await store.read(tuneId)).settings;
    const { fullScaleVolt, probe } = query;
    const options = {
      toneHz: conditions.toneHz,
      limitThdPercent: rules.limitThdPercent,
      ...(fullScaleVolt === undefined ? {} : { fullScaleVolt }),
      ...(probe === undefined ? {} : { probe }),
      ...sweepOf(conditions),
    };
    const analysis = await workers.analyse(bytes, options);
    const channelIndex = query.channelIndex ?? 0;
    if (channelIndex >= analysis.channels.length)
      throw faulty([{ pointer: '/channelIndex', message: `the capture has ${analysis.channels.length} channels` }]);
    const { outcome, trace } = await store.saveTrace({
      id,
      tuneId,
      stepId: query.stepId,
      fileName: query.fileName,
      contentType: request.headers['content-type'] ?? 'application/octet-stream',
      bytes,
      byteLength: bytes.length,
      sha256: createHash('sha256').update(bytes).digest('hex'),
      channelIndex,
      fullScaleVolt: fullScaleVolt ?? null,
      probe: probe ?? null,
      analysis,
      analysisVersion: ANALYSIS_VERSION,
      conditions,
      takenAt: new Date(query.takenAt),
    });
    response.status(outcome === 'stored' ? 201 : 200).json(trace);
  });

  router.get('/:traceId/file', async (request, response) => {
    const { id, byteLength, fileName } = await store.traceHead(idOf(request, 'tuneId'), idOf(request, 'traceId'));
    response.setHeader('Content-Type', 'application/octet-stream');
    response.setHeader('Content-Length', String(byteLength));
    response.attachment(fileName);
    for (let from = 0; from < byteLength; from += SLICE_BYTES) {
      const slice = await store.traceSlice(id, from, SLICE_BYTES);
      if (!response.write(slice)) await new Promise((resolve) => response.once('drain', resolve));
    }
    response.end();
  });

  router.post('/:traceId/void', express.json({ limit: settings.jsonLimitBytes }), async (request, response) => {
    await store.voidTrace(idOf(request, 'tuneId'), idOf(request, 'traceId'), bodyOf(VoidSchema, request).reason);
    response.status(204).end();
  });
  return router;
}

/** A proof's capture hangs on the amplifier, any other one on the source or the processor. */
function conditionsOf(stepId: string, text: string): Conditions | LineConditions {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw faulty([{ pointer: '/conditions', message: 'conditions are not valid JSON' }]);
  }
  const isAtAmplifier = stepId.startsWith('proof:') || stepId.startsWith('gain:');
  const validation: Validation<Conditions | LineConditions> = isAtAmplifier
    ? validateBody(ConditionsSchema, value)
    : validateBody(LineConditionsSchema, value);
  if (validation.kind === 'faulty') throw faulty(validation.faults.map((fault) => ({ ...fault, pointer: `/conditions${fault.pointer}` })));
  return validation.value;
}

function sweepOf({ sweep }: Partial<LineConditions>): { sweep?: SweepSpec } {
  return sweep === undefined ? {} : { sweep };
}
