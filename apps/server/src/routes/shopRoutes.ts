import { SaveShopSchema } from '@yield/contract';
import express, { Router } from 'express';
import { bodyOf } from '../requests.ts';
import type { ServerSettings } from '../settings.ts';
import type { ShopStore } from '../store/shopStore.ts';

/** The shop's own house rules and meter: what a new tune begins with. */
export function shopRoutes(settings: ServerSettings, store: ShopStore): Router {
  const router = Router();
  router.use(express.json({ limit: settings.jsonLimitBytes, strict: false }));
  router.get('/', async (_request, response) => {
    response.json(await store.read());
  });
  router.put('/', async (request, response) => {
    response.json(await store.save(bodyOf(SaveShopSchema, request)));
  });
  return router;
}
