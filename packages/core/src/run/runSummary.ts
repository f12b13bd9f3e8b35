import { isSameFinding, type Finding, type Say } from '../findings.ts';
import { STATUSES_BY_SEVERITY, type Judgement, type StepStatus } from './frame/judgement.ts';
import type { FilterPlace } from '../job/chain.ts';
import { formatQuantity } from '../units/formatQuantity.ts';
import type { CrossoverFigures, CrossoverSubject } from './kinds/crossover/judge.ts';
import type { RunStep } from './run.ts';

export interface RunSummary {
  counts: Record<StepStatus, number>;
  total: number;
  /** the first step that still wants something */
  next?: SummaryRow;
  /** steps that want attention, worst first */
  attention: SummaryRow[];
  /** what was proved of filters that are set on gear: how far their corners are off what is set */
  corners?: ProvedCorner[];
  /** the tune could not be worked out at all, and why */
  fault?: string;
}

export interface ProvedCorner {
  place: FilterPlace;
  /** of an amplifier; the chain names source and processor */
  amplifier?: string;
  /** "high-pass of Front left, set to 80.0 Hz" */
  what: string;
  /** above 0 is higher than set */
  offPercent: number;
}

export interface SummaryRow {
  stepId: string;
  title: string;
  status: StepStatus;
  words: string;
}

/** Raised whenever the same tune could get another summary than before. */
export const SUMMARY_VERSION = 6;

/** Of a tune of which nothing is known. */
export const emptySummary = (): RunSummary => ({
  counts: { open: 0, done: 0, stale: 0, 'out-of-tolerance': 0, stop: 0, skipped: 0 },
  total: 0,
  attention: [],
});

const SEVERITY = STATUSES_BY_SEVERITY.slice(0, STATUSES_BY_SEVERITY.indexOf('open'));

/** What is next on a tune and what needs attention. */
export function runSummary(run: readonly RunStep[], say: Say): RunSummary {
  const counted = run.filter(({ isCounted }) => isCounted);
  const rows = counted.map(({ id, title, state }) => ({ stepId: id, title, status: state.status, finding: leadingOf(state) }));
  const { counts } = emptySummary();
  for (const { status } of rows) counts[status] += 1;
  const next = rows.find(({ status }) => status !== 'done' && status !== 'skipped');
  return {
    counts,
    total: rows.length,
    ...(next === undefined ? {} : { next: rowOf(next, say) }),
    attention: rows
      .filter(({ status }) => SEVERITY.includes(status))
      .sort((a, b) => SEVERITY.indexOf(a.status) - SEVERITY.indexOf(b.status))
      // A load that is too low stops both steps of its channel: once is enough.
      .filter(({ finding }, i, all) => all.findIndex((other) => isSameFinding(other.finding, finding)) === i)
      .map((row) => rowOf(row, say)),
    ...cornersOf(counted),
  };
}

/** Dials and menus whose filter was measured, its proof done. */
function cornersOf(run: readonly RunStep[]): Pick<RunSummary, 'corners'> {
  const corners = run.flatMap(({ kind, step, state }): ProvedCorner[] => {
    if (kind.kind !== 'crossover' || state.status !== 'done') return [];
    const { filter, channel, amplifier } = step as unknown as CrossoverSubject;
    const { proof } = state.figures as CrossoverFigures;
    if (proof.fit === undefined || proof.fit.verdict === 'not-a-filter') return [];
    return [
      {
        place: filter.place,
        ...(filter.place === 'amplifier' ? { amplifier: amplifier.name } : {}),
        what: `${filter.kind === 'highpass' ? 'high-pass' : 'low-pass'} of ${channel.name}, set to ${formatQuantity(filter.cornerHz, 'Hz')}`,
        offPercent: Number((100 * (proof.fit.cornerHz / filter.cornerHz - 1)).toFixed(1)),
      },
    ];
  });
  return corners.length === 0 ? {} : { corners };
}

const leadingOf = ({ findings }: Judgement): Finding | undefined => findings.find(({ grade }) => grade !== 'good') ?? findings[0];

const rowOf = ({ finding, ...row }: Omit<SummaryRow, 'words'> & { finding: Finding | undefined }, say: Say): SummaryRow => ({
  ...row,
  words: finding === undefined ? 'Not started' : say(finding).text,
});
