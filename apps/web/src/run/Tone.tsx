import { encodeWav, formatQuantity, plainFigure, toneSamples, voltageFactor } from '@yield/core';
import { Download, Play, Square } from 'lucide-react';
import { useEffect, useRef, useState, type JSX } from 'react';
import { saveFile } from '../ui/saveFile.ts';
import { useKeys } from '../ui/useKeys.ts';

/** Plays the step's tone through this computer's output: a sine at its recorded level, faded in so that nothing clicks. */
export function Tone({ hertz, levelDbfs }: { hertz: number; levelDbfs: number }): JSX.Element {
  const [playing, setPlaying] = useState(false);
  const context = useRef<AudioContext | null>(null);
  const stop = (): void => {
    void context.current?.close();
    context.current = null;
    setPlaying(false);
  };
  const start = (): void => {
    const audio = new AudioContext();
    const gain = audio.createGain();
    const sine = audio.createOscillator();
    sine.frequency.value = hertz;
    gain.gain.setValueAtTime(0, audio.currentTime);
    gain.gain.linearRampToValueAtTime(voltageFactor(levelDbfs), audio.currentTime + 0.1);
    sine.connect(gain).connect(audio.destination);
    sine.start();
    context.current = audio;
    setPlaying(true);
  };
  const toggle = (): void => (playing ? stop() : start());
  useKeys({ t: toggle });
  useEffect(() => () => void context.current?.close(), []);
  return (
    <div className="flex max-sm:items-center max-sm:gap-3 sm:flex-col sm:items-start">
      <p className="label">Tone</p>
      <p className="text-xl font-semibold sm:mt-1">{formatQuantity(hertz, 'Hz')}</p>
      <p className="text-quiet text-sm max-sm:flex-1">at {formatQuantity(levelDbfs, 'dBFS')}</p>
      <button type="button" className={`btn btn-tall sm:mt-2 ${playing ? 'btn-primary' : ''}`} onClick={toggle} aria-pressed={playing}>
        {playing ? <Square size={18} aria-hidden /> : <Play size={18} aria-hidden />}
        {playing ? 'Stop' : 'Play'} <kbd className="key">t</kbd>
      </button>
      <button
        type="button"
        className="btn btn-ghost text-action mt-1 -ml-3 max-sm:hidden"
        title="For a stick or disc: 20 seconds, 44.1 kHz, 16 bit, both sides"
        onClick={() => saveTone(hertz, levelDbfs)}
      >
        <Download size={18} aria-hidden /> WAV
      </button>
    </div>
  );
}

const SAMPLE_RATE_HZ = 44_100;
const SECONDS = 20;
const FADE_SECOND = 0.05;

/** The tone as a file that any source plays. */
function saveTone(hertz: number, levelDbfs: number): void {
  const samples = toneSamples({
    shape: { kind: 'sine', hertz },
    levelDbfs,
    seconds: SECONDS,
    sampleRateHz: SAMPLE_RATE_HZ,
    fadeSecond: FADE_SECOND,
  });
  const bytes = encodeWav([samples, samples], { sampleRateHz: SAMPLE_RATE_HZ, bits: 16 });
  saveFile(bytes, `tone-${plainFigure(hertz)}-hz-${plainFigure(Math.abs(levelDbfs))}-db-down.wav`, 'audio/wav');
}
