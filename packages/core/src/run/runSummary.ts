import { STATUSES_BY_GRAVITY, type Judgement, type StepStatus } from './frame/judgement.ts';
import type { RunStep } from './run.ts';

export interface RunSummary {
  counts: Record<StepStatus, number>;
  total: number;
  /** the first step that still wants something */
  next?: SummaryRow;
  /** steps that want attention, worst first */
  attention: SummaryRow[];
}

export interface SummaryRow {
  stepId: string;
  title: string;
  status: StepStatus;
  words: string;
}

/** Raised whenever the same tune could get another summary than before. */
export const SUMMARY_VERSION = 2;

const GRAVITY = STATUSES_BY_GRAVITY.slice(0, STATUSES_BY_GRAVITY.indexOf('open'));

/** What is next on a tune and what needs attention. */
export function runSummary(run: readonly RunStep[]): RunSummary {
  const counted = run.filter(({ isCounted }) => isCounted);
  const rows = counted.map(({ id, title, state }): SummaryRow => ({ stepId: id, title, status: state.status, words: wordsOf(state) }));
  const counts: RunSummary['counts'] = { open: 0, done: 0, stale: 0, 'out-of-tolerance': 0, stop: 0, skipped: 0 };
  for (const { status } of rows) counts[status] += 1;
  const next = rows.find(({ status }) => status !== 'done' && status !== 'skipped');
  return {
    counts,
    total: rows.length,
    ...(next === undefined ? {} : { next }),
    attention: rows
      .filter(({ status }) => GRAVITY.includes(status))
      .sort((a, b) => GRAVITY.indexOf(a.status) - GRAVITY.indexOf(b.status))
      // A load that is too low stops both steps of its channel: once is enough.
      .filter(({ words }, i, all) => all.findIndex((other) => other.words === words) === i),
  };
}

function wordsOf({ findings }: Judgement): string {
  const finding = findings.find(({ grade }) => grade !== 'good') ?? findings[0];
  return finding === undefined ? 'Not started' : finding.words;
}
