import { describe, expect, it } from 'vitest';
import { toneSamples } from './toneSamples.ts';
import { readyTones, sineTrack, track, trackFileName, trackList, trackSpec } from './toneSet.ts';

describe('the tone set', () => {
  const tones = readyTones();
  it('has every usual sine at every usual level, and what else a tuner plays', () => {
    for (const hertz of [40, 50, 100, 1000])
      for (const levelDbfs of [0, -3, -5, -10]) {
        expect(tones.some(({ shape, levelDbfs: own }) => shape.kind === 'sine' && shape.hertz === hertz && own === levelDbfs)).toBe(true);
      }
    expect(new Set(tones.map(({ shape }) => shape.kind))).toEqual(new Set(['sine', 'sweep', 'pink-noise', 'polarity-pulse']));
    expect(new Set(tones.map(({ side }) => side))).toEqual(new Set(['both', 'left', 'right']));
    expect(new Set(tones.map(({ name }) => name)).size).toBe(tones.length);
  });
  it.each([44_100, 48_000] as const)('stays within full scale at %i Hz, whatever the track', (sampleRateHz) => {
    for (const each of tones) {
      const samples = toneSamples(trackSpec({ ...each, seconds: Math.min(6, each.seconds) }, { sampleRateHz, bits: 16 }));
      expect(samples.reduce((peak, value) => Math.max(peak, Math.abs(value)), 0)).toBeLessThanOrEqual(1 + 1e-12);
    }
  });
  it.each([
    [sineTrack(40, -3), 'Sine 40 Hz, −3 dBFS', '07-sine-40-hz-minus-3-dbfs.wav'],
    [sineTrack(1000, -10, 'left'), 'Sine 1000 Hz, −10 dBFS, left only', '07-sine-1000-hz-minus-10-dbfs-left-only.wav'],
    [
      track({ kind: 'sweep', fromHertz: 20, toHertz: 20_000 }, 0, 10, 0.05),
      'Sweep 20 to 20000 Hz, 10 s, 0 dBFS',
      '07-sweep-20-to-20000-hz-10-s-0-dbfs.wav',
    ],
    [track({ kind: 'pink-noise', seed: 'x' }, -14, 60, 0), 'Pink noise, −14 dBFS', '07-pink-noise-minus-14-dbfs.wav'],
    [track({ kind: 'polarity-pulse' }, -3, 20, 0), 'Polarity pulse, −3 dBFS', '07-polarity-pulse-minus-3-dbfs.wav'],
  ])('names a track so that every source can show it: %#', (each, name, fileName) => {
    expect(each.name).toBe(name);
    expect(trackFileName(each.name, 7)).toBe(fileName);
    expect(trackFileName(each.name, 7)).toMatch(/^[a-z0-9.-]+$/);
  });
  it('lists its tracks in their order, with the file of each', () => {
    const list = trackList(tones, { sampleRateHz: 48_000, bits: 24 });
    expect(list).toContain('48000 Hz, 24 bit');
    const lines = list.split('\r\n').filter((line) => /^\d\d /.test(line));
    expect(lines).toHaveLength(tones.length);
    lines.forEach((line, i) => expect(line).toContain(trackFileName(tones[i]!.name, i + 1)));
  });
});
