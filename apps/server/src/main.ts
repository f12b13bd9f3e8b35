import type { AddressInfo } from 'node:net';
import { newApp } from './app.ts';
import { migrate, newDataSource } from './database/dataSource.ts';
import { TuneEntity } from './database/entities.ts';
import { readSettings } from './settings.ts';
import { loadDemo } from './store/loadDemo.ts';
import { startTraceWorkers } from './traces/traceWorkers.ts';

/** Starts the server, says "listening on ADDRESS" when it can be asked, and ends in good order on SIGTERM or SIGINT. */
async function main(): Promise<void> {
  const settings = readSettings(process.env);
  const dataSource = newDataSource(settings.databaseUrl);
  await dataSource.initialize();
  await migrate(dataSource);
  const workers = startTraceWorkers();
  if (process.env.YIELD_DEMO !== 'off' && (await dataSource.getRepository(TuneEntity).count()) === 0) {
    await loadDemo(dataSource, workers, new Date());
  }
  const server = newApp(settings, dataSource, workers).listen(settings.port, settings.host);
  server.once('listening', () => {
    console.log(`listening on http://${settings.host}:${(server.address() as AddressInfo).port}`);
  });
  server.once('error', (error) => {
    console.error(error.message);
    process.exit(1);
  });

  const stop = (): void => {
    server.close();
    server.closeAllConnections();
    void Promise.allSettled([workers.close(), dataSource.destroy()]).then(() => process.exit(0));
  };
  process.once('SIGTERM', stop);
  process.once('SIGINT', stop);
}

main().catch((error: unknown) => {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
});
