import type { RequestHandler, Router } from 'express';
import { operationRouter } from '../operationRouter.ts';
import { bodyOf } from '../requests.ts';
import type { ShopStore } from '../store/shopStore.ts';

/** The shop's own house rules and meter: what a new tune begins with. */
export function shopRoutes(json: RequestHandler, store: ShopStore): Router {
  const { router, on } = operationRouter('/shop');
  router.use(json);
  on('readShop', async (_request, response) => {
    response.json(await store.read());
  });
  on('saveShop', async (request, response) => {
    response.json(await store.save(await bodyOf('saveShop', request)));
  });
  return router;
}
