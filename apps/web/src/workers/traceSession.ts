import type { ReadCaptureOptions, TraceOptions } from '@yield/core';
import * as Comlink from 'comlink';
import type { LoadOutcome, TraceWorker } from './trace.worker.ts';

export interface TraceSession {
  /** runs in a worker of its own; `onStage` says what it is at */
  load(bytes: Uint8Array, options: ReadCaptureOptions & TraceOptions, onStage: (words: string) => void): Promise<LoadOutcome>;
  envelope: Comlink.Remote<TraceWorker>['envelope'];
  spectrum: Comlink.Remote<TraceWorker>['spectrum'];
  /** ends the worker at once, whatever it is doing */
  close(): void;
}

/** A capture being worked on: one worker, its memory freed by `close`. */
export function openTraceSession(): TraceSession {
  const worker = new Worker(new URL('./trace.worker.ts', import.meta.url), { type: 'module' });
  const remote = Comlink.wrap<TraceWorker>(worker);
  return {
    load: (bytes, options, onStage) => remote.load(Comlink.transfer(bytes, [bytes.buffer]), options, Comlink.proxy(onStage)),
    envelope: remote.envelope,
    spectrum: remote.spectrum,
    close: () => {
      worker.terminate();
    },
  };
}
