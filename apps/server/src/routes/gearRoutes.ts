import { Router, type RequestHandler } from 'express';
import { bodyOf, idOf } from '../requests.ts';
import type { GearStore } from '../store/gearStore.ts';

/** The gear of the shop. */
export function gearRoutes(json: RequestHandler, store: GearStore): Router {
  const router = Router();
  router.use(json);
  router.get('/', async (_request, response) => {
    response.json(await store.list());
  });
  router.put('/:gearId', async (request, response) => {
    response.json(await store.save(idOf(request, 'gearId'), await bodyOf('gear', request)));
  });
  router.delete('/:gearId', async (request, response) => {
    await store.remove(idOf(request, 'gearId'));
    response.status(204).end();
  });
  return router;
}
