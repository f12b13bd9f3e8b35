// npm test: everything that has to hold, in one run, with a closing line that counts the tests that ran.
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { installDebianPackage } from './lib/packages.mjs';
import { postgresPrograms } from './lib/postgres.mjs';
import { build, checkNode, installNpmPackages, ROOT, SERVER_MAIN } from './lib/project.mjs';
import { isRoot, run } from './lib/run.mjs';

const BROWSER = process.env.CHROMIUM ?? '/usr/bin/chromium';
/** The same without windows, which nobody looks at here: a sixth of the time. */
const WINDOWLESS = '/usr/bin/chromium-headless-shell';
const reports = mkdtempSync(path.join(os.tmpdir(), 'yield-reports-'));
const failures = [];
const durations = [];

/** A step under a heading of its own. */
async function step(name, work) {
  console.log(`\n── ${name}`);
  await timed(name, work);
}

async function timed(name, work) {
  const startMs = performance.now();
  try {
    await work();
  } catch (error) {
    failures.push(name);
    console.error(`${name}: ${error.message}`);
  }
  durations.push({ name, seconds: (performance.now() - startMs) / 1000 });
}

const tool = (name, args, options = {}) => run(path.join(ROOT, 'node_modules/.bin', name), args, { cwd: ROOT, ...options });

const FOLDERS = ['packages', 'apps/server/src', 'apps/web/src'];
/** The pure core without Node or the browser, the web application, and all else in one. */
const PROJECTS = ['packages/core/tsconfig.json', 'tsconfig.json', 'apps/web/tsconfig.json'];

const quiet = (name, args) => tool(name, args, { quiet: true });

/** What needs no application to run: one after the other, beside the unit tests, which leave a core to spare while they wait. */
async function staticChecks() {
  await timed('Types', async () => {
    for (const project of PROJECTS) await quiet('tsgo', ['-p', project]);
  });
  await timed('Lint', async () => {
    await quiet('oxlint', ['--type-aware', '--quiet', '.']);
  });
  await timed('Format', () => quiet('oxfmt', ['--check', '.']));
  await timed('Dependency rules', async () => {
    for (const rules of ['dependency-rules.cjs', 'folder-rules.cjs'])
      await quiet('depcruise', ['--config', rules, '--output-type', 'err', ...FOLDERS]);
  });
  await timed('Unused code and packages', () => quiet('knip', ['--no-progress']));
}

/** The browser without windows where there is one or where it can be installed by itself, else the one with windows. */
async function quickBrowser() {
  if (process.env.CHROMIUM !== undefined) return process.env.CHROMIUM;
  if (!existsSync(WINDOWLESS) && isRoot())
    await installDebianPackage('chromium-headless-shell', 'a browser without windows, which is quicker').catch(() => undefined);
  return existsSync(WINDOWLESS) ? WINDOWLESS : BROWSER;
}

async function main() {
  checkNode();
  await timed('Packages', installNpmPackages);
  await postgresPrograms();
  if (!existsSync(BROWSER)) await installDebianPackage('chromium', 'the browser for the end-to-end tests');
  const browser = await quickBrowser();
  if (!existsSync('/usr/bin/pdftotext')) await installDebianPackage('poppler-utils', 'the programs that read the sheets back');
  await timed('Build', build);

  const unit = path.join(reports, 'unit.json');
  await step('Types, lint, format, dependency rules and unused code; unit and integration tests', () =>
    Promise.all([
      staticChecks(),
      timed('Unit and integration tests', () =>
        tool('vitest', ['run', '--reporter=dot', '--reporter=json', `--outputFile.json=${unit}`], {
          env: { YIELD_BUILT_SERVER: path.dirname(SERVER_MAIN) },
        }),
      ),
    ]),
  );
  const e2e = path.join(reports, 'e2e.json');
  await step('End-to-end tests', () =>
    tool('playwright', ['test', '--config', 'e2e/playwright.config.ts', '--reporter=list,json'], {
      env: { PLAYWRIGHT_JSON_OUTPUT_NAME: e2e, CHROMIUM: browser, CHROMIUM_WITH_WINDOWS: BROWSER },
    }),
  );

  const counted = [countUnit(unit), countEndToEnd(e2e)];
  const passed = counted.reduce((sum, c) => sum + c.passed, 0);
  const failed = counted.reduce((sum, c) => sum + c.failed, 0);
  tellDurations([...fileDurations(unit), ...projectDurations(e2e)]);
  rmSync(reports, { recursive: true, force: true });
  if (failures.length > 0) console.log(`\nNot in order: ${failures.join(', ')}.`);
  console.log(`\n${passed} passed, ${failed} failed`);
  process.exitCode = failures.length > 0 || failed > 0 || passed === 0 ? 1 : 0;
}

/** Where the time went: the steps, and the ten test files that took longest. */
function tellDurations(files) {
  const line = ({ name, seconds }) => `${seconds.toFixed(0).padStart(6)} s  ${name}`;
  const longest = files.sort((a, b) => b.seconds - a.seconds).slice(0, 10);
  console.log(`\nThe steps took\n${durations.map(line).join('\n')}\nThe longest test files\n${longest.map(line).join('\n')}`);
}

function fileDurations(file) {
  if (!existsSync(file)) return [];
  const { testResults } = JSON.parse(readFileSync(file, 'utf8'));
  return testResults.map(({ name, startTime, endTime }) => ({ name: path.relative(ROOT, name), seconds: (endTime - startTime) / 1000 }));
}

function projectDurations(file) {
  if (!existsSync(file)) return [];
  const ofSuite = ({ specs = [], suites = [] }) =>
    [
      ...specs.flatMap(({ tests }) => tests.flatMap(({ results }) => results.map(({ duration }) => duration / 1000))),
      ...suites.map(ofSuite),
    ].reduce((sum, seconds) => sum + seconds, 0);
  const { suites } = JSON.parse(readFileSync(file, 'utf8'));
  return suites.map((suite) => ({ name: `e2e/${suite.file}`, seconds: ofSuite(suite) }));
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
