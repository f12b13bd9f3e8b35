import type { Finding } from '../../findings.ts';
import type { Conditions } from '../../job/conditions.ts';
import { recordsAt, type Situation } from '../frame/situation.ts';
import type { RunStep } from '../frame/runStep.ts';

/**
 * One question may be answered so often. A knob is found within some ten readings, and a ceiling's row within three: beyond this something
 * keeps changing, or is broken, and asking once more tells nothing.
 */
const MOST_ANSWERS = 18;

const ASKING: readonly string[] = ['read', 'capture', 'turn-gain', 'turn-input', 'turn-output'];

/** Conditions that make one question another: not the names, targets and settings that stand beside. */
const ASKED_UNDER: readonly (string | number)[] = [
  ...['toneHz', 'toneLevelDbfs', 'sourceVolume', 'sourceId', 'caseId', 'load', 'loadOhm', 'nominalOhm', 'network', 'amplifierId'],
  ...['driverId', 'coil', 'channelId', 'channelFilters', 'position', 'meeting', 'delaySecond', 'isReversed'],
  ...['filter', 'series', 'kind', 'order', 'family', 'cornerHz'],
];

/** What a record answers: the same kind of figure, with the same tone, at the same volume, of the same coil, case or filter. */
const questionOf = (what: string, conditions: Conditions): string => `${what} ${JSON.stringify(conditions, [...ASKED_UNDER])}`;

/**
 * Every run ends: each answer counts against its question, and where one was answered {@link MOST_ANSWERS} times and the step is still not
 * right, the step asks no more. It says so, and what ends it: skipping it with a reason, or a repair.
 */
export function endedByCount(step: RunStep, now: Situation): RunStep {
  const { state } = step;
  if (state.action === undefined || !ASKING.includes(state.action.kind) || state.status === 'done' || state.status === 'skipped')
    return step;
  const { readings, traces } = recordsAt(now, step.id);
  const counts = new Map<string, number>();
  for (const question of [
    ...readings.map(({ kind, conditions }) => questionOf(kind, conditions)),
    ...traces.map(({ conditions }) => questionOf('capture', conditions)),
  ])
    counts.set(question, (counts.get(question) ?? 0) + 1);
  const newest = readings.at(-1);
  const trace = traces.at(-1);
  const last = [
    ...(newest === undefined ? [] : [questionOf(newest.kind, newest.conditions)]),
    ...(trace === undefined ? [] : [questionOf('capture', trace.conditions)]),
  ];
  const times = Math.max(0, ...last.map((question) => counts.get(question) ?? 0));
  if (times < MOST_ANSWERS) return step;
  const finding: Finding = { code: 'asked-often', grade: 'attention', figures: { times }, action: { kind: 'describe', what: 'stuck' } };
  return { ...step, state: { ...state, findings: [finding, ...state.findings], action: { kind: 'describe', what: 'stuck' } } };
}
