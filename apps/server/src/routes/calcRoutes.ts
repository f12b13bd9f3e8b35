import {
  CapacitorRequest,
  CrossoverFitRequest,
  CrossoverResponseRequest,
  DeliveredPowerRequest,
  HookupRequest,
  LoadNetworkRequest,
  LoadOptionsRequest,
  MeterDiagnosisRequest,
  RAW_CAPTURE_TYPES,
  SagRequest,
  SourceCeilingRequest,
  SplRequest,
  TargetVoltageRequest,
  TraceJsonRequest,
  TraceQuery,
} from '@yield/contract';
import {
  capacitor,
  crossoverFit,
  crossoverResponse,
  deliveredPower,
  hookup,
  loadNetwork,
  loadOptions,
  meterDiagnosis,
  sag,
  sourceCeiling,
  spl,
  targetVoltage,
  type DeliveredPowerInput,
  type Fault,
} from '@yield/core';
import express, { Router } from 'express';
import type { Static } from 'typebox';
import { bodyOf, queryOf, rawBytes } from '../requests.ts';
import { faulty, Problem } from '../problem.ts';
import type { ServerSettings } from '../settings.ts';
import type { TraceWorkers } from '../traces/traceWorkers.ts';

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
  router.post(
    '/trace',
    express.json({ limit: settings.traceLimitBytes, strict: false }),
    express.raw({ type: [...RAW_CAPTURE_TYPES], limit: settings.traceLimitBytes }),
    async (request, response) => {
      const options = queryOf(TraceQuery, request);
      const isJson = request.is('application/json') !== false && request.is('application/json') !== null;
      const bytes = isJson ? Buffer.from(bodyOf(TraceJsonRequest, request).csv) : rawBytes(request);
      response.json(await workers.analyse(bytes, options));
    },
  );
  router.use((request) => {
    throw new Problem(404, 'Not found', `There is no calculation at ${request.originalUrl}. GET /api/v1/openapi.json lists them.`);
  });
  return router;
}

/** Exactly one of the three forms; fields of two of them are refused. */
function deliveredPowerForm(body: Static<typeof DeliveredPowerRequest>): DeliveredPowerInput {
  const { voltageRms, loadOhm, currentRms, impedanceOhm, phaseDeg, nominalOhm } = body;
  const shared = { voltageRms, ...(nominalOhm === undefined ? {} : { nominalOhm }) };
  const faults: Fault[] = [];
  const given = Object.entries({ loadOhm, currentRms, impedanceOhm }).filter(([, value]) => value !== undefined);
  if (given.length === 0)
    faults.push({ pointer: '/loadOhm', message: 'give the load, or the clamp current, or the impedance with its phase' });
  for (const [field] of given.slice(1)) faults.push({ pointer: `/${field}`, message: `give ${given[0]?.[0]} or ${field}, not both` });
  if (loadOhm !== undefined && phaseDeg !== undefined)
    faults.push({ pointer: '/phaseDeg', message: 'a phase goes with a current or an impedance, not with a load' });
  if (impedanceOhm !== undefined && phaseDeg === undefined)
    faults.push({ pointer: '/phaseDeg', message: 'phase is missing: an impedance needs it' });
  if (faults.length > 0) throw faulty(faults);
  if (loadOhm !== undefined) return { ...shared, loadOhm };
  if (currentRms !== undefined) return { ...shared, currentRms, ...(phaseDeg === undefined ? {} : { phaseDeg }) };
  return { ...shared, impedanceOhm: impedanceOhm ?? 0, phaseDeg: phaseDeg ?? 0 };
}
