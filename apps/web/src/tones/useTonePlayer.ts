import { toneSamples, trackSpec, voltageFactor, type ToneTrack } from '@yield/core';
import { useEffect, useRef, useState } from 'react';
import { FIRST_LOUDNESS_DB, RAMP_SECOND } from './softly.ts';
import { tonePlays } from './tonePlaying.ts';

/** So much is made for listening; it goes round. */
const LISTEN_SECOND = 10;

export interface TonePlayer {
  /** name of the track that plays */
  playing: string | null;
  toggle: (track: ToneTrack) => void;
  /** against the file's own level, for this computer's output alone */
  loudnessDb: number;
  setLoudnessDb: (db: number) => void;
}

/** Plays a track through this computer's output, softly at first: the files keep their recorded level, listening does not. */
export function useTonePlayer(): TonePlayer {
  const [playing, setPlaying] = useState<string | null>(null);
  const [loudnessDb, setLoudness] = useState(FIRST_LOUDNESS_DB);
  const audio = useRef<{ context: AudioContext; gain: GainNode } | null>(null);
  const ended = useRef<() => void>(() => undefined);
  const stop = (): void => {
    void audio.current?.context.close();
    audio.current = null;
    ended.current();
    setPlaying(null);
  };
  useEffect(
    () => () => {
      void audio.current?.context.close();
      ended.current();
    },
    [],
  );

  const start = (track: ToneTrack): void => {
    stop();
    const context = new AudioContext();
    const sampleRateHz = 48_000;
    // A sweep is played whole; what lasts is played round and round.
    const seconds = track.shape.kind === 'sweep' ? track.seconds : Math.min(LISTEN_SECOND, track.seconds);
    const samples = toneSamples(trackSpec({ ...track, seconds }, { sampleRateHz, bits: 16 }));
    const buffer = context.createBuffer(2, samples.length, sampleRateHz);
    const data = Float32Array.from(samples);
    if (track.side !== 'right') buffer.copyToChannel(data, 0);
    if (track.side !== 'left') buffer.copyToChannel(data, 1);
    const source = context.createBufferSource();
    source.buffer = buffer;
    source.loop = track.shape.kind !== 'sweep';
    const gain = context.createGain();
    gain.gain.setValueAtTime(0, context.currentTime);
    gain.gain.linearRampToValueAtTime(voltageFactor(loudnessDb), context.currentTime + RAMP_SECOND);
    source.connect(gain).connect(context.destination);
    source.onended = () => {
      if (audio.current?.context === context) stop();
    };
    source.start();
    audio.current = { context, gain };
    ended.current = tonePlays();
    setPlaying(track.name);
  };
  return {
    playing,
    toggle: (track) => (playing === track.name ? stop() : start(track)),
    loudnessDb,
    setLoudnessDb: (db) => {
      setLoudness(db);
      const now = audio.current;
      now?.gain.gain.linearRampToValueAtTime(voltageFactor(db), now.context.currentTime + RAMP_SECOND);
    },
  };
}
