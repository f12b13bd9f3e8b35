import { LONG_SWEEP, SHORT_SWEEP, SWEEP_FADE_SECOND } from './sweepSpec.ts';
import { plainFigure } from '../units/formatQuantity.ts';
import type { ToneShape, ToneSpec } from './toneSamples.ts';

export type ToneSide = 'both' | 'left' | 'right';

/** One track of a tone set. */
export interface ToneTrack {
  /** in words, such as "Sine 40 Hz, −3 dBFS" */
  name: string;
  shape: ToneShape;
  levelDbfs: number;
  seconds: number;
  fadeSecond: number;
  side: ToneSide;
}

export interface ToneFormat {
  sampleRateHz: 44_100 | 48_000;
  bits: 16 | 24;
}

const SINES_HZ = [40, 50, 100, 1000];
const LEVELS_DBFS = [0, -3, -5, -10];
const SINE_SECONDS = 60;
const SINE_FADE_SECOND = 0.05;
const NOISE_SECONDS = 60;
/** Its peaks stay under full scale. */
const NOISE_DBFS = -14;
const PULSE_DBFS = -3;

/** The tones that a tuner plays: sines at every usual level, sweeps, pink noise, a polarity pulse, each side alone. */
export function readyTones(): ToneTrack[] {
  const sines = SINES_HZ.flatMap((hertz) => LEVELS_DBFS.map((levelDbfs) => sineTrack(hertz, levelDbfs)));
  const sweeps = [LONG_SWEEP, SHORT_SWEEP].map(({ fromHertz, toHertz, seconds }) =>
    track({ kind: 'sweep', fromHertz, toHertz }, 0, seconds, SWEEP_FADE_SECOND),
  );
  const others = [
    track({ kind: 'pink-noise', seed: 'yield' }, NOISE_DBFS, NOISE_SECONDS, SINE_FADE_SECOND),
    track({ kind: 'polarity-pulse' }, PULSE_DBFS, 20, 0),
    sineTrack(1000, -10, 'left'),
    sineTrack(1000, -10, 'right'),
  ];
  return [...sines, ...sweeps, ...others];
}

export function sineTrack(hertz: number, levelDbfs: number, side: ToneSide = 'both'): ToneTrack {
  return track({ kind: 'sine', hertz }, levelDbfs, SINE_SECONDS, SINE_FADE_SECOND, side);
}

export function track(shape: ToneShape, levelDbfs: number, seconds: number, fadeSecond: number, side: ToneSide = 'both'): ToneTrack {
  return { name: nameOf(shape, levelDbfs, seconds, side), shape, levelDbfs, seconds, fadeSecond, side };
}

function nameOf(shape: ToneShape, levelDbfs: number, seconds: number, side: ToneSide): string {
  const level = `${plainFigure(levelDbfs)} dBFS`;
  const where = side === 'both' ? '' : `, ${side} only`;
  switch (shape.kind) {
    case 'sine':
      return `Sine ${plainFigure(shape.hertz)} Hz, ${level}${where}`;
    case 'sweep':
      return `Sweep ${plainFigure(shape.fromHertz)} to ${plainFigure(shape.toHertz)} Hz, ${plainFigure(seconds)} s, ${level}${where}`;
    case 'pink-noise':
      return `Pink noise, ${level}${where}`;
    case 'polarity-pulse':
      return `Polarity pulse, ${level}${where}`;
  }
}

export const trackSpec = ({ shape, levelDbfs, seconds, fadeSecond }: ToneTrack, { sampleRateHz }: ToneFormat): ToneSpec => ({
  shape,
  levelDbfs,
  seconds,
  fadeSecond,
  sampleRateHz,
});

/** A file name that every file system and head unit takes: numbered, plain letters, digits and hyphens. */
export function trackFileName(name: string, number: number): string {
  const plain = name
    .toLowerCase()
    .replaceAll('−', 'minus ')
    .replace(/[^a-z0-9.]+/g, '-')
    .replace(/^-|-$/g, '');
  return `${String(number).padStart(2, '0')}-${plain}.wav`;
}

/** The list that goes with a set, as plain text. */
export function trackList(tracks: readonly ToneTrack[], { sampleRateHz, bits }: ToneFormat): string {
  const lines = tracks.map(
    (each, i) => `${String(i + 1).padStart(2, '0')}  ${each.name}  (${plainFigure(each.seconds)} s)  ${trackFileName(each.name, i + 1)}`,
  );
  return [
    `Test tones, ${sampleRateHz} Hz, ${bits} bit, stereo WAV`,
    '0 dBFS is a full-scale sine. No track goes above it.',
    'Loud: turn the volume down before a track is started, and protect your ears.',
    '',
    ...lines,
    '',
  ].join('\r\n');
}
