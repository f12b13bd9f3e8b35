import {
  encodeWav,
  formatQuantity,
  sineTrack,
  toneSamples,
  trackFileName,
  trackSpec,
  voltageFactor,
  type Gate,
  type ToneFormat,
} from '@yield/core';
import { Download, Play, Square, Volume2 } from 'lucide-react';
import { useEffect, useRef, useState, type JSX } from 'react';
import { FIRST_LOUDNESS_DB, RAMP_SECOND } from '../../tones/softly.ts';
import { saveFile } from '../../ui/saveFile.ts';
import { useKeys } from '../../ui/useKeys.ts';

/**
 * Plays the step's tone through this computer's output, faded in so that nothing clicks: softly at first, for ears that are
 * near; at its recorded level on a word, where this computer is the source. Where a tweeter may hear it, it begins lower still
 * and rises in small steps.
 */
export function Tone({ hertz, levelDbfs, gate: { isLocked, start } }: ToneProps): JSX.Element {
  const [playing, setPlaying] = useState(false);
  const firstDb = Math.min(FIRST_LOUDNESS_DB, start?.levelDb ?? 0);
  // Against the recorded level.
  const [loudnessDb, setLoudnessDb] = useState(firstDb);
  const audio = useRef<{ context: AudioContext; gain: GainNode; sine: OscillatorNode } | null>(null);
  const stop = (): void => {
    void audio.current?.context.close();
    audio.current = null;
    setPlaying(false);
  };
  const begin = (): void => {
    const context = new AudioContext();
    const gain = context.createGain();
    const sine = context.createOscillator();
    sine.frequency.value = hertz;
    gain.gain.setValueAtTime(0, context.currentTime);
    gain.gain.linearRampToValueAtTime(voltageFactor(levelDbfs + firstDb), context.currentTime + RAMP_SECOND);
    sine.connect(gain).connect(context.destination);
    sine.start();
    audio.current = { context, gain, sine };
    setPlaying(true);
    setLoudnessDb(firstDb);
  };
  const nextDb = start === undefined ? 0 : Math.min(0, loudnessDb + RAISE_DB);
  const raise = (): void => {
    const now = audio.current;
    now?.gain.gain.linearRampToValueAtTime(voltageFactor(levelDbfs + nextDb), now.context.currentTime + RAMP_SECOND);
    setLoudnessDb(nextDb);
  };
  const toggle = (): void => {
    if (playing) stop();
    else if (!isLocked) begin();
  };
  // The next tone of a row follows on while one plays.
  useEffect(() => {
    if (audio.current !== null) audio.current.sine.frequency.value = hertz;
  }, [hertz]);
  useKeys({ t: toggle });
  useEffect(() => () => void audio.current?.context.close(), []);
  return (
    <div className="flex max-sm:items-center max-sm:gap-3 sm:flex-col sm:items-start">
      <p className="label">Tone</p>
      <p className="text-xl font-semibold sm:mt-1">{formatQuantity(hertz, 'Hz')}</p>
      <p className="text-quiet text-sm max-sm:flex-1">at {formatQuantity(levelDbfs, 'dBFS')}</p>
      <button
        type="button"
        className={`btn btn-tall sm:mt-2 ${playing ? 'btn-primary' : ''}`}
        onClick={toggle}
        aria-pressed={playing}
        disabled={isLocked && !playing}
      >
        {playing ? <Square size={18} aria-hidden /> : <Play size={18} aria-hidden />}
        {playing ? 'Stop' : 'Play'} <kbd className="key">t</kbd>
      </button>
      {playing ? (
        <>
          <button
            type="button"
            className="btn mt-1 max-sm:mt-0"
            disabled={loudnessDb === 0}
            onClick={raise}
            title="Where this computer is the source"
          >
            <Volume2 size={18} aria-hidden /> {loudnessDb === 0 ? 'As recorded' : start === undefined ? 'Softly: raise' : 'Raise 6 dB'}
          </button>
          {start?.volt !== undefined && (
            <p className="text-quiet mt-1 max-w-36 text-sm leading-snug" role="status">
              {formatQuantity(start.volt * voltageFactor(loudnessDb - start.levelDb), 'V')} at the terminals, once the gain is right
            </p>
          )}
        </>
      ) : (
        <button
          type="button"
          className="btn btn-ghost text-action mt-1 -ml-3 max-sm:hidden"
          title="For a stick or disc: 20 seconds, 44.1 kHz, 16 bit, both sides"
          onClick={() => saveTone(hertz, levelDbfs)}
        >
          <Download size={18} aria-hidden /> WAV
        </button>
      )}
    </div>
  );
}

/** One press further, for a tweeter. */
const RAISE_DB = 6;

interface ToneProps {
  hertz: number;
  levelDbfs: number;
  /** of the step, from what its kind plays: whether anything may play yet, and how low it begins where a tweeter may hear it */
  gate: Gate;
}

const FORMAT: ToneFormat = { sampleRateHz: 44_100, bits: 16 };
const SECONDS = 20;

/** The tone as a file that any source plays. */
function saveTone(hertz: number, levelDbfs: number): void {
  const track = { ...sineTrack(hertz, levelDbfs), seconds: SECONDS };
  const samples = toneSamples(trackSpec(track, FORMAT));
  saveFile(encodeWav([samples, samples], FORMAT), trackFileName(track.name, 1), 'audio/wav');
}
