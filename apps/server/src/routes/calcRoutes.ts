import {
  CapacitorRequest,
  CrossoverFitRequest,
  CrossoverResponseRequest,
  CrossoverSumRequest,
  DelayRequest,
  DeliveredPowerRequest,
  EqualiserFitRequest,
  EqualiserResponseRequest,
  HookupRequest,
  ImpedanceRequest,
  LoadNetworkRequest,
  LoadOptionsRequest,
  MeterDiagnosisRequest,
  OverdriveRequest,
  PolarityByEarRequest,
  PowerLimitRequest,
  PulseQuery,
  RAW_CAPTURE_TYPES,
  RelativePhaseRequest,
  ResponseAverageRequest,
  SagRequest,
  SourceCeilingRequest,
  SplRequest,
  SweepQuery,
  TargetVoltageRequest,
  TraceJsonRequest,
  TraceQuery,
} from '@yield/contract';
import {
  capacitor,
  crossoverFit,
  crossoverResponse,
  crossoverSum,
  delays,
  deliveredPower,
  deliveredPowerForm,
  driverImpedance,
  equaliserResponse,
  hookup,
  loadNetwork,
  loadOptions,
  meterDiagnosis,
  overdrive,
  polarityByEar,
  powerLimit,
  relativePhase,
  responseAverage,
  sag,
  sourceCeiling,
  spl,
  targetVoltage,
} from '@yield/core';
import express, { Router } from 'express';
import { bodyOf, queryOf, rawBytes } from '../requests.ts';
import { Problem } from '../problem.ts';
import type { ServerSettings } from '../settings.ts';
import { arrivalOf } from '../traces/arriving.ts';
import { captureBody } from '../traces/captureBody.ts';
import { untilGone, type TraceWorkers } from '../traces/traceWorkers.ts';

/** Calculations: no job, no state. Each parses, calls the core and answers. */
export function calcRoutes(settings: ServerSettings, workers: TraceWorkers): Router {
  const router = Router();
  const json = express.json({ limit: settings.jsonLimitBytes, strict: false });

  router.post('/hookup', json, (request, response) => {
    response.json(hookup(bodyOf(HookupRequest, request)));
  });
  router.post('/load-network', json, (request, response) => {
    response.json(loadNetwork(bodyOf(LoadNetworkRequest, request)));
  });
  router.post('/load-options', json, (request, response) => {
    response.json(loadOptions(bodyOf(LoadOptionsRequest, request)));
  });
  router.post('/meter-diagnosis', json, (request, response) => {
    response.json(meterDiagnosis(bodyOf(MeterDiagnosisRequest, request)));
  });
  router.post('/source-ceiling', json, (request, response) => {
    response.json(sourceCeiling(bodyOf(SourceCeilingRequest, request)));
  });
  router.post('/crossover-response', json, (request, response) => {
    response.json(crossoverResponse(bodyOf(CrossoverResponseRequest, request)));
  });
  router.post('/crossover-fit', json, (request, response) => {
    response.json(crossoverFit(bodyOf(CrossoverFitRequest, request)));
  });
  router.post('/capacitor', json, (request, response) => {
    response.json(capacitor(bodyOf(CapacitorRequest, request)));
  });
  router.post('/spl', json, (request, response) => {
    response.json(spl(bodyOf(SplRequest, request)));
  });
  router.post('/target-voltage', json, (request, response) => {
    response.json(targetVoltage(bodyOf(TargetVoltageRequest, request)));
  });
  router.post('/delivered-power', json, (request, response) => {
    response.json(deliveredPower(deliveredPowerForm(bodyOf(DeliveredPowerRequest, request))));
  });
  router.post('/sag', json, (request, response) => {
    response.json(sag(bodyOf(SagRequest, request)));
  });
  router.post('/power-limit', json, (request, response) => {
    response.json(powerLimit(bodyOf(PowerLimitRequest, request)));
  });
  router.post('/overdrive', json, (request, response) => {
    response.json(overdrive(bodyOf(OverdriveRequest, request)));
  });
  router.post('/impedance', json, (request, response) => {
    response.json(driverImpedance(bodyOf(ImpedanceRequest, request)));
  });
  router.post('/relative-phase', json, (request, response) => {
    response.json(relativePhase(bodyOf(RelativePhaseRequest, request)));
  });
  router.post('/delay', json, (request, response) => {
    response.json(delays(bodyOf(DelayRequest, request)));
  });
  router.post('/crossover-sum', json, (request, response) => {
    response.json(crossoverSum(bodyOf(CrossoverSumRequest, request)));
  });
  router.post('/polarity-by-ear', json, (request, response) => {
    response.json(polarityByEar(bodyOf(PolarityByEarRequest, request)));
  });
  router.post('/response-average', json, (request, response) => {
    response.json(responseAverage(bodyOf(ResponseAverageRequest, request)));
  });
  router.post('/equaliser-response', json, (request, response) => {
    response.json(equaliserResponse(bodyOf(EqualiserResponseRequest, request)));
  });
  router.post('/equaliser-fit', json, async (request, response) => {
    response.json(await workers.run('equaliser', bodyOf(EqualiserFitRequest, request), untilGone(response)));
  });
  const recording = captureBody(RAW_CAPTURE_TYPES, settings.traceLimitBytes);
  router.post('/pulse', recording, async (request, response) => {
    response.json(await workers.run('pulse', { bytes: rawBytes(request), ...queryOf(PulseQuery, request) }, untilGone(response)));
  });
  router.post('/sweep-response', recording, async (request, response) => {
    response.json(await workers.run('sweep', { bytes: rawBytes(request), played: queryOf(SweepQuery, request) }, untilGone(response)));
  });
  const early = captureBody(RAW_CAPTURE_TYPES, settings.traceLimitBytes, true);
  router.post('/trace', express.json({ limit: settings.traceJsonLimitBytes, strict: false }), early, async (request, response) => {
    const options = queryOf(TraceQuery, request);
    const isJson = request.is('application/json') !== false && request.is('application/json') !== null;
    const bytes = isJson ? Buffer.from(bodyOf(TraceJsonRequest, request).csv) : rawBytes(request);
    response.json(await workers.run('trace', { bytes, options }, untilGone(response), arrivalOf(request)));
  });
  router.use((request) => {
    throw new Problem(404, 'Not found', `There is no calculation at ${request.originalUrl}. GET /api/v1/openapi.json lists them.`);
  });
  return router;
}
