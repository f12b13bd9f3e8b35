import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { CONDITIONS_SCHEMAS, RAW_CAPTURE_TYPES, TraceUploadQuery } from '@yield/contract';
import { validateBody, type Validation } from '@yield/contract/validate';
import { ANALYSIS_VERSION, captureIntake, type CaptureConditions } from '@yield/core';
import type { RequestHandler, Router } from 'express';
import { operationRouter } from '../operationRouter.ts';
import { takenBy } from '../clocks.ts';
import { releaseMemory } from '../releaseMemory.ts';
import { faulty, notFound } from '../problem.ts';
import { actorOf, bodyOf, idOf, queryOf, rawBytes } from '../requests.ts';
import type { ServerSettings } from '../settings.ts';
import { SLICE_BYTES, type TuneStore } from '../store/tuneStore.ts';
import type { Admission } from '../traces/admission.ts';
import { bodyHash, captureBody } from '../traces/captureBody.ts';
import type { Analyse } from '../traces/traceWorkers.ts';
import { untilGone } from '../untilGone.ts';

/** Captures of a tune: the file as it came, and what it shows. */
export function traceRoutes(
  settings: ServerSettings,
  json: RequestHandler,
  admission: Admission,
  store: TuneStore,
  analyse: Analyse,
): Router {
  const { router, on } = operationRouter('/tunes/{tuneId}/traces');

  on('saveTrace', captureBody(RAW_CAPTURE_TYPES, settings.traceLimitBytes, admission), async (request, response) => {
    const tuneId = idOf(request, 'tuneId');
    const id = idOf(request, 'traceId');
    const query = queryOf(TraceUploadQuery, request);
    const conditions = conditionsOf(query.stepId, query.conditions);
    const taken = takenBy(request, query.takenAt);
    const bytes = rawBytes(request);
    // The length alone: what waits for the end would hold the bytes themselves.
    const { length } = bytes;
    response.once('close', () => releaseMemory(length));
    const { rules } = await store.settings(tuneId);
    const sha256 = bodyHash(request);
    const [fullScaleVolt, probe] = [query.fullScaleVolt ?? null, query.probe ?? null];
    const known = await store.sameTrace(tuneId, id, sha256, { stepId: query.stepId, conditions, fullScaleVolt, probe });
    if (known !== undefined) {
      response.json(known);
      return;
    }
    const analysis = await analyse(
      bytes,
      { conditions, limitThdPercent: rules.limitThdPercent, fullScaleVolt, probe },
      untilGone(response),
    );
    const channelIndex = query.channelIndex ?? 0;
    if (channelIndex >= analysis.channels.length)
      throw faulty([{ pointer: '/channelIndex', message: `the capture has ${analysis.channels.length} channels` }]);
    const { outcome, trace } = await store.saveTrace(
      {
        id,
        tuneId,
        stepId: query.stepId,
        fileName: query.fileName,
        contentType: request.headers['content-type'] ?? 'application/octet-stream',
        bytes,
        byteLength: bytes.length,
        sha256,
        channelIndex,
        fullScaleVolt,
        probe,
        analysis,
        analysisVersion: ANALYSIS_VERSION,
        conditions,
        taken,
      },
      actorOf(request),
    );
    response.status(outcome === 'stored' ? 201 : 200).json(trace);
  });

  on('readTracePlace', (request, response) => {
    const place = admission.placeOf(idOf(request, 'traceId'));
    if (place === undefined) throw notFound('A capture of this id that waits');
    response.json(place);
  });

  on('readTraceFile', async (request, response) => {
    const { id, byteLength, fileName } = await store.traceHead(idOf(request, 'tuneId'), idOf(request, 'traceId'));
    response.attachment(fileName);
    // After the name, which would have the browser show what somebody else sent as the page that its ending says.
    response.setHeader('Content-Type', 'application/octet-stream');
    response.setHeader('Content-Length', String(byteLength));
    const slices = async function* (): AsyncGenerator<Buffer> {
      for (let from = 0; from < byteLength; from += SLICE_BYTES) yield await store.traceSlice(id, from, SLICE_BYTES);
    };
    // Ends with its reader: one that goes away takes no further slice.
    await pipeline(Readable.from(slices(), { highWaterMark: 1 }), response).catch((error: unknown) => {
      if (!response.destroyed) throw error;
    });
  });

  on('voidTrace', json, async (request, response) => {
    await store.voidTrace(idOf(request, 'tuneId'), idOf(request, 'traceId'), (await bodyOf('void', request)).reason, actorOf(request));
    response.status(204).end();
  });

  on('restoreTrace', async (request, response) => {
    await store.voidTrace(idOf(request, 'tuneId'), idOf(request, 'traceId'), null, actorOf(request));
    response.status(204).end();
  });
  return router;
}

/** What held, as the step's kind asks for it. */
function conditionsOf(stepId: string, text: string): CaptureConditions {
  const intake = captureIntake(stepId);
  if (intake === undefined) throw faulty([{ pointer: '/stepId', message: 'this step takes no captures' }]);
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw faulty([{ pointer: '/conditions', message: 'conditions are not valid JSON' }]);
  }
  const validation: Validation<CaptureConditions> = validateBody(CONDITIONS_SCHEMAS[intake.at], value);
  if (validation.kind === 'faulty') throw faulty(validation.faults.map((fault) => ({ ...fault, pointer: `/conditions${fault.pointer}` })));
  return validation.value;
}
