import type { CaptureConditions } from './records.ts';
import type { ReadCaptureOptions } from '../formats/readCapture.ts';
import type { TraceOptions } from '../traces/analyseTrace.ts';

/** A capture as it is to be judged. */
export interface CaptureSpec {
  conditions: CaptureConditions;
  limitThdPercent: number;
  /** of a recording in shares of full scale, in volts; null where nobody said */
  fullScaleVolt?: number | null;
  /** what the probe divides by; null where nobody said */
  probe?: number | null;
}

/** What the conditions of a capture ask of its analysis: the tone that played, the sweep, the pulse, or the table. One answer for everybody who reads its bytes. */
export const traceOptionsOf = ({ conditions, limitThdPercent, fullScaleVolt, probe }: CaptureSpec): ReadCaptureOptions & TraceOptions => ({
  toneHz: conditions.toneHz,
  limitThdPercent,
  ...(fullScaleVolt === null || fullScaleVolt === undefined ? {} : { fullScaleVolt }),
  ...(probe === null || probe === undefined ? {} : { probe }),
  ...(conditions.at !== 'load' && conditions.sweep !== undefined ? { sweep: conditions.sweep } : {}),
  ...(conditions.at === 'air' && conditions.pulse === true ? { pulse: true } : {}),
  ...(conditions.at === 'air' && conditions.curve === true ? { curve: true } : {}),
});
