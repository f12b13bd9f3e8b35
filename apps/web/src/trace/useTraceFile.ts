import { traceOptionsOf } from '@yield/core';
import type { TraceInfo } from '@yield/contract';
import { useEffect, useState } from 'react';
import { NOT_REACHED, refusalOf } from '../api/problem.ts';
import type { LoadedCapture } from '../workers/trace.worker.ts';
import { openTraceSession, type TraceSession } from '../workers/traceSession.ts';

export type OpenTrace = Pick<TraceInfo, 'id' | 'conditions' | 'channelIndex' | 'fullScaleVolt' | 'probe'>;

export type TraceFile =
  | { kind: 'working'; words: string }
  | { kind: 'failed'; message: string }
  | { kind: 'open'; session: TraceSession; capture: LoadedCapture };

/** Fetches the original file and opens it in a worker, which is ended when the view is left. */
export function useTraceFile(tuneId: string, trace: OpenTrace, limitThdPercent: number): TraceFile {
  const [file, setFile] = useState<TraceFile>({ kind: 'working', words: 'Fetching the capture' });
  const { id, conditions, fullScaleVolt, probe } = trace;
  useEffect(() => {
    const abort = new AbortController();
    const session = openTraceSession();
    const open = async (): Promise<void> => {
      const response = await fetch(`/api/v1/tunes/${tuneId}/traces/${id}/file`, { signal: abort.signal });
      if (!response.ok) {
        setFile({ kind: 'failed', message: refusalOf(response.status, await response.text()).text });
        return;
      }
      const bytes = new Uint8Array(await response.arrayBuffer());
      const options = traceOptionsOf({
        conditions,
        limitThdPercent,
        ...(fullScaleVolt === undefined ? {} : { fullScaleVolt }),
        ...(probe === undefined ? {} : { probe }),
      });
      const outcome = await session.load(bytes, options, (words) => setFile({ kind: 'working', words }));
      setFile(
        outcome.kind === 'loaded' ? { kind: 'open', session, capture: outcome.capture } : { kind: 'failed', message: outcome.message },
      );
    };
    open().catch(() => {
      if (!abort.signal.aborted) setFile({ kind: 'failed', message: NOT_REACHED });
    });
    return () => {
      abort.abort();
      session.close();
    };
  }, [tuneId, id, conditions, limitThdPercent, fullScaleVolt, probe]);
  return file;
}
