import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    // Integration tests share one private cluster, each with a database of its own.
    globalSetup: ['apps/server/test/cluster.ts'],
    // A machine that does other things besides may take its time; what hangs is ended all the same.
    testTimeout: 120_000,
    hookTimeout: 60_000,
    maxWorkers: 2,
    projects: [
      {
        extends: true,
        // Pure functions leave nothing behind: their files share one load of the core.
        test: { name: 'pure', include: ['packages/*/src/**/*.test.ts'], isolate: false },
      },
      {
        extends: true,
        // As above: each file has a server and a database of its own, and reading the libraries takes longer than most of the tests.
        test: { name: 'server', include: ['apps/server/test/**/*.test.ts'], isolate: false },
      },
      {
        extends: true,
        test: { name: 'web', include: ['apps/web/src/**/*.test.{ts,tsx}'] },
      },
    ],
  },
});
