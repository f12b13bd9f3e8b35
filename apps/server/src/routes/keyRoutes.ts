import { Router, type RequestHandler } from 'express';
import { bodyOf } from '../requests.ts';
import type { Keys } from '../signing/keys.ts';

/** The key that this installation signs with, and the names of others' keys. */
export function keyRoutes(json: RequestHandler, keys: Keys): Router {
  const router = Router();
  router.use(json);
  router.get('/', async (_request, response) => {
    response.json(await keys.list());
  });
  router.put('/', async (request, response) => {
    const { key, name } = await bodyOf('nameKey', request);
    await keys.name(key, name);
    response.json(await keys.list());
  });
  return router;
}
