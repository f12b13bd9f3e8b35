import type { Finding } from '../findings.ts';
import { isNeutral, type ControlWords } from '../source/sourceControls.ts';
import type { Chain } from './chain.ts';
import { sourceControls } from './source.ts';
import type { RunRecords, StepState } from './state.ts';
import type { FlatStep } from './steps.ts';

/** One line of the Flat list: a control, and what it was ticked at. */
export interface FlatItem extends ControlWords {
  ticked: boolean;
  value: string;
  isNeutral: boolean;
}

/** The Flat list of one input, as it was ticked so far. */
export function flatItems(step: FlatStep, chain: Chain, { marks }: Pick<RunRecords, 'marks'>): FlatItem[] {
  const mark = marks.find(({ stepId }) => stepId === step.id);
  return sourceControls(chain.source).map((control) => {
    const value = mark?.values?.[control.id] ?? control.neutral;
    return { ...control, ticked: mark?.checks.includes(control.id) ?? false, value, isNeutral: isNeutral(control.id, value) };
  });
}

/** Where making one input of the source flat stands. */
export function flatState(step: FlatStep, chain: Chain, records: RunRecords): StepState {
  const items = flatItems(step, chain, records);
  const left = items.filter(({ ticked }) => !ticked);
  const bent = items.filter((item) => item.ticked && !item.isNeutral);
  const findings: Finding[] = bent.map(({ name, value }) => ({
    grade: 'attention',
    text: `${name} stands at ${value}: every figure that follows holds for that setting alone.`,
    next: 'Set it to neutral, or keep it on purpose and find the ceiling with it.',
  }));
  if (left.length > 0) return { status: 'open', findings };
  if (bent.length > 0) return { status: 'out-of-tolerance', findings };
  return {
    status: 'done',
    findings: [{ grade: 'good', text: 'Everything neutral. These settings are written down with every reading from here on.' }],
  };
}
