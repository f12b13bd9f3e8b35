import { PulseQuery, RAW_CAPTURE_TYPES, SweepQuery, TraceQuery } from '@yield/contract';
import type { Router } from 'express';
import { operationAt, operationRouter } from '../operationRouter.ts';
import { CALCULATIONS, type CalculationName } from '../json/calculations.ts';
import { jsonBody } from '../json/jsonBody.ts';
import type { Parts } from '../parts.ts';
import { Problem } from '../problem.ts';
import { bodyOf, calculated, queryOf, rawBytes } from '../requests.ts';
import type { ServerSettings } from '../settings.ts';
import { arrivalOf } from '../traces/arriving.ts';
import { captureBody } from '../traces/captureBody.ts';
import { untilGone } from '../untilGone.ts';

/** Calculations: no job, no state. Each parses, calls the core and answers. */
export function calcRoutes(
  settings: ServerSettings,
  { workers, threads, admission }: Pick<Parts, 'workers' | 'threads' | 'admission'>,
): Router {
  const { router, on } = operationRouter('/calc');
  const json = jsonBody(settings.jsonLimitBytes, threads);

  for (const name of Object.keys(CALCULATIONS) as CalculationName[])
    on(operationAt(`/calc/${name}`), json, async (request, response) => {
      response.type('application/json').send(await calculated(name, request));
    });
  on('equaliserFit', json, async (request, response) => {
    response.json(await workers.run('equaliser', await bodyOf('equaliserFit', request), untilGone(response)));
  });
  const recording = captureBody(RAW_CAPTURE_TYPES, settings.traceLimitBytes, admission);
  on('pulse', recording, async (request, response) => {
    response.json(await workers.run('pulse', { bytes: rawBytes(request), ...queryOf(PulseQuery, request) }, untilGone(response)));
  });
  on('sweepResponse', recording, async (request, response) => {
    response.json(await workers.run('sweep', { bytes: rawBytes(request), played: queryOf(SweepQuery, request) }, untilGone(response)));
  });
  const early = captureBody(RAW_CAPTURE_TYPES, settings.traceLimitBytes, admission, true);
  on('trace', jsonBody(settings.traceJsonLimitBytes, threads), early, async (request, response) => {
    const options = queryOf(TraceQuery, request);
    const isJson = request.is('application/json') !== false && request.is('application/json') !== null;
    const bytes = isJson ? Buffer.from((await bodyOf('traceJson', request)).csv) : rawBytes(request);
    response.json(await workers.run('trace', { bytes, options }, untilGone(response), arrivalOf(request)));
  });
  router.use((request) => {
    throw new Problem('not-found', `There is no calculation at ${request.originalUrl}. GET /api/v1/openapi.json lists them.`);
  });
  return router;
}
