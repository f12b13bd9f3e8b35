import type { EqualiserFit, EqualiserFitInput, Fault } from '@yield/core';
import * as Comlink from 'comlink';
import { useEffect, useState } from 'react';
import type { FitWorker } from './fit.worker.ts';

/** The fit of an input, made in a worker; what comes late for an older input is let go. */
export function useFit(input: EqualiserFitInput | undefined): { fit?: EqualiserFit; faults: readonly Fault[]; isBusy: boolean } {
  const [done, setDone] = useState<{ of: EqualiserFitInput; fit?: EqualiserFit; faults: readonly Fault[] }>();
  useEffect(() => {
    if (input === undefined) return undefined;
    const worker = new Worker(new URL('./fit.worker.ts', import.meta.url), { type: 'module' });
    const timer = setTimeout(() => {
      void Comlink.wrap<FitWorker>(worker)
        .fit(input)
        .then((result) => setDone({ of: input, ...('fit' in result ? { fit: result.fit, faults: [] } : { faults: result.faults }) }));
    }, 150);
    return () => {
      clearTimeout(timer);
      worker.terminate();
    };
  }, [input]);
  const isOf = done?.of === input;
  return {
    ...(isOf && done?.fit !== undefined ? { fit: done.fit } : {}),
    faults: isOf ? (done?.faults ?? []) : [],
    isBusy: input !== undefined && !isOf,
  };
}
