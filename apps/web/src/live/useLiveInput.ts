import type { ChannelAnalysis } from '@yield/core';
import { useCallback, useEffect, useRef, useState } from 'react';
import { openTraceSession, type TraceSession } from '../workers/traceSession.ts';
import { inputProblem, openAudioInput, type AudioInput, type InputProblem } from './audioInput.ts';

export type LiveState =
  | { kind: 'off' }
  | { kind: 'asking' }
  | { kind: 'running'; input: AudioInput }
  | { kind: 'failed'; problem: InputProblem };

export interface Judged {
  channel: ChannelAnalysis;
  samples: Float32Array;
  sampleRateHz: number;
  /** what one share of full scale was taken for, in volts; 1 where that is not known */
  scaleVolt: number;
}

/** A second is kept where nothing more is said: a capture of it has fifty cycles of the lowest tone in use. */
const KEPT_SECOND = 1;
/** A third of that is judged at a time, some four times a second. */
const JUDGED_SECOND = 0.35;
const EVERY_MS = 250;

export interface LiveInput {
  state: LiveState;
  start: (deviceId?: string) => Promise<void>;
  stop: () => void;
  /** the newest samples, oldest first; empty before there are enough */
  newest: (seconds: number) => Float32Array;
  judged: Judged | null;
}

/**
 * The computer's audio input, judged in a worker again and again while it runs.
 *
 * @param keptSecond - the most that can be asked for at a time
 */
export function useLiveInput(
  toneHz: number,
  limitThdPercent: number,
  fullScaleVolt: number | undefined,
  keptSecond = KEPT_SECOND,
): LiveInput {
  const [state, setState] = useState<LiveState>({ kind: 'off' });
  const [judged, setJudged] = useState<Judged | null>(null);
  const kept = useRef({ samples: new Float32Array(0), at: 0, filled: 0 });
  const input = useRef<AudioInput | null>(null);
  const session = useRef<TraceSession | null>(null);

  const stop = useCallback((): void => {
    input.current?.close();
    input.current = null;
    session.current?.close();
    session.current = null;
    setState({ kind: 'off' });
  }, []);
  useEffect(() => stop, [stop]);

  const newest = useCallback((seconds: number): Float32Array => {
    const { samples, at, filled } = kept.current;
    const count = Math.round(seconds * (input.current?.sampleRateHz ?? 0));
    if (count === 0 || filled < count) return new Float32Array(0);
    return Float32Array.from({ length: count }, (_, n) => samples[(at - count + n + samples.length) % samples.length]!);
  }, []);

  const start = async (deviceId?: string): Promise<void> => {
    stop();
    setState({ kind: 'asking' });
    try {
      const opened = await openAudioInput(deviceId, {
        onSamples: (block) => {
          const ring = kept.current;
          for (const value of block) {
            ring.samples[ring.at] = value;
            ring.at = (ring.at + 1) % ring.samples.length;
          }
          ring.filled += block.length;
        },
        onEnd: (problem) => {
          stop();
          setState({ kind: 'failed', problem });
        },
      });
      kept.current = { samples: new Float32Array(Math.ceil(1.2 * keptSecond * opened.sampleRateHz)), at: 0, filled: 0 };
      input.current = opened;
      session.current = openTraceSession();
      setState({ kind: 'running', input: opened });
    } catch (error) {
      stop();
      setState({ kind: 'failed', problem: inputProblem(error) });
    }
  };

  const running = state.kind === 'running' ? state.input : null;
  useEffect(() => {
    if (running === null) return undefined;
    let live = true;
    let busy = false;
    const timer = setInterval(() => {
      const samples = newest(JUDGED_SECOND);
      // A slow worker is not flooded: what comes while it is busy is left out.
      if (busy || samples.length === 0 || session.current === null) return;
      busy = true;
      const { sampleRateHz } = running;
      void session.current
        .judge(samples, sampleRateHz, { toneHz, limitThdPercent }, fullScaleVolt)
        .then((channel) => {
          if (live) setJudged({ channel, samples, sampleRateHz, scaleVolt: fullScaleVolt ?? 1 });
        })
        .finally(() => {
          busy = false;
        });
    }, EVERY_MS);
    return () => {
      live = false;
      clearInterval(timer);
    };
  }, [running, toneHz, limitThdPercent, fullScaleVolt, newest]);

  return { state, start, stop, newest, judged };
}
