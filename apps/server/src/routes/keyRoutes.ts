import type { RequestHandler, Router } from 'express';
import { operationRouter } from '../operationRouter.ts';
import { bodyOf } from '../requests.ts';
import type { Keys } from '../signing/keys.ts';

/** The key that this installation signs with, and the names of others' keys. */
export function keyRoutes(json: RequestHandler, keys: Keys): Router {
  const { router, on } = operationRouter('/keys');
  router.use(json);
  on('listKeys', async (_request, response) => {
    response.json(await keys.list());
  });
  on('nameKey', async (request, response) => {
    const { key, name } = await bodyOf('nameKey', request);
    await keys.name(key, name);
    response.json(await keys.list());
  });
  return router;
}
