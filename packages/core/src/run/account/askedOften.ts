import type { Action, Finding } from '../../findings.ts';
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

/** Alike again and again, without a knob that was to be turned in between: asking once more tells nothing. */
const SAME_ANSWERS = 3;
const SAME_SHARE = 0.004;

/** What was answered, as far as it tells two answers apart. */
interface Answer {
  question: string;
  takenAt: string;
  value: number;
  digit: number;
  verdict: string;
}

const isSameAnswer = (one: Answer, other: Answer): boolean =>
  one.question === other.question &&
  one.verdict === other.verdict &&
  Math.abs(one.value - other.value) <= Math.max(2 * one.digit, 2 * other.digit, SAME_SHARE * Math.abs(one.value));

/**
 * Every run ends. Each answer counts against its question: where the last {@link SAME_ANSWERS} were alike and the step would only ask the
 * same again, or a question was answered {@link MOST_ANSWERS} times whatever it said, the step asks no more. It says so, and what ends it:
 * a repair, or skipping it with a reason.
 */
export function endedByCount(step: RunStep, now: Situation): RunStep {
  const { state } = step;
  const { action } = state;
  if (action === undefined || !ASKING.includes(action.kind) || state.status === 'done' || state.status === 'skipped') return step;
  const { readings, traces } = recordsAt(now, step.id);
  const answers: Answer[] = [
    ...readings.map(({ kind, conditions, takenAt, value, resolution }) => ({
      question: questionOf(kind, conditions),
      takenAt,
      value,
      digit: resolution,
      verdict: '',
    })),
    ...traces.map(({ conditions, takenAt, analysis, channelIndex }) => {
      const shown = analysis.channels[channelIndex];
      return {
        question: questionOf('capture', conditions),
        takenAt,
        value: shown?.voltageRms ?? 0,
        digit: 0,
        verdict: shown?.clipping.verdict ?? '',
      };
    }),
  ];
  const newest = answers.reduce<Answer | undefined>(
    (last, each) => (last === undefined || each.takenAt >= last.takenAt ? each : last),
    undefined,
  );
  if (newest === undefined) return step;
  const ofOne = answers.filter(({ question }) => question === newest.question);
  const isStill =
    // What went stale is read again though it was alike: something else was changed.
    state.status !== 'stale' &&
    !action.kind.startsWith('turn-') &&
    isAskedAgain(action, step, now, newest) &&
    ofOne.length >= SAME_ANSWERS &&
    ofOne.slice(-SAME_ANSWERS).every((each) => isSameAnswer(each, newest));
  if (!isStill && ofOne.length < MOST_ANSWERS) return step;
  const end: Action = { kind: 'describe', what: isStill ? 'repair' : 'stuck' };
  const finding: Finding = { code: 'asked-often', grade: 'attention', figures: { times: ofOne.length, isStill }, action: end };
  return { ...step, state: { ...state, findings: [finding, ...state.findings], action: end } };
}

/** Whether the move that the step names would answer the very question that was answered last. */
function isAskedAgain(action: Action, { kind, step }: RunStep, now: Situation, newest: Answer): boolean {
  const conditions = kind.conditions?.(step, now);
  if (conditions === undefined) return false;
  const what = action.kind === 'read' ? action.reading : 'capture';
  return questionOf(what, conditions) === newest.question;
}
