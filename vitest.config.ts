import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['packages/*/src/**/*.test.ts', 'apps/web/src/**/*.test.{ts,tsx}', 'apps/server/test/**/*.test.ts'],
    // Integration tests share one private cluster, each with a database of its own.
    globalSetup: ['apps/server/test/cluster.ts'],
    // A machine that does other things besides may take its time; what hangs is ended all the same.
    testTimeout: 120_000,
    hookTimeout: 60_000,
  },
});
