import { seededRandom } from '../numerics/random.ts';

export interface WavOptions {
  sampleRateHz: number;
  bits: 16 | 24;
}

const HEADER_BYTES = 44;

/**
 * A PCM WAV file of samples that are shares of full scale.
 *
 * Full scale is the highest positive code, so that a sine at 0 dBFS never reaches beyond either end. At 16 bits the rounding is
 * dithered, which turns its distortion into a faint even hiss; at 24 bits it lies under any converter's own noise.
 *
 * @param channels - of equal length; one, or left and right
 * @see Multimedia Programming Interface and Data Specifications 1.0 (IBM, Microsoft, 1991), "Waveform Audio File Format"
 * @see Lipshitz, Wannamaker, Vanderkooy, "Quantization and dither: a theoretical survey", J. AES 40 (1992): triangular, two steps wide
 */
export function encodeWav(channels: readonly Float64Array[], { sampleRateHz, bits }: WavOptions): Uint8Array<ArrayBuffer> {
  const frames = channels[0]?.length ?? 0;
  const bytesPerSample = bits / 8;
  const dataBytes = frames * channels.length * bytesPerSample;
  const bytes = new Uint8Array(HEADER_BYTES + dataBytes);
  const view = new DataView(bytes.buffer);
  const text = (at: number, word: string): void => {
    for (let i = 0; i < word.length; i += 1) bytes[at + i] = word.charCodeAt(i);
  };
  text(0, 'RIFF');
  view.setUint32(4, HEADER_BYTES - 8 + dataBytes, true);
  text(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true);
  view.setUint16(22, channels.length, true);
  view.setUint32(24, sampleRateHz, true);
  view.setUint32(28, sampleRateHz * channels.length * bytesPerSample, true);
  view.setUint16(32, channels.length * bytesPerSample, true);
  view.setUint16(34, bits, true);
  text(36, 'data');
  view.setUint32(40, dataBytes, true);

  const top = 2 ** (bits - 1) - 1;
  const random = seededRandom('dither');
  let at = HEADER_BYTES;
  for (let n = 0; n < frames; n += 1) {
    for (const samples of channels) {
      const value = samples[n]!;
      // Digital silence stays silent: a meter on a quiet channel should read nothing.
      const dither = bits === 16 && value !== 0 ? random.uniform() - random.uniform() : 0;
      const code = Math.max(-top, Math.min(top, Math.round(value * top + dither)));
      view.setInt16(at, bits === 16 ? code : code & 0xffff, true);
      if (bits === 24) view.setInt8(at + 2, code >> 16);
      at += bytesPerSample;
    }
  }
  return bytes;
}
