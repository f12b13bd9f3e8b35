import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { TestProject } from 'vitest/node';
import { startCluster } from '../../../scripts/lib/postgres.mjs';

declare module 'vitest' {
  export interface ProvidedContext {
    databaseUrl: string;
  }
}

/** A private cluster for this run, thrown away at its end: nothing of it has to survive a power cut. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const home = mkdtempSync(path.join(os.tmpdir(), 'yield test '));
  const cluster = await startCluster(home, { settings: { fsync: 'off', synchronous_commit: 'off' } });
  project.provide('databaseUrl', cluster.urlOf('postgres'));
  return async () => {
    await cluster.kill();
    rmSync(home, { recursive: true, force: true });
  };
}
