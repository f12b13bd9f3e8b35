import { captureError } from '../coreError.ts';
import { newSamples, type Samples } from '../numerics/samples.ts';
import type { Capture, CaptureChannel } from './capture.ts';

const PCM = 1;
const IEEE_FLOAT = 3;
const EXTENSIBLE = 0xfffe;

interface WavFormat {
  encoding: number;
  channelCount: number;
  sampleRateHz: number;
  bitsPerSample: number;
}

/**
 * Reads a RIFF/WAVE recording: 16, 24 or 32-bit PCM and 32-bit float, one to eight channels.
 *
 * @param options.fullScaleVolt - peak voltage of digital full scale; without it the samples stay shares of full scale
 * @param options.isLookedAtOnce - decodes a channel whenever it is asked for, all into the same memory: samples hold until another channel is asked for
 * @throws {CoreError} `CAPTURE_FORMAT_UNKNOWN` for another encoding, `CAPTURE_NO_DATA` where no sample is in it
 * @see Multimedia Programming Interface and Data Specifications 1.0 (IBM, Microsoft, 1991), "Waveform Audio File Format"
 */
export function readWav(bytes: Uint8Array, options: { probe: number; fullScaleVolt?: number; isLookedAtOnce?: boolean }): Capture {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const { format, dataAt, dataBytes, notes } = findChunks(view);
  const { encoding, channelCount, sampleRateHz, bitsPerSample } = format;
  const bytesPerSample = bitsPerSample / 8;
  const frames = Math.floor(dataBytes / (bytesPerSample * channelCount));
  if (frames === 0) throw captureError('CAPTURE_NO_DATA', 'The recording holds no samples.');

  const scale = (options.fullScaleVolt ?? 1) * options.probe;
  const room = (): Samples => newSamples(frames, frames * channelCount);
  const decoded = (channel: number, samples: Samples): Samples => {
    const stride = bytesPerSample * channelCount;
    const start = dataAt + channel * bytesPerSample;
    if (encoding === IEEE_FLOAT) {
      for (let i = 0, at = start; i < frames; i += 1, at += stride) samples[i] = view.getFloat32(at, true) * scale;
    } else if (bitsPerSample === 16) {
      for (let i = 0, at = start; i < frames; i += 1, at += stride) samples[i] = (view.getInt16(at, true) / 0x8000) * scale;
    } else if (bitsPerSample === 24) {
      for (let i = 0, at = start; i < frames; i += 1, at += stride) {
        samples[i] = (((view.getInt8(at + 2) << 16) | view.getUint16(at, true)) / 0x800000) * scale;
      }
    } else {
      for (let i = 0, at = start; i < frames; i += 1, at += stride) samples[i] = (view.getInt32(at, true) / 0x80000000) * scale;
    }
    if (encoding === IEEE_FLOAT && samples.some((value) => !Number.isFinite(value))) {
      throw captureError('CAPTURE_VALUE_UNREADABLE', 'The recording holds samples that are not numbers. Record it again.');
    }
    return samples;
  };
  let shared: Samples | undefined;
  const channels = Array.from({ length: channelCount }, (_, channel): CaptureChannel => {
    const name = channelName(channel, channelCount);
    if (options.isLookedAtOnce !== true) return { name, samples: decoded(channel, room()) };
    return {
      name,
      get samples() {
        shared ??= room();
        return decoded(channel, shared);
      },
    };
  });
  return {
    format: 'wav',
    sampleRateHz,
    startSecond: 0,
    channels,
    notes,
    railVolt: scale,
    calibrated: options.fullScaleVolt !== undefined,
  };
}

function findChunks(view: DataView): { format: WavFormat; dataAt: number; dataBytes: number; notes: string[] } {
  const notes: string[] = [];
  let format: WavFormat | null = null;
  let at = 12;
  while (at + 8 <= view.byteLength) {
    const id = String.fromCharCode(view.getUint8(at), view.getUint8(at + 1), view.getUint8(at + 2), view.getUint8(at + 3));
    const size = view.getUint32(at + 4, true);
    const body = at + 8;
    if (id === 'fmt ' && body + 16 <= view.byteLength) format = readFormat(view, body, size);
    if (id === 'data') {
      if (format === null) break;
      const available = view.byteLength - body;
      // A recorder that was stopped hard leaves a size of 0 or of all ones: what is there counts.
      if (size > available && size !== 0xffffffff) notes.push('The recording ends early; what is there was read.');
      const dataBytes = size === 0 || size > available ? available : size;
      return { format, dataAt: body, dataBytes, notes };
    }
    at = body + size + (size % 2);
  }
  throw captureError('CAPTURE_NO_DATA', 'This WAV file holds no sound data. Record it again.');
}

function readFormat(view: DataView, at: number, size: number): WavFormat {
  const tag = view.getUint16(at, true);
  const encoding = tag === EXTENSIBLE && size >= 26 && at + 26 <= view.byteLength ? view.getUint16(at + 24, true) : tag;
  const channelCount = view.getUint16(at + 2, true);
  const sampleRateHz = view.getUint32(at + 4, true);
  const bitsPerSample = view.getUint16(at + 14, true);
  const readable = (encoding === PCM && [16, 24, 32].includes(bitsPerSample)) || (encoding === IEEE_FLOAT && bitsPerSample === 32);
  if (!readable || channelCount < 1 || channelCount > 8 || sampleRateHz < 1) {
    throw captureError(
      'CAPTURE_FORMAT_UNKNOWN',
      `This WAV file is ${bitsPerSample} bit with encoding ${encoding} and ${channelCount} channels. Save it as 16 or 24-bit PCM or 32-bit float.`,
    );
  }
  return { encoding, channelCount, sampleRateHz, bitsPerSample };
}

function channelName(channel: number, count: number): string {
  if (count === 1) return 'Mono';
  if (count === 2) return channel === 0 ? 'Left' : 'Right';
  return `Channel ${channel + 1}`;
}
