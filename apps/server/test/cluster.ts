import type { TestProject } from 'vitest/node';
import { startThrowawayCluster } from '../../../scripts/lib/postgres.mjs';

declare module 'vitest' {
  export interface ProvidedContext {
    databaseUrl: string;
  }
}

/** One private cluster for this run; every test file makes a database of its own in it. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const cluster = await startThrowawayCluster();
  project.provide('databaseUrl', cluster.urlOf('postgres'));
  return () => cluster.remove();
}
