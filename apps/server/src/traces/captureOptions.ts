import type { CaptureConditions } from '@yield/core';
import type { TraceAsk } from './traceTask.ts';

/** A capture as it is to be judged. */
export interface CaptureSpec {
  conditions: CaptureConditions;
  limitThdPercent: number;
  fullScaleVolt: number | null;
  probe: number | null;
}

/** What its conditions ask of the analysis: the tone that played, or the sweep. */
export const captureOptions = ({ conditions, limitThdPercent, fullScaleVolt, probe }: CaptureSpec): TraceAsk['options'] => ({
  toneHz: conditions.toneHz,
  limitThdPercent,
  ...(fullScaleVolt === null ? {} : { fullScaleVolt }),
  ...(probe === null ? {} : { probe }),
  ...(conditions.at !== 'load' && conditions.sweep !== undefined ? { sweep: conditions.sweep } : {}),
  ...(conditions.at === 'air' && conditions.pulse === true ? { pulse: true } : {}),
  ...(conditions.at === 'air' && conditions.curve === true ? { curve: true } : {}),
});
