import type { Finding } from '../../findings.ts';
import { meterStep } from '../../gain/meter.ts';
import type { Reading } from '../../job/records.ts';
import type { Situation } from './situation.ts';

/** Digits that were left out decide the verdict: they are asked for. */
export function coarseFinding({ value, resolution }: Reading, { settings: { meter } }: Situation, reading: string): Finding {
  const step = meterStep(value, meter);
  return {
    code: 'too-coarse',
    grade: 'attention',
    figures: { voltageRms: value, typedStep: resolution, meterStep: step },
    action: { kind: 'read', reading, unit: 'V' },
  };
}
