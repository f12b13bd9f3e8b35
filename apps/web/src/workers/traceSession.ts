import type { ReadCaptureOptions, TraceOptions } from '@yield/core';
import * as Comlink from 'comlink';
import type { LoadOutcome, TraceWorker } from './trace.worker.ts';

export interface TraceSession {
  /** runs in a worker of its own; `onStage` says what it is at */
  load(bytes: Uint8Array, options: ReadCaptureOptions & TraceOptions, onStage: (words: string) => void): Promise<LoadOutcome>;
  envelope: Comlink.Remote<TraceWorker>['envelope'];
  spectrum: Comlink.Remote<TraceWorker>['spectrum'];
  judge: Comlink.Remote<TraceWorker>['judge'];
  /** ends the worker at once, whatever it is doing */
  close(): void;
}

/** A capture being worked on: one worker, its memory freed by `close`. */
export function openTraceSession(): TraceSession {
  const worker = new Worker(new URL('./trace.worker.ts', import.meta.url), { type: 'module' });
  const remote = Comlink.wrap<TraceWorker>(worker);
  return {
    load: async (bytes, options, onStage) => {
      // Progress comes over a channel of its own, and may come after the outcome: then it is no news any more.
      let settled = false;
      const whileOpen = (words: string): void => {
        if (!settled) onStage(words);
      };
      try {
        return await remote.load(Comlink.transfer(bytes, [bytes.buffer]), options, Comlink.proxy(whileOpen));
      } finally {
        settled = true;
      }
    },
    envelope: remote.envelope,
    spectrum: remote.spectrum,
    judge: remote.judge,
    close: () => {
      worker.terminate();
    },
  };
}
