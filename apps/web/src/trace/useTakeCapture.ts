import { ANALYSIS_VERSION, traceOptionsOf, type CaptureConditions, type TraceAnalysis } from '@yield/core';
import { useEffect, useRef, useState } from 'react';
import { newUuid } from '../api/newId.ts';
import { keepBytes } from '../store/entryStore.ts';
import { entryAdded, nextPlace, storageRefused } from '../store/outbox.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import type { TuneRun } from '../tune/useTuneRun.ts';
import { openTraceSession, type TraceSession } from '../workers/traceSession.ts';

/** The server's own default limit; a larger file is refused here already, before it is read. */
const LIMIT_BYTES = 256_000_000;

export type TakeState =
  | { kind: 'idle' }
  | { kind: 'working'; words: string; fileName: string }
  | { kind: 'refused'; fileName: string; message: string };

export interface CaptureTarget {
  run: TuneRun;
  stepId: string;
  /** what holds now; asked for when a capture is taken */
  conditions: (file: File) => CaptureConditions;
  onTaken?: () => void;
}

export interface TakeCapture {
  state: TakeState;
  /** @param fullScaleVolt - peak of digital full scale, or of the recorder's rails, where it is known; @param probe - multiplies the voltages */
  take: (file: File, fullScaleVolt?: number, probe?: number) => Promise<void>;
  cancel: () => void;
}

/** Takes captures for one step: each is judged in a worker and handed to the outbox. */
export function useTakeCapture({ run, stepId, conditions, onTaken }: CaptureTarget): TakeCapture {
  const [state, setState] = useState<TakeState>({ kind: 'idle' });
  const session = useRef<TraceSession | null>(null);
  const dispatch = useAppDispatch();
  // With the bench open it is the bench that was captured.
  const isBench = useAppSelector(({ bench }) => bench.open);
  useEffect(() => () => session.current?.close(), []);

  const take = async (file: File, fullScaleVolt?: number, probe?: number): Promise<void> => {
    if (file.size > LIMIT_BYTES) {
      setState({
        kind: 'refused',
        fileName: file.name,
        message: `The file has ${Math.round(file.size / 1e6)} MB; the limit is 256 MB. Save a shorter stretch: a few dozen cycles are enough.`,
      });
      return;
    }
    setState({ kind: 'working', words: 'Opening', fileName: file.name });
    const bytes = new Uint8Array(await file.arrayBuffer());
    const now: CaptureConditions = { ...conditions(file), ...(isBench ? { isSimulated: true as const } : {}) };
    const reading = { ...(fullScaleVolt === undefined ? {} : { fullScaleVolt }), ...(probe === undefined ? {} : { probe }) };
    const work = openTraceSession();
    session.current = work;
    const outcome = await work.load(
      bytes.slice(),
      traceOptionsOf({ conditions: now, limitThdPercent: run.tune.settings.rules.limitThdPercent, ...reading }),
      (words) => setState({ kind: 'working', words, fileName: file.name }),
    );
    work.close();
    session.current = null;
    if (outcome.kind === 'refused') {
      setState({ kind: 'refused', fileName: file.name, message: outcome.message });
      return;
    }
    const id = newUuid();
    const takenAt = new Date().toISOString();
    await keepBytes(id, bytes).catch(() => dispatch(storageRefused()));
    dispatch(
      entryAdded({
        kind: 'trace',
        id,
        tuneId: run.tune.id,
        queuedAt: nextPlace(),
        contentType: /\.wav$/i.test(file.name) ? 'audio/wav' : 'text/csv',
        upload: { stepId, fileName: file.name, takenAt, conditions: JSON.stringify(now), ...reading },
        trace: {
          id,
          stepId,
          fileName: file.name,
          channelIndex: 0,
          analysis: cloned(outcome.capture.analysis),
          conditions: now,
          takenAt,
          sha256: '',
          byteLength: bytes.length,
          analysisVersion: ANALYSIS_VERSION,
          ...reading,
        },
      }),
    );
    setState({ kind: 'idle' });
    onTaken?.();
  };
  const cancel = (): void => {
    session.current?.close();
    session.current = null;
    setState({ kind: 'idle' });
  };
  return { state, take, cancel };
}

/** The worker's answer is plain data; the store wants it free of undefined fields. */
const cloned = (analysis: TraceAnalysis): TraceAnalysis => JSON.parse(JSON.stringify(analysis)) as TraceAnalysis;
