import type { Finding } from '../../findings.ts';
import type { QuantityKind } from '../../job/quantityKind.ts';
import type { Quantity, Subject } from '../frame/quantities.ts';
import type { RunStep } from '../frame/runStep.ts';

/** One quantity that something Yield holds contradicts, or that is unsafe. */
export interface Doubt {
  quantity: Quantity;
  of: QuantityKind;
  /** the step at which it is decided: something is read again there, voided, mended, or skipped with a reason */
  at: string;
  /** its finding, with the quickest check that decides */
  finding: Finding;
  /** found by what several steps hold together: the step where it is decided does not know of it by itself */
  isWitnessed: boolean;
}

/** A stop is a danger, not a doubt alone: nothing plays or is connected behind it. */
export const isUnsafe = ({ finding }: Doubt): boolean => finding.grade === 'stop';

export function subjectOf({ id, channels, kind, step }: RunStep): Subject {
  const outputId = kind.outputIdOf?.(step);
  return { id, channels, ...(outputId === undefined ? {} : { outputId }) };
}
