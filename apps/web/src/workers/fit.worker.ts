import { CoreError, equaliserFit, type EqualiserFit, type EqualiserFitInput, type Fault } from '@yield/core';
import * as Comlink from 'comlink';

const fitWorker = {
  /** An error cannot carry its fields across, so faults go as data. */
  fit(input: EqualiserFitInput): { fit: EqualiserFit } | { faults: readonly Fault[] } {
    try {
      return { fit: equaliserFit(input) };
    } catch (error) {
      if (error instanceof CoreError) return { faults: error.faults };
      throw error;
    }
  },
};

export type FitWorker = typeof fitWorker;

Comlink.expose(fitWorker);
