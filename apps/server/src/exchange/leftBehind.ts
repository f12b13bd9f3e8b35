import { readdir, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';

const PREFIX = 'yield-import-';

/** How the folders of archives that a server brings in begin. */
export const importFolder = (pid: number): string => `${PREFIX}${pid}-`;

/** Takes away the archives that a server which was killed had on their way in. */
export async function sweepLeftBehind(folder = os.tmpdir()): Promise<void> {
  for (const name of await readdir(folder).catch(() => [])) {
    if (!name.startsWith(PREFIX)) continue;
    const pid = Number(name.slice(PREFIX.length).split('-')[0]);
    // Without a number, of a version before.
    if (!Number.isInteger(pid) || !isAlive(pid)) await rm(path.join(folder, name), { recursive: true, force: true }).catch(() => undefined);
  }
}

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as { code?: string }).code === 'EPERM';
  }
}
