import type { OperationId } from '@yield/contract';
import compression from 'compression';
import express, { type Express, type Router } from 'express';
import expressStaticGzip from 'express-static-gzip';
import helmet from 'helmet';
import path from 'node:path';
import { noteArrival } from './clocks.ts';
import { door } from './door.ts';
import { operationsOf } from './operationRouter.ts';
import { Problem, problemHandler } from './problem.ts';
import { calcRoutes } from './routes/calcRoutes.ts';
import { eventRoutes } from './routes/eventRoutes.ts';
import { exchangeRoutes } from './routes/exchangeRoutes.ts';
import { gearRoutes } from './routes/gearRoutes.ts';
import { keyRoutes } from './routes/keyRoutes.ts';
import { serviceRoutes } from './routes/serviceRoutes.ts';
import { shopRoutes } from './routes/shopRoutes.ts';
import { traceRoutes } from './routes/traceRoutes.ts';
import { tuneRoutes } from './routes/tuneRoutes.ts';
import { jsonBody } from './json/jsonBody.ts';
import type { Parts } from './parts.ts';
import type { ServerSettings } from './settings.ts';
import { keysOf } from './signing/keys.ts';
import { gearStore } from './store/gearStore.ts';
import { shopStore } from './store/shopStore.ts';
import { tuneStore } from './store/tuneStore.ts';
import { analyseWith } from './traces/traceWorkers.ts';

/** The whole HTTP interface over a connected database, and the built web application where there is one. */
export function newApp(
  settings: ServerSettings,
  { dataSource, workers, list, events, threads, makeSheet, exporter, importer, admission }: Parts,
): Express {
  const app = express();
  app.disable('x-powered-by');
  // Whatever the environment says, no answer shows the server's inside.
  app.set('env', 'production');
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          workerSrc: ["'self'"],
          // ApexCharts sets inline styles on its drawing.
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:'],
          mediaSrc: ["'self'", 'blob:'],
          connectSrc: ["'self'"],
          objectSrc: ["'none'"],
          baseUri: ["'none'"],
          frameAncestors: ["'none'"],
        },
      },
      // Served over plain HTTP on loopback: forcing HTTPS would lock the browser out.
      strictTransportSecurity: false,
    }),
  );
  app.use(noteArrival, door(settings));
  app.use(compression());

  const analyse = analyseWith(workers);
  const shop = shopStore(dataSource);
  const store = tuneStore(dataSource, analyse, shop);
  const json = jsonBody(settings.jsonLimitBytes, threads);
  const operations: OperationId[] = [];
  const mount = (below: string, router: Router): void => {
    app.use(`/api/v1${below}`, router);
    operations.push(...operationsOf(router));
  };
  mount('/calc', calcRoutes(settings, { workers, threads, admission }));
  mount('/gear', gearRoutes(json, gearStore(dataSource)));
  mount('/keys', keyRoutes(json, keysOf(dataSource)));
  mount('/shop', shopRoutes(json, shop));
  mount('/tunes/:tuneId/traces', traceRoutes(settings, json, admission, store, analyse));
  mount('/tunes/:tuneId/events', eventRoutes(store, events));
  mount('', exchangeRoutes(settings, { dataSource, exporter, importer, makeSheet }));
  mount('/tunes', tuneRoutes(json, store, list, makeSheet));
  mount('', serviceRoutes({ dataSource, workers }));
  app.locals.operations = operations;
  app.use('/api', (request) => {
    throw new Problem('not-found', `There is nothing at ${request.originalUrl}. GET /api/v1/openapi.json lists what there is.`);
  });

  if (settings.webFolder !== undefined) serveWeb(app, settings.webFolder);
  // Also what is no address of the interface gets a problem, and not the framework's page.
  app.use((request) => {
    throw new Problem('not-found', `There is nothing at ${request.method} ${request.path}.`);
  });
  app.use(problemHandler((error) => console.error(error)));
  return app;
}

/** Hashed assets may be kept for good; the page itself is asked for anew, so that an update is seen. */
function serveWeb(app: Express, folder: string): void {
  // What the build packed as tightly as it goes travels so; everything else is packed on its way.
  const packed = { enableBrotli: true, orderPreference: ['br'], index: false as const };
  app.use(
    '/assets',
    expressStaticGzip(path.join(folder, 'assets'), { ...packed, serveStatic: { immutable: true, maxAge: '1y', fallthrough: false } }),
  );
  app.use(express.static(folder, { index: false }));
  app.get('/{*path}', (_request, response) => {
    response.sendFile('index.html', { root: folder, cacheControl: false });
  });
}
