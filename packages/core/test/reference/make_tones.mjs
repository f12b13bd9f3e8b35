// Measures the core's test tones with sox, which knows nothing of how they were made. Run: npx tsx packages/core/test/reference/make_tones.mjs
// The hash ties the figures to the very bytes: a tone that changes by one bit wants them made again.
import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { encodeWav } from '../../src/tones/encodeWav.ts';
import { toneSamples } from '../../src/tones/toneSamples.ts';

const OCTAVES_HZ = [31.5, 63, 125, 250, 500, 1000, 2000, 4000, 8000];
const folder = mkdtempSync(path.join(os.tmpdir(), 'tones-'));

const specs = [
  ...[40, 50, 100, 1000].flatMap((hertz) =>
    [0, -3, -5, -10].map((levelDbfs) => ({ shape: { kind: 'sine', hertz }, levelDbfs, seconds: 2, sampleRateHz: 44100, bits: 16 })),
  ),
  { shape: { kind: 'sine', hertz: 1000 }, levelDbfs: 0, seconds: 2, sampleRateHz: 48000, bits: 24 },
  { shape: { kind: 'sine', hertz: 41.3 }, levelDbfs: -60, seconds: 4, sampleRateHz: 48000, bits: 24 },
  { shape: { kind: 'sweep', fromHertz: 20, toHertz: 20000 }, levelDbfs: -10, seconds: 10, sampleRateHz: 48000, bits: 24 },
  { shape: { kind: 'pink-noise', seed: 'yield' }, levelDbfs: -20, seconds: 20, sampleRateHz: 48000, bits: 24 },
  { shape: { kind: 'pink-noise', seed: 'yield' }, levelDbfs: -20, seconds: 20, sampleRateHz: 44100, bits: 16 },
];

/** sox writes its figures to the error output. */
const measured = (file, effects) => spawnSync('sox', [file, '-n', ...effects], { encoding: 'utf8' }).stderr;
const figure = (text, name) => Number(new RegExp(`^${name}\\s+(-?[\\d.]+)`, 'm').exec(text)?.[1]);

const tones = specs.map(({ bits, ...spec }, i) => {
  const bytes = encodeWav([toneSamples(spec)], { sampleRateHz: spec.sampleRateHz, bits });
  const file = path.join(folder, `${i}.wav`);
  writeFileSync(file, bytes);
  const stats = measured(file, ['stats']);
  const figures = { rmsDb: figure(stats, 'RMS lev dB'), peakDb: figure(stats, 'Pk lev dB') };
  if (spec.shape.kind === 'sine') figures.roughHertz = Number(/Rough\s+frequency:\s+(\d+)/.exec(measured(file, ['stat']))?.[1]);
  if (spec.shape.kind === 'pink-noise') {
    figures.octaves = OCTAVES_HZ.map((centreHz) => ({
      centreHz,
      rmsDb: figure(measured(file, ['sinc', '-n', '32767', `${centreHz / Math.SQRT2}-${centreHz * Math.SQRT2}`, 'stats']), 'RMS lev dB'),
    }));
  }
  return { spec, bits, sha256: createHash('sha256').update(bytes).digest('hex'), ...figures };
});
const by = execFileSync('sox', ['--version'], { encoding: 'utf8' })
  .trim()
  .replace(/^.*SoX v/, 'SoX ');
writeFileSync(path.join(import.meta.dirname, 'results/tones.json'), `${JSON.stringify({ by, tones }, null, 1)}\n`);
rmSync(folder, { recursive: true });
