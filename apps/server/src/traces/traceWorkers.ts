import { CoreError, type CaptureConditions, type TraceAnalysis } from '@yield/core';
import { Piscina } from 'piscina';
import type { TraceTask, TraceTaskResult } from './traceTask.ts';

export interface TraceWorkers {
  /** @throws {CoreError} as `readCapture` and `analyseTrace` do */
  analyse(bytes: Uint8Array, options: TraceTask['options']): Promise<TraceAnalysis>;
  close(): Promise<void>;
}

/** Threads that analyse captures, so that the server keeps answering meanwhile. */
export function startTraceWorkers(): TraceWorkers {
  const fromSource = import.meta.url.endsWith('.ts');
  const pool = new Piscina<TraceTask, TraceTaskResult>({
    filename: new URL(fromSource ? './traceTask.ts' : './traceTask.js', import.meta.url).href,
    maxThreads: 2,
    ...(fromSource ? { execArgv: ['--import', 'tsx'] } : {}),
  });
  return {
    analyse: async (bytes, options) => {
      // The caller keeps its bytes to store them, so the worker gets a copy.
      const result = await pool.run({ bytes, options });
      if (result.kind === 'refused') throw new CoreError(result.code, result.faults);
      return result.analysis;
    },
    close: () => pool.destroy(),
  };
}

/** Judges the bytes of a capture, as they came, under its conditions. */
export type Analyse = (bytes: Buffer, capture: CaptureSpec) => Promise<TraceAnalysis>;

export interface CaptureSpec {
  conditions: CaptureConditions;
  limitThdPercent: number;
  fullScaleVolt: number | null;
  probe: number | null;
}

/** Judges a capture under its conditions: the tone that played, or the sweep. */
export const analyseWith =
  (workers: TraceWorkers): Analyse =>
  (bytes, { conditions, limitThdPercent, fullScaleVolt, probe }) =>
    workers.analyse(bytes, {
      toneHz: conditions.toneHz,
      limitThdPercent,
      ...(fullScaleVolt === null ? {} : { fullScaleVolt }),
      ...(probe === null ? {} : { probe }),
      ...(conditions.at === 'line' && conditions.sweep !== undefined ? { sweep: conditions.sweep } : {}),
    });
