import { encodeWav, fixed, LONG_SWEEP, SWEEP_FADE_SECOND, toneSamples, voltageFactor, type Gate } from '@yield/core';
import { Circle, Mic, Play, Square } from 'lucide-react';
import { useEffect, useRef, useState, type JSX } from 'react';
import { useLiveInput } from '../../live/useLiveInput.ts';
import { ErrorNotice } from '../../ui/Notice.tsx';
import { levelOf, levelWords } from './liveLevel.ts';

/** Room for a hand that starts the sweep, and for what the cabin sends back. */
const BEFORE_SECOND = 1;
const AFTER_SECOND = 2;
const RECORDED_SECOND = BEFORE_SECOND + LONG_SWEEP.seconds + AFTER_SECOND;
const LEVEL_SECOND = 0.3;
const EVERY_MS = 200;
/** Share of the recording that the samples may be late by. */
const LATE = 0.2;
const LEVELS_DB = [-36, -24, -12, -6, 0] as const;

/** A sweep recorded by the computer's own input, and played by it where it is the source: level first, then the recording. */
export function LiveSweep({ gate, onRecorded }: { gate: Gate; onRecorded: (file: File) => void }): JSX.Element {
  const live = useLiveInput(1000, 1, undefined, RECORDED_SECOND);
  const { newest } = live;
  const isRunning = live.state.kind === 'running';
  const [level, setLevel] = useState<ReturnType<typeof levelOf>>();
  const [share, setShare] = useState<number>();
  const [loudnessDb, setLoudnessDb] = useState<number>(LEVELS_DB[0]);
  const [fault, setFault] = useState<string>();
  const going = useRef<{ timer: ReturnType<typeof setInterval>; context?: AudioContext }>(undefined);
  const end = (): void => {
    if (going.current === undefined) return;
    clearInterval(going.current.timer);
    void going.current.context?.close();
    going.current = undefined;
    setShare(undefined);
  };
  useEffect(() => end, []);
  useEffect(() => {
    if (!isRunning) return undefined;
    const timer = setInterval(() => {
      const samples = newest(LEVEL_SECOND);
      if (samples.length > 0) setLevel(levelOf(samples));
    }, EVERY_MS);
    return () => clearInterval(timer);
  }, [isRunning, newest]);
  const record = (isPlayed: boolean): void => {
    if (live.state.kind !== 'running') return;
    const { sampleRateHz } = live.state.input;
    setFault(undefined);
    const begun = performance.now();
    const timer = setInterval(() => {
      const done = (performance.now() - begun) / 1000 / RECORDED_SECOND;
      setShare(Math.min(1, done));
      if (done < 1) return;
      const samples = newest(RECORDED_SECOND);
      // Samples come a little late; an input that was just opened has not given enough of them yet.
      if (samples.length === 0 && done < 1 + LATE) return;
      end();
      const { words, isUsable } = levelWords(levelOf(samples));
      // What is on its rails or out of the noise is no measurement: said here, before it is kept.
      if (samples.length === 0 || !isUsable) setFault(samples.length === 0 ? 'The input gave nothing.' : words);
      else onRecorded(new File([encodeWav([Float64Array.from(samples)], { sampleRateHz, bits: 24 })], 'live-sweep.wav'));
    }, EVERY_MS);
    going.current = { timer, ...(isPlayed ? { context: playSweep(loudnessDb) } : {}) };
    setShare(0);
  };
  if (!isRunning)
    return (
      <>
        <button type="button" className="btn btn-tall" disabled={live.state.kind === 'asking'} onClick={() => void live.start()}>
          <Mic size={18} aria-hidden /> {live.state.kind === 'asking' ? 'Asking the browser …' : 'Live'}
        </button>
        {live.state.kind === 'failed' && (
          <ErrorNotice>
            {live.state.problem.message} {live.state.problem.next}
          </ErrorNotice>
        )}
      </>
    );
  return (
    <div className="w-full space-y-2 text-left" data-testid="live-sweep">
      <p className="text-sm" role="status">
        {level === undefined ? 'Listening …' : `${fixed(level.rmsDbfs, 0)} dBFS: ${levelWords(level).words}`}
      </p>
      {share === undefined ? (
        <div className="flex flex-wrap gap-2">
          <button type="button" className="btn btn-tall" onClick={() => record(false)}>
            <Circle size={18} aria-hidden /> Record {RECORDED_SECOND} s
          </button>
          <button type="button" className="btn btn-tall" disabled={gate.isLocked} onClick={() => record(true)}>
            <Play size={18} aria-hidden /> Play and record
          </button>
          <label className="text-quiet flex items-center gap-2 text-sm">
            at
            <select className="select min-h-11" value={loudnessDb} onChange={(event) => setLoudnessDb(Number(event.target.value))}>
              {LEVELS_DB.map((db) => (
                <option key={db} value={db}>
                  {db} dBFS
                </option>
              ))}
            </select>
          </label>
        </div>
      ) : (
        <div className="flex items-center gap-3">
          <progress className="progress w-full" value={share} max={1} aria-label="Recording" />
          <button type="button" className="btn btn-tall" onClick={end}>
            <Square size={18} aria-hidden /> Cancel
          </button>
        </div>
      )}
      {fault !== undefined && <ErrorNotice>Not kept: {fault}</ErrorNotice>}
    </div>
  );
}

/** Plays the sweep of the tone set through this computer's output, a second from now. */
function playSweep(loudnessDb: number): AudioContext {
  const context = new AudioContext();
  const { fromHertz, toHertz, seconds } = LONG_SWEEP;
  const sampleRateHz = context.sampleRate;
  const samples = toneSamples({
    shape: { kind: 'sweep', fromHertz, toHertz },
    levelDbfs: 0,
    seconds,
    sampleRateHz,
    fadeSecond: SWEEP_FADE_SECOND,
  });
  const buffer = context.createBuffer(1, samples.length, sampleRateHz);
  buffer.copyToChannel(Float32Array.from(samples), 0);
  const source = context.createBufferSource();
  source.buffer = buffer;
  const gain = context.createGain();
  gain.gain.value = voltageFactor(loudnessDb);
  source.connect(gain).connect(context.destination);
  source.start(context.currentTime + BEFORE_SECOND);
  return context;
}
