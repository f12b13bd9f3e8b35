import {
  analyseTrace,
  CoreError,
  readCapture,
  type Fault,
  type CoreErrorCode,
  type ReadCaptureOptions,
  type TraceAnalysis,
  type TraceOptions,
} from '@yield/core';

export interface TraceTask {
  bytes: Uint8Array;
  options: ReadCaptureOptions & TraceOptions;
}

/** An error cannot carry its fields across the thread border, so it goes as data. */
export type TraceTaskResult =
  { kind: 'analysed'; analysis: TraceAnalysis } | { kind: 'refused'; code: CoreErrorCode; faults: readonly Fault[] };

/** Runs on a worker thread: reads and analyses one capture. */
export default function runTraceTask({ bytes, options }: TraceTask): TraceTaskResult {
  try {
    return { kind: 'analysed', analysis: analyseTrace(readCapture(bytes, options), options) };
  } catch (error) {
    if (error instanceof CoreError) return { kind: 'refused', code: error.code, faults: error.faults };
    throw error;
  }
}
