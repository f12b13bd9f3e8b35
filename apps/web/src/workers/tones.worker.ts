import { encodeWav, toneSamples, trackFileName, trackList, trackSpec, type ToneFormat, type ToneTrack } from '@yield/core';
import * as Comlink from 'comlink';
import { strToU8, Zip, ZipPassThrough } from 'fflate';

const toneWorker = {
  /** One track as a WAV file. */
  wav(track: ToneTrack, format: ToneFormat): Uint8Array {
    const bytes = wavOf(track, format);
    return Comlink.transfer(bytes, [bytes.buffer]);
  },

  /** All tracks, numbered, with their list. Stored without compression: tones hardly shrink, and every source opens it sooner. */
  zip(tracks: readonly ToneTrack[], format: ToneFormat, onTrack: (number: number) => void): Blob {
    const parts: Uint8Array<ArrayBuffer>[] = [];
    const zip = new Zip((error, chunk) => {
      if (error !== null) throw error;
      parts.push(new Uint8Array(chunk));
    });
    const add = (name: string, bytes: Uint8Array): void => {
      const entry = new ZipPassThrough(name);
      zip.add(entry);
      entry.push(bytes, true);
    };
    add('tracks.txt', strToU8(trackList(tracks, format)));
    tracks.forEach((track, i) => {
      onTrack(i + 1);
      add(trackFileName(track.name, i + 1), wavOf(track, format));
    });
    zip.end();
    return new Blob(parts, { type: 'application/zip' });
  },
};

function wavOf(track: ToneTrack, format: ToneFormat): Uint8Array<ArrayBuffer> {
  const samples = toneSamples(trackSpec(track, format));
  const silence = new Float64Array(samples.length);
  return encodeWav([track.side === 'right' ? silence : samples, track.side === 'left' ? silence : samples], format);
}

export type ToneWorker = typeof toneWorker;

Comlink.expose(toneWorker);
