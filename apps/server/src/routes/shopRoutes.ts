import { Router, type RequestHandler } from 'express';
import { bodyOf } from '../requests.ts';
import type { ShopStore } from '../store/shopStore.ts';

/** The shop's own house rules and meter: what a new tune begins with. */
export function shopRoutes(json: RequestHandler, store: ShopStore): Router {
  const router = Router();
  router.use(json);
  router.get('/', async (_request, response) => {
    response.json(await store.read());
  });
  router.put('/', async (request, response) => {
    response.json(await store.save(await bodyOf('saveShop', request)));
  });
  return router;
}
