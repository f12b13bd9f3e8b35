import { spawn } from 'node:child_process';

/** Runs a program to its end; its output is shown, or kept and returned with `quiet`. Rejects with the output where it fails. */
export function run(program, args, { cwd, env, quiet = false } = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(program, args, {
      cwd,
      env: env === undefined ? process.env : { ...process.env, ...env },
      stdio: quiet ? ['ignore', 'pipe', 'pipe'] : 'inherit',
    });
    let output = '';
    child.stdout?.on('data', (chunk) => (output += chunk));
    child.stderr?.on('data', (chunk) => (output += chunk));
    child.once('error', (error) => reject(new Error(`${program} could not be started: ${error.message}`)));
    child.once('close', (code) => {
      if (code === 0) resolve(output);
      else reject(new Error(`${program} ${args.join(' ')} ended with code ${code}${output === '' ? '' : `:\n${output.trim()}`}`));
    });
  });
}

/** As `run`, but answers whether it succeeded. */
export async function succeeds(program, args, options) {
  try {
    await run(program, args, { ...options, quiet: true });
    return true;
  } catch {
    return false;
  }
}

export const isRoot = () => process.getuid?.() === 0;
