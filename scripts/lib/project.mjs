import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { run } from './run.mjs';

export const ROOT = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..', '..');
export const SERVER_MAIN = path.join(ROOT, 'apps/server/dist/main.js');
export const WEB_FOLDER = path.join(ROOT, 'apps/web/dist');

const MIN_NODE = [20, 19];

export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major > MIN_NODE[0] || (major === MIN_NODE[0] && minor >= MIN_NODE[1])) return;
  throw new Error(`Node.js ${MIN_NODE.join('.')} or newer is needed; this is ${process.versions.node}.`);
}

/** npm packages, when the lock file is not the one that was installed last. @returns what was done, in words */
export async function installNpmPackages() {
  const stamp = path.join(ROOT, 'node_modules/.yield-installed');
  const wanted = hashOf(['package-lock.json']);
  if (readIfThere(stamp) === wanted) return 'as they were';
  await run('npm', ['ci', '--no-fund', '--no-audit', '--loglevel=error'], { cwd: ROOT, quiet: true });
  writeFileSync(stamp, wanted);
  return 'installed';
}

/** Server and web application, when a source file changed since the last build. @returns what was done, in words */
export async function build() {
  const stamp = path.join(ROOT, 'node_modules/.yield-built');
  const wanted = hashOf(sourceFiles());
  if (readIfThere(stamp) === wanted && existsSync(SERVER_MAIN) && existsSync(path.join(WEB_FOLDER, 'index.html'))) return 'as it was';
  await run(process.execPath, ['scripts/build.mjs'], { cwd: ROOT, quiet: true });
  mkdirSync(path.dirname(stamp), { recursive: true });
  writeFileSync(stamp, wanted);
  return 'built';
}

function sourceFiles() {
  const files = ['package-lock.json', 'scripts/build.mjs'];
  const visit = (folder) => {
    for (const entry of readdirSync(path.join(ROOT, folder), { withFileTypes: true })) {
      const file = `${folder}/${entry.name}`;
      if (entry.isDirectory()) {
        if (!['node_modules', 'dist', 'test'].includes(entry.name)) visit(file);
      } else files.push(file);
    }
  };
  visit('packages');
  visit('apps');
  return files.sort();
}

function hashOf(files) {
  const hash = createHash('sha256');
  for (const file of files) hash.update(file).update(readFileSync(path.join(ROOT, file)));
  return hash.digest('hex');
}

function readIfThere(file) {
  return existsSync(file) ? readFileSync(file, 'utf8') : null;
}
