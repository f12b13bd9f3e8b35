import { encodeWav } from '@yield/core';
import { Circle, Mic } from 'lucide-react';
import { useEffect, useRef, useState, type JSX } from 'react';
import { useLiveInput } from '../../live/useLiveInput.ts';
import { ErrorNotice } from '../../ui/Notice.tsx';

/** Long enough for a hand that starts the pulse, and for some silence before it. */
const RECORDED_SECOND = 4;

/** The pulse through the computer's own input: listening, then four seconds of it. */
export function LivePulse({ disabled, onRecorded }: { disabled: boolean; onRecorded: (file: File) => void }): JSX.Element {
  const live = useLiveInput(1000, 1, undefined, RECORDED_SECOND);
  const [isRecording, setRecording] = useState(false);
  const isHere = useRef(true);
  useEffect(() => {
    isHere.current = true;
    return () => {
      isHere.current = false;
    };
  }, []);
  const isRunning = live.state.kind === 'running';
  const record = async (): Promise<void> => {
    if (live.state.kind !== 'running') return;
    const { sampleRateHz } = live.state.input;
    setRecording(true);
    await new Promise((ended) => setTimeout(ended, RECORDED_SECOND * 1000));
    // Whoever left meanwhile wants no recording kept at a step that is no longer looked at.
    if (!isHere.current) return;
    const samples = live.newest(RECORDED_SECOND);
    setRecording(false);
    if (samples.length > 0) onRecorded(new File([encodeWav([Float64Array.from(samples)], { sampleRateHz, bits: 24 })], 'live-pulse.wav'));
  };
  return (
    <>
      {isRunning ? (
        <button type="button" className="btn btn-tall" disabled={isRecording} onClick={() => void record()}>
          <Circle size={18} aria-hidden /> {isRecording ? 'Recording: play the pulse now' : `Record ${RECORDED_SECOND} s`}
        </button>
      ) : (
        <button
          type="button"
          className="btn btn-tall"
          disabled={disabled || live.state.kind === 'asking'}
          onClick={() => void live.start()}
        >
          <Mic size={18} aria-hidden /> {live.state.kind === 'asking' ? 'Asking the browser …' : 'Live'}
        </button>
      )}
      {live.state.kind === 'failed' && (
        <ErrorNotice>
          {live.state.problem.message} {live.state.problem.next}
        </ErrorNotice>
      )}
    </>
  );
}
