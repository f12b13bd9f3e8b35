import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';

/** Which starts run on one home: a note each, by the starter's number. */
const folderOf = (home) => path.join(home, 'running');

/** @param note - { url, serverPid } */
export function noteRunning(home, note) {
  mkdirSync(folderOf(home), { recursive: true });
  writeFileSync(path.join(folderOf(home), `${process.pid}.json`), JSON.stringify(note));
}

export const forgetRunning = (home) => rmSync(path.join(folderOf(home), `${process.pid}.json`), { force: true });

/**
 * Other starts on this home, and servers that a start which was killed left behind.
 *
 * @returns { others: urls, orphans: process numbers of servers }
 */
export function runningOn(home) {
  const found = { others: [], orphans: [] };
  if (!existsSync(folderOf(home))) return found;
  for (const name of readdirSync(folderOf(home))) {
    const starter = Number(name.split('.')[0]);
    if (starter === process.pid) continue;
    const note = noteIn(path.join(folderOf(home), name));
    // A number alone says nothing: another program may have it by now.
    if (isProcess(starter, 'start.mjs')) found.others.push(note?.url ?? '');
    else {
      if (note !== undefined && isProcess(note.serverPid, 'main.js')) found.orphans.push(note.serverPid);
      rmSync(path.join(folderOf(home), name), { force: true });
    }
  }
  return found;
}

function noteIn(file) {
  try {
    return JSON.parse(readFileSync(file, 'utf8'));
  } catch {
    return undefined;
  }
}

/** Whether a process of this number runs this program; where the system does not say what it runs, no. */
function isProcess(pid, program) {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(program);
  } catch {
    return false;
  }
}

/** Waits for servers that lost their starter to end by themselves, and ends those that do not. */
export async function endOrphans(pids) {
  const alive = () => pids.filter((pid) => isProcess(pid, 'main.js'));
  for (let waited = 0; waited < 50 && alive().length > 0; waited += 1) await new Promise((resolve) => setTimeout(resolve, 100));
  for (const pid of alive()) process.kill(pid, 'SIGTERM');
  for (let waited = 0; waited < 50 && alive().length > 0; waited += 1) await new Promise((resolve) => setTimeout(resolve, 100));
}
