// npm test: everything that has to hold, in one run, with a closing line that counts the tests that ran.
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { installDebianPackage } from './lib/packages.mjs';
import { postgresPrograms } from './lib/postgres.mjs';
import { build, checkNode, installNpmPackages, ROOT } from './lib/project.mjs';
import { run } from './lib/run.mjs';

const BROWSER = process.env.CHROMIUM ?? '/usr/bin/chromium';
const reports = mkdtempSync(path.join(os.tmpdir(), 'yield-reports-'));
const failures = [];

async function step(name, work) {
  console.log(`\n── ${name}`);
  try {
    await work();
  } catch (error) {
    failures.push(name);
    console.error(error.message);
  }
}

const tool = (name, args, options = {}) => run(path.join(ROOT, 'node_modules/.bin', name), args, { cwd: ROOT, ...options });

async function main() {
  checkNode();
  await installNpmPackages();
  await postgresPrograms();
  if (!existsSync(BROWSER)) await installDebianPackage('chromium', 'the browser for the end-to-end tests');
  await build();

  await step('Types', async () => {
    const projects = ['packages/core', 'packages/bench', 'packages/contract', 'apps/server', 'apps/web'].flatMap((folder) => [
      `${folder}/tsconfig.json`,
      `${folder}/tsconfig.test.json`,
    ]);
    for (const project of [...projects, 'apps/web/tsconfig.node.json', 'e2e/tsconfig.json']) await tool('tsc', ['-p', project]);
  });
  await step('Lint', () => tool('eslint', ['.']));
  await step('Format', () => tool('prettier', ['--check', '--log-level', 'warn', '.']));
  await step('Dependency rules', () =>
    tool('depcruise', ['--config', 'dependency-rules.cjs', '--output-type', 'err', 'packages', 'apps/server/src', 'apps/web/src']),
  );
  await step('Unused code and packages', () => tool('knip', ['--no-progress']));
  const unit = path.join(reports, 'unit.json');
  await step('Unit and integration tests', () => tool('vitest', ['run', '--reporter=dot', '--reporter=json', `--outputFile.json=${unit}`]));
  const e2e = path.join(reports, 'e2e.json');
  await step('End-to-end tests', () =>
    tool('playwright', ['test', '--config', 'e2e/playwright.config.ts', '--reporter=list,json'], {
      env: { PLAYWRIGHT_JSON_OUTPUT_NAME: e2e },
    }),
  );

  const counted = [countUnit(unit), countEndToEnd(e2e)];
  const passed = counted.reduce((sum, c) => sum + c.passed, 0);
  const failed = counted.reduce((sum, c) => sum + c.failed, 0);
  rmSync(reports, { recursive: true, force: true });
  if (failures.length > 0) console.log(`\nNot in order: ${failures.join(', ')}.`);
  console.log(`\n${passed} passed, ${failed} failed`);
  process.exitCode = failures.length > 0 || failed > 0 || passed === 0 ? 1 : 0;
}

function countUnit(file) {
  if (!existsSync(file)) return { passed: 0, failed: 0 };
  const { numPassedTests, numFailedTests } = JSON.parse(readFileSync(file, 'utf8'));
  return { passed: numPassedTests, failed: numFailedTests };
}

function countEndToEnd(file) {
  if (!existsSync(file)) return { passed: 0, failed: 0 };
  const { stats } = JSON.parse(readFileSync(file, 'utf8'));
  if (stats.flaky > 0) console.log(`\n${stats.flaky} end-to-end tests passed at the second try only: see the list above.`);
  return { passed: stats.expected + stats.flaky, failed: stats.unexpected };
}

main().catch((error) => {
  console.error(`\nThe tests could not run. ${error.message}`);
  console.log('\n0 passed, 1 failed');
  process.exit(1);
});
