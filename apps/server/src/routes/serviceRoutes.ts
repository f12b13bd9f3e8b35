import { openApiDocument } from '@yield/contract';
import type { Router } from 'express';
import { operationRouter } from '../operationRouter.ts';
import type { Parts } from '../parts.ts';
import { loadDemo } from '../store/loadDemo.ts';

/** What is about the server itself. */
export function serviceRoutes({ dataSource, workers }: Pick<Parts, 'dataSource' | 'workers'>): Router {
  const { router, on } = operationRouter('');
  on('health', async (_request, response) => {
    await dataSource.query('SELECT 1');
    response.json({ status: 'ok' });
  });
  on('openApi', (_request, response) => {
    response.json(openApiDocument());
  });
  on('loadDemo', async (_request, response) => {
    response.json({ added: await loadDemo(dataSource, workers, new Date()) });
  });
  return router;
}
