import { isSameFinding, type Finding, type Grade } from '../findings.ts';
import type { RunStep } from './run.ts';

/** One thing that is wrong with a tune, or no longer counts, and the steps at which it is mended. */
export interface TuneFinding {
  finding: Finding;
  /** in the order of the run, one at least */
  steps: readonly RunStep[];
}

/** Worst first. What is good needs nobody, and a note mends nothing. */
const LISTED: readonly Grade[] = ['stop', 'attention', 'stale'];

/**
 * Everything that a run finds fault with, worst first, then in the order of the work; the same at several steps stands once.
 *
 * Steps that were left out with a reason are left out here too.
 */
export function tuneFindings(steps: readonly RunStep[]): TuneFinding[] {
  const found: { finding: Finding; steps: RunStep[] }[] = [];
  for (const step of steps) {
    if (!step.isCounted || step.state.status === 'skipped') continue;
    for (const finding of step.state.findings) {
      if (!LISTED.includes(finding.grade)) continue;
      const known = found.find((each) => isSameFinding(each.finding, finding));
      if (known === undefined) found.push({ finding, steps: [step] });
      else if (!known.steps.includes(step)) known.steps.push(step);
    }
  }
  return found.sort((a, b) => LISTED.indexOf(a.finding.grade) - LISTED.indexOf(b.finding.grade));
}
