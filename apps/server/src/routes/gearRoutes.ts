import { SAVE_GEAR_SCHEMAS, SaveGearSchema, type SaveGear } from '@yield/contract';
import express, { Router } from 'express';
import { bodyOf, idOf } from '../requests.ts';
import type { ServerSettings } from '../settings.ts';
import type { GearStore } from '../store/gearStore.ts';

/** The gear of the shop. */
export function gearRoutes(settings: ServerSettings, store: GearStore): Router {
  const router = Router();
  router.use(express.json({ limit: settings.jsonLimitBytes, strict: false }));
  router.get('/', async (_request, response) => {
    response.json(await store.list());
  });
  router.put('/:gearId', async (request, response) => {
    const { kind } = (request.body ?? {}) as { kind?: unknown };
    // By its kind, so that faults speak of that kind alone.
    const schema =
      typeof kind === 'string' && Object.hasOwn(SAVE_GEAR_SCHEMAS, kind) ? SAVE_GEAR_SCHEMAS[kind as SaveGear['kind']] : SaveGearSchema;
    response.json(await store.save(idOf(request, 'gearId'), bodyOf<typeof SaveGearSchema>(schema as typeof SaveGearSchema, request)));
  });
  router.delete('/:gearId', async (request, response) => {
    await store.remove(idOf(request, 'gearId'));
    response.status(204).end();
  });
  return router;
}
