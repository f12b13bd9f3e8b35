import { describe, expect, it } from 'vitest';
import { readCapture } from './readCapture.ts';

interface WavSpec {
  encoding: 1 | 3;
  bits: 16 | 24 | 32;
  frames: number[][];
  extensible?: boolean;
  dataSize?: number;
  extraChunk?: boolean;
}

/** Writes a WAV file by the book, so that the reader is not tested against itself. */
function wav({ encoding, bits, frames, extensible = false, dataSize, extraChunk = false }: WavSpec): Uint8Array {
  const channels = frames[0]?.length ?? 1;
  const block = (channels * bits) / 8;
  const formatSize = extensible ? 40 : 16;
  const extra = extraChunk ? 8 + 4 : 0;
  const view = new DataView(new ArrayBuffer(12 + 8 + formatSize + extra + 8 + frames.length * block));
  const word = (at: number, text: string): void => Array.from(text).forEach((c, i) => view.setUint8(at + i, c.charCodeAt(0)));
  word(0, 'RIFF');
  view.setUint32(4, view.byteLength - 8, true);
  word(8, 'WAVE');
  word(12, 'fmt ');
  view.setUint32(16, formatSize, true);
  view.setUint16(20, extensible ? 0xfffe : encoding, true);
  view.setUint16(22, channels, true);
  view.setUint32(24, 48000, true);
  view.setUint32(28, 48000 * block, true);
  view.setUint16(32, block, true);
  view.setUint16(34, bits, true);
  if (extensible) view.setUint16(44, encoding, true);
  let at = 20 + formatSize;
  if (extraChunk) {
    word(at, 'LIST');
    view.setUint32(at + 4, 3, true); // an odd size is padded by one byte
    at += 12;
  }
  word(at, 'data');
  view.setUint32(at + 4, dataSize ?? frames.length * block, true);
  at += 8;
  for (const frame of frames) {
    for (const value of frame) {
      if (encoding === 3) view.setFloat32(at, value, true);
      else if (bits === 16) view.setInt16(at, Math.round(value * 0x8000), true);
      else if (bits === 32) view.setInt32(at, Math.round(value * 0x80000000), true);
      else {
        const coded = Math.round(value * 0x800000);
        view.setUint16(at, coded & 0xffff, true);
        view.setInt8(at + 2, coded >> 16);
      }
      at += bits / 8;
    }
  }
  return new Uint8Array(view.buffer);
}

const FRAMES = [
  [0, 0.5],
  [0.25, -0.5],
  [-1, 0.125],
];

describe('a WAV recording', () => {
  it.each([
    ['16-bit PCM', { encoding: 1, bits: 16 }],
    ['24-bit PCM', { encoding: 1, bits: 24 }],
    ['32-bit PCM', { encoding: 1, bits: 32 }],
    ['32-bit float', { encoding: 3, bits: 32 }],
    ['the extensible form', { encoding: 1, bits: 16, extensible: true }],
    ['another chunk before the sound', { encoding: 1, bits: 16, extraChunk: true }],
    ['a size that was never filled in', { encoding: 1, bits: 16, dataSize: 0 }],
    ['a size of all ones', { encoding: 1, bits: 16, dataSize: 0xffffffff }],
  ] as [string, Omit<WavSpec, 'frames'>][])('is read as %s', (_, spec) => {
    const capture = readCapture(wav({ ...spec, frames: FRAMES }));
    expect(capture).toMatchObject({ format: 'wav', sampleRateHz: 48000, calibrated: false, railVolt: 1 });
    expect(capture.channels.map(({ name }) => name)).toEqual(['Left', 'Right']);
    expect(Array.from(capture.channels[0]!.samples)).toEqual([0, 0.25, -1]);
    expect(Array.from(capture.channels[1]!.samples)).toEqual([0.5, -0.5, 0.125]);
  });

  it('takes volts from the full scale and the probe', () => {
    const capture = readCapture(wav({ encoding: 1, bits: 16, frames: FRAMES }), { fullScaleVolt: 2, probe: 10 });
    expect(capture.calibrated).toBe(true);
    expect(Array.from(capture.channels[0]!.samples)).toEqual([0, 5, -20]);
  });

  it('holds a very long recording in single precision, which takes nothing from 24 bits', () => {
    const few = wav({ encoding: 1, bits: 24, frames: FRAMES });
    const head = few.subarray(0, few.length - FRAMES.length * 6);
    const frames = 4_100_000;
    const long = new Uint8Array(head.length + frames * 6);
    long.set(head);
    const view = new DataView(long.buffer);
    view.setUint32(head.length - 4, frames * 6, true);
    const last = long.length - 6;
    long.set([0x01, 0x00, 0x40, 0xff, 0xff, 0x7f], last);
    const { channels } = readCapture(long);
    expect(channels[0]!.samples).toBeInstanceOf(Float32Array);
    expect(channels.map(({ samples }) => samples[frames - 1])).toEqual([0x400001 / 0x800000, 0x7fffff / 0x800000]);
  });

  it('reads what is there of a recording that ends early, and says so', () => {
    const whole = wav({ encoding: 1, bits: 16, frames: FRAMES });
    const capture = readCapture(whole.subarray(0, whole.length - 4));
    expect(capture.channels[0]!.samples).toHaveLength(2);
    expect(capture.notes[0]).toContain('ends early');
  });

  it.each([
    ['no sound data', wav({ encoding: 1, bits: 16, frames: FRAMES }).subarray(0, 36), 'no sound data'],
    ['no samples', wav({ encoding: 1, bits: 16, frames: [] }), 'no samples'],
    ['samples that are not numbers', wav({ encoding: 3, bits: 32, frames: [[NaN, 0]] }), 'not numbers'],
    ['an encoding that is not read', wav({ encoding: 7 as 1, bits: 16, frames: FRAMES }), 'encoding 7'],
  ])('with %s is refused in words', (_, file, words) => {
    expect(() => readCapture(file)).toThrow(words);
  });
});
