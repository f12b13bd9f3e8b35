import { existsSync } from 'node:fs';
import { isRoot, run, succeeds } from './run.mjs';

/**
 * Installs a package of the distribution where that is allowed; otherwise says the one command to type.
 * @throws {Error} in words for the person at the keyboard
 */
export async function installDebianPackage(name, what) {
  const command = `apt-get update && apt-get install -y --no-install-recommends ${name}`;
  if (!existsSync('/usr/bin/apt-get'))
    throw new Error(`${what} is needed and was not found. Install ${name} with your system's package manager, then start again.`);
  if (!isRoot()) throw new Error(`${what} is needed and was not found. Type this once, then start again:\n\n    sudo sh -c '${command}'\n`);
  console.log(`Installing ${what} from the distribution (once) …`);
  const env = { DEBIAN_FRONTEND: 'noninteractive' };
  if (!(await succeeds('apt-get', ['install', '-y', '--no-install-recommends', name], { env }))) {
    await run('apt-get', ['update'], { env, quiet: true });
    await run('apt-get', ['install', '-y', '--no-install-recommends', name], { env, quiet: true });
  }
}
