import type { RequestHandler, Router } from 'express';
import { operationRouter } from '../operationRouter.ts';
import { bodyOf, idOf } from '../requests.ts';
import type { GearStore } from '../store/gearStore.ts';

/** The gear of the shop. */
export function gearRoutes(json: RequestHandler, store: GearStore): Router {
  const { router, on } = operationRouter('/gear');
  router.use(json);
  on('listGear', async (_request, response) => {
    response.json(await store.list());
  });
  on('saveGear', async (request, response) => {
    response.json(await store.save(idOf(request, 'gearId'), await bodyOf('gear', request)));
  });
  on('removeGear', async (request, response) => {
    await store.remove(idOf(request, 'gearId'));
    response.status(204).end();
  });
  return router;
}
