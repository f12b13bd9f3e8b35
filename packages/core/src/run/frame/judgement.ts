import type { Action, Finding } from '../../findings.ts';

export type StepStatus = 'open' | 'done' | 'stale' | 'out-of-tolerance' | 'stop' | 'skipped';

/** Worst first. */
export const STATUSES_BY_SEVERITY: readonly StepStatus[] = ['stop', 'out-of-tolerance', 'stale', 'open', 'done', 'skipped'];

/** Where a step stands. */
export interface Judgement<F = unknown> {
  status: StepStatus;
  findings: Finding[];
  /** what the findings rest on, for the screen */
  figures: F;
  /** the one next move; left out where nothing is left to do */
  action?: Action;
}

/** The judgement that something no longer counts, and why. */
export const staleFinding = (what: string, reasons: readonly string[], next: string): Finding => ({
  code: 'stale',
  grade: 'stale',
  figures: { reasons: reasons.length, what, why: reasons, next },
});
