// The start command itself, as a person runs it, on the build that the tests use.
import { type ChildProcess, spawn } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import net from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { anyFreePort, freePortFrom, isFree } from '../../../scripts/lib/ports.mjs';
import { ROOT } from '../../../scripts/lib/project.mjs';
import { run } from '../../../scripts/lib/run.mjs';

interface Started {
  child: ChildProcess;
  said: () => string;
  address: string;
  interrupt: () => Promise<number | null>;
}

let home: string;
beforeAll(() => {
  home = mkdtempSync(path.join(os.tmpdir(), 'yield start '));
  chmodSync(home, 0o755);
});
afterAll(() => rmSync(home, { recursive: true, force: true }));

function start(env: Record<string, string>): Promise<Started> {
  const child: ChildProcess = spawn(process.execPath, ['scripts/start.mjs'], {
    cwd: ROOT,
    env: { ...process.env, YIELD_HOME: home, ...env },
  });
  let said = '';
  return new Promise((resolve, reject) => {
    const hear = (chunk: Buffer): void => {
      said += chunk.toString();
      const address = /ready: (http:\S+)/.exec(said)?.[1];
      if (address === undefined) return;
      const interrupt = (): Promise<number | null> =>
        new Promise((ended) => {
          child.once('close', ended);
          child.kill('SIGINT');
        });
      resolve({ child, said: () => said, address, interrupt });
    };
    child.stdout?.on('data', hear);
    child.stderr?.on('data', hear);
    child.once('close', (code) => reject(new Error(`ended with ${code}: ${said}`)));
  });
}

const names = async (address: string): Promise<string[]> => {
  const rows = (await (await fetch(`${address}/api/v1/tunes`)).json()) as { name: string }[];
  return rows.map(({ name }) => name).sort();
};

describe('npm start', () => {
  it('serves the demo from an empty folder, keeps the data, and starts again on them', async () => {
    const port = String(await anyFreePort('127.0.0.1'));
    const first = await start({ PORT: port });
    expect(first.address).toBe(`http://127.0.0.1:${port}`);
    expect(await names(first.address)).toEqual(['Camper trailer', 'Driving-school car', 'Mobile library bus', 'Puppet theatre van']);
    const page = await fetch(`${first.address}/`);
    expect(await page.text()).toContain('<div id="root">');
    expect(page.headers.get('content-security-policy')).toContain("script-src 'self'");
    await fetch(`${first.address}/api/v1/tunes/3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0003`, { method: 'DELETE' });
    expect(await first.interrupt()).toBe(0);

    const second = await start({ PORT: port });
    expect(await names(second.address)).toEqual(['Driving-school car', 'Mobile library bus', 'Puppet theatre van']);
    expect(await second.interrupt()).toBe(0);
  });

  it('takes the next port when the wanted one is busy, and two starts share one database', async () => {
    const port = await anyFreePort('127.0.0.1');
    const first = await start({ PORT: String(port) });
    const second = await start({ PORT: String(port) });
    expect(second.said()).toContain(`Port ${port} is taken by another program`);
    expect(second.said()).toContain(`Another Yield runs on these data, at http://127.0.0.1:${port}.`);
    expect(await names(second.address)).toEqual(await names(first.address));
    // The one that leaves first must not take the database with it.
    expect(await second.interrupt()).toBe(0);
    expect((await fetch(`${first.address}/api/v1/health`)).status).toBe(200);
    expect(await first.interrupt()).toBe(0);
  });

  it('heals a lock that nobody holds, keeps a backup, and puts it back', async () => {
    const lock = path.join(home, 'cluster/postmaster.pid');
    const script = (name: string, ...args: string[]): Promise<string> =>
      run(process.execPath, [`scripts/${name}.mjs`, ...args], { cwd: ROOT, env: { YIELD_HOME: home }, quiet: true });
    const file = path.join(home, 'all of it.backup');

    // An empty lock, as a machine that lost its power leaves it.
    writeFileSync(lock, '');
    expect(await script('backup', file)).toContain('read back and counted');
    // For nobody else's eyes.
    expect((statSync(file).mode & 0o777).toString(8)).toBe('600');
    expect(existsSync(`${file}.part`)).toBe(false);
    await expect(script('backup', file)).rejects.toThrow('is there already');
    // Another program's number.
    writeFileSync(lock, `${process.pid}\n${path.join(home, 'cluster')}\n0\n4621\n\n127.0.0.1\n`);
    const port = String(await anyFreePort('127.0.0.1'));
    const running = await start({ PORT: port });
    const before = await names(running.address);
    await fetch(`${running.address}/api/v1/tunes/3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0001`, { method: 'DELETE' });
    await expect(script('restore', file)).rejects.toThrow('Yield is running');
    expect(await running.interrupt()).toBe(0);

    const broken = path.join(home, 'broken.backup');
    writeFileSync(broken, readFileSync(file).subarray(0, 4000));
    await expect(script('restore', broken)).rejects.toThrow('no whole backup');
    expect(await script('restore', file)).toContain('Restored:');
    const again = await start({ PORT: port });
    expect(await names(again.address)).toEqual(before);
    expect(await again.interrupt()).toBe(0);
  });

  const until = async (what: string, isSo: () => boolean | Promise<boolean>): Promise<void> => {
    for (let waited = 0; waited < 300; waited += 1) {
      if (await isSo()) return;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    throw new Error(`never came: ${what}`);
  };
  const isHealthy = (address: string) => async (): Promise<boolean> =>
    fetch(`${address}/api/v1/health`).then(
      ({ status }) => status === 200,
      () => false,
    );
  const postmaster = (): number => Number(readFileSync(path.join(home, 'cluster/postmaster.pid'), 'utf8').split('\n')[0]);

  it('starts a database that died again, and says so; three deaths in a minute end it with words', async () => {
    const running = await start({ PORT: String(await anyFreePort('127.0.0.1')) });
    const ended = new Promise<number | null>((resolve) => running.child.once('close', resolve));
    for (const time of [1, 2]) {
      process.kill(postmaster(), 'SIGKILL');
      await until('the database is told of', () => running.said().split('The database ended unexpectedly').length > time);
      await until('health', isHealthy(running.address));
    }
    process.kill(postmaster(), 'SIGKILL');
    expect(await ended).toBe(1);
    expect(running.said()).toContain('The database ended three times within a minute');
    expect(running.said()).not.toContain('DATABASE_URL');
  });

  it('that is killed leaves no server behind: the next one has its port', async () => {
    const port = await anyFreePort('127.0.0.1');
    const first = await start({ PORT: String(port) });
    first.child.kill('SIGKILL');
    const second = await start({ PORT: String(port) });
    expect(second.address).toBe(`http://127.0.0.1:${port}`);
    expect(second.said()).not.toContain('is taken');
    // What it does is said, each with its seconds.
    expect(second.said()).toMatch(/Packages +\S.*, [\d.]+ s\nBuild +\S.*, [\d.]+ s\nDatabase +\S.*, [\d.]+ s/);
    expect(await second.interrupt()).toBe(0);
  });

  it('refuses an address that others reach before anything is made', async () => {
    const untouched = path.join(home, 'untouched');
    await expect(start({ HOST: '0.0.0.0', YIELD_HOME: untouched })).rejects.toThrow('YIELD_ALLOW_EXPOSED');
    expect(existsSync(untouched)).toBe(false);
  });

  it.each(['abc', '70000', '0'])('refuses PORT=%s in words', async (PORT) => {
    await expect(start({ PORT })).rejects.toThrow('PORT must be a whole number from 1 to 65535');
  });
});

describe('ports', () => {
  it('are tested by trying', async () => {
    const port = await anyFreePort('127.0.0.1');
    expect(await isFree(port, '127.0.0.1')).toBe(true);
    const taken = net.createServer();
    await new Promise<void>((resolve) => taken.listen(port, '127.0.0.1', resolve));
    expect(await isFree(port, '127.0.0.1')).toBe(false);
    expect(await freePortFrom(port, '127.0.0.1')).toBeGreaterThan(port);
    await new Promise((resolve) => taken.close(resolve));
  });
});
