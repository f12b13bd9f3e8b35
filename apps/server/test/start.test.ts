// The start command itself, as a person runs it, on the build that the tests use.
import { type ChildProcess, spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import net from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { anyFreePort, freePortFrom, isFree } from '../../../scripts/lib/ports.mjs';
import { ROOT } from '../../../scripts/lib/project.mjs';
import { run } from '../../../scripts/lib/run.mjs';

interface Started {
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
      resolve({ said: () => said, address, interrupt });
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
