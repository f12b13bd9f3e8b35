import { encodeWav, formatQuantity, sineTrack, toneSamples, trackFileName, trackSpec, voltageFactor, type ToneFormat } from '@yield/core';
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

const FORMAT: ToneFormat = { sampleRateHz: 44_100, bits: 16 };
const SECONDS = 20;

/** The tone as a file that any source plays. */
function saveTone(hertz: number, levelDbfs: number): void {
  const track = { ...sineTrack(hertz, levelDbfs), seconds: SECONDS };
  const samples = toneSamples(trackSpec(track, FORMAT));
  saveFile(encodeWav([samples, samples], FORMAT), trackFileName(track.name, 1), 'audio/wav');
}
