import type { Finding } from '../../findings.ts';
import { meterStep } from '../../gain/meter.ts';
import type { Reading } from '../../job/records.ts';
import { formatQuantity, plainFigure } from '../../units/formatQuantity.ts';
import type { Situation } from './situation.ts';

/** Digits that were left out decide the verdict: they are asked for. */
export function coarseFinding({ value, resolution }: Reading, { settings: { meter } }: Situation, reading: string): Finding {
  const step = meterStep(value, meter);
  return {
    code: 'too-coarse',
    grade: 'attention',
    figures: { voltageRms: value, typedStep: resolution, meterStep: step },
    words: `${plainFigure(value)} V is too coarse: it could be anything from ${plainFigure(value - resolution / 2)} to ${plainFigure(value + resolution / 2)} V.`,
    next: `Type every digit the meter shows, including zeros. At this level it shows steps of ${formatQuantity(step, 'V')}.`,
    action: { kind: 'read', reading, unit: 'V' },
  };
}
