// Makes results/sweeps.json: recordings of sweeps through the simulated factory unit, deconvolved by SciPy.
// From the repository's folder: npx tsx packages/bench/test/reference/make_sweeps.mjs
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { encodeWav, LONG_SWEEP, seededRandom, SHORT_SWEEP } from '@yield/core';
import { recordedSweep } from '../../src/factoryUnit.ts';

const CASES = [
  { sweep: LONG_SWEEP, sampleRateHz: 48_000, volume: 10, seed: 'a' },
  { sweep: LONG_SWEEP, sampleRateHz: 48_000, volume: 22, seed: 'b' },
  { sweep: SHORT_SWEEP, sampleRateHz: 44_100, volume: 18, seed: 'c' },
];
const here = path.dirname(fileURLToPath(import.meta.url));
const folder = mkdtempSync(path.join(os.tmpdir(), 'sweeps-'));
const results = CASES.map((given, i) => {
  const { sweep, sampleRateHz, volume, seed } = given;
  const bytes = encodeWav([recordedSweep(sweep, sampleRateHz, volume, seededRandom(seed))], { sampleRateHz, bits: 24 });
  const file = path.join(folder, `${i}.wav`);
  writeFileSync(file, bytes);
  const args = [path.join(here, 'deconvolve.py'), file, sweep.fromHertz, sweep.toHertz, sweep.seconds].map(String);
  const answer = JSON.parse(execFileSync('/usr/bin/python3', args, { encoding: 'utf8' }));
  return { ...given, sha256: createHash('sha256').update(bytes).digest('hex'), ...answer };
});
rmSync(folder, { recursive: true });
writeFileSync(path.join(here, 'results/sweeps.json'), `${JSON.stringify({ results }, null, 1)}\n`);
