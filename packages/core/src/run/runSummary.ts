import { INPUT_NAMES, OUTPUT_NAMES } from '../source/sourceControls.ts';
import type { Chain } from './chain.ts';
import type { TuneSettings } from './records.ts';
import { filterName } from './voices.ts';
import { provedFilters } from './filterProof.ts';
import { stepsOf, type Step, type StepKind } from './steps.ts';
import { STATUSES_BY_GRAVITY, type RunRecords, type StepState, type StepStatus } from './state.ts';
import { stepState } from './stepState.ts';

export interface RunSummary {
  counts: Record<StepStatus, number>;
  total: number;
  /** the first step that still wants something */
  next?: { stepId: string; title: string; status: StepStatus; words: string };
  /** steps that want attention, worst first */
  attention: { stepId: string; title: string; status: StepStatus; words: string }[];
}

const GRAVITY = STATUSES_BY_GRAVITY.slice(0, STATUSES_BY_GRAVITY.indexOf('open'));

const TITLES: Record<StepKind, string> = {
  coils: 'Coils',
  whole: 'Whole wiring',
  hookup: 'Hook-up',
  flat: 'Flat',
  ceiling: 'Clean ceiling',
  factory: 'Factory signal',
  input: 'Input level',
  output: 'Output level',
  filters: 'Filters',
  crossover: 'Filter proof',
  gain: 'Gain',
  proof: 'Proof',
};

/** What a step is about: a channel, an input or an output. */
export function stepSubject(step: Step): string {
  switch (step.kind) {
    case 'flat':
      return INPUT_NAMES[step.input];
    case 'ceiling':
      return OUTPUT_NAMES[step.output];
    case 'factory':
      return 'Sweeps at several volumes';
    case 'input':
      return step.input.name;
    case 'output':
      return step.output.name;
    case 'crossover':
      return `${step.channel.name}, ${filterName(step.channel, step.filter)}`;
    default:
      return step.channel.name;
  }
}

export const stepTitle = (step: Step): string => `${TITLES[step.kind]}: ${stepSubject(step)}`;

/** What is next on a tune and what needs attention. */
export function runSummary(chain: Chain, settings: TuneSettings, records: RunRecords): RunSummary {
  const rows = stepsOf(chain, settings.rules, provedFilters(chain, settings, records)).map((step) => {
    const state = stepState(step, chain, settings, records);
    return { stepId: step.id, title: stepTitle(step), status: state.status, words: wordsOf(state) };
  });
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

function wordsOf({ findings }: StepState): string {
  const finding = findings.find(({ grade }) => grade !== 'good') ?? findings[0];
  return finding === undefined ? 'Not started' : finding.text;
}
