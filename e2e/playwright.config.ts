import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: '.',
  globalSetup: './demoData.ts',
  // A project each, so that each file starts on an application of its own, with an empty database.
  projects: [
    'axe',
    'screens',
    'walk',
    'crossovers',
    'source',
    'loads',
    'bad-input',
    'odd',
    'first-run',
    'slice',
    'proof',
    'gains',
    'phase',
    'response',
    'handover',
    'live',
    'offline',
  ].map((name) => ({
    name,
    testMatch: `${name}.spec.ts`,
  })),
  timeout: 240_000,
  // A machine that does other things besides may take its time; a fault is a fault after half a minute too.
  expect: { timeout: 30_000 },
  // Two cores: while two browsers draw, the third waits for a sound, a restart or a server.
  workers: 3,
  // A machine that is busy with other things may be too slow once; what needed its second try is named at the end.
  retries: process.env.CI === undefined ? 0 : 1,
  forbidOnly: process.env.CI !== undefined,
  use: {
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    // Nothing fades here that nobody looks at: a sixth of the browser's work.
    contextOptions: { reducedMotion: 'reduce' },
    // Requests that a worker answers cannot be held up by a test; the file about working without a server lets it in.
    serviceWorkers: 'block',
    actionTimeout: 20_000,
    // A trace of every test would take more time than the tests: only what failed is traced, at its second try.
    trace: 'on-first-retry',
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--no-first-run',
      ],
    },
  },
});
