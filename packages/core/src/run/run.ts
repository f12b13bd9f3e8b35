import type { Action, Finding } from '../findings.ts';
import type { StepMark } from '../job/records.ts';
import { channelsNow, type ChannelNow } from './frame/channels.ts';
import { cautionOf, gateOf, type Gate } from './frame/gate.ts';
import type { Judgement } from './frame/judgement.ts';
import { markAt, once, recordsAt, type Situation } from './frame/situation.ts';
import { STAGES } from './frame/stages.ts';
import { stepsOfKind, type Checks, type Step, type StepKind } from './frame/stepKind.ts';
import { withAccount } from './account/account.ts';
import { cannotJudge, unjudged } from './cannotJudge.ts';
import type { RunStep } from './frame/runStep.ts';
import { KINDS } from './kinds/index.ts';

export type { RunStep };

/**
 * The ordered steps that a situation calls for, and where each stands.
 *
 * Channels whose amplifier is missing are left out; a chain without amplifiers calls for nothing yet. A step that cannot be worked out is a
 * step that says so: it never takes the others with it.
 */
export const runOf = (now: Situation, kinds: readonly StepKind[] = KINDS): readonly RunStep[] =>
  kinds === KINDS ? wholeRun(now) : stepsOf(now, kinds);

const wholeRun = once((now) => stepsOf(now, KINDS));

function stepsOf(now: Situation, kinds: readonly StepKind[]): readonly RunStep[] {
  if (tried(() => channelsNow(now).length === 0, false)) return [];
  const steps = STAGES.flatMap(({ id, isByChannel }) => {
    const steps = kinds.filter(({ stage }) => stage === id).flatMap((kind) => begunOf(kind, now));
    return (isByChannel === true ? byChannel(steps, now) : steps).map((begun) => runStep(begun, now));
  });
  return tried(() => withAccount(steps, now), steps);
}

const tried = <T>(work: () => T, otherwise: T): T => {
  try {
    return work();
  } catch {
    return otherwise;
  }
};

/** A step before it is judged; of a kind whose steps cannot be told, one that stands for all of them. */
interface Begun {
  kind: StepKind;
  step: Step;
  channels: readonly ChannelNow[];
  error?: unknown;
}

function begunOf(kind: StepKind, now: Situation): Begun[] {
  try {
    return stepsOfKind(kind, now).map((step) => ({ kind, step, channels: tried(() => kind.channelsOf(step), []) }));
  } catch (error) {
    return kind.isOptional === true ? [] : [{ kind, step: { id: `${kind.kind}:all`, kind: kind.kind }, channels: [], error }];
  }
}

/** All steps of a channel together, in the order of the chain; what is about no channel comes last. */
function byChannel<T extends { channels: readonly ChannelNow[] }>(steps: readonly T[], now: Situation): T[] {
  const order = new Map(tried(() => channelsNow(now), []).map(({ channel }, i) => [channel.id, i]));
  const placeOf = ({ channels }: T): number => order.get(channels[0]?.channel.id ?? '') ?? order.size;
  return [...steps].sort((a, b) => placeOf(a) - placeOf(b));
}

function runStep({ kind, step, channels, error }: Begun, now: Situation): RunStep {
  if (error !== undefined) return { ...unjudged(kind, step, error), channels };
  try {
    return judgedStep(kind, step, channels, now);
  } catch (thrown) {
    return { ...unjudged(kind, step, thrown), channels };
  }
}

function judgedStep(kind: StepKind, step: Step, channels: readonly ChannelNow[], now: Situation): RunStep {
  const words = kind.words(step, now);
  const gate = gateOf(kind, step, now);
  const checks = kind.checks?.(step, now);
  const mark = markAt(now, step.id);
  const { readings, traces, simulated } = recordsAt(now, step.id);
  const judged = withKeptTicks(gated(requireChecks(kind.judge(step, now), kind, checks, mark), gate, mark?.skippedReason), checks, mark);
  const noted =
    simulated === 0 || judged.status === 'done' ? judged : { ...judged, findings: [...judged.findings, simulatedNote(simulated)] };
  const state = cannotJudge(noted, step.id, now);
  const caution = cautionOf(kind, step, now);
  // An optional step counts once something was done there: measured, or ticked where nothing is measured.
  const isBegun =
    kind.isBegun?.(step, now) ?? (readings.length + traces.length > 0 || (kind.intakes.length === 0 && (mark?.checks.length ?? 0) > 0));
  // What was left out was measured here all the same: it is not to be missed.
  const isCounted = kind.isOptional !== true || isBegun || now.setAside.some(({ stepId }) => stepId === step.id);
  return {
    id: step.id,
    kind,
    step,
    title: `${kind.title}: ${words.subject}`,
    words,
    gate,
    state,
    channels,
    isCounted,
    isSettled: !isCounted || state.status === 'done' || state.status === 'skipped',
    ...(checks === undefined ? {} : { checks }),
    ...(caution === undefined ? {} : { caution }),
  };
}

/** What the simulated bench showed says nothing of a real car. */
const simulatedNote = (count: number): Finding => ({
  code: 'simulated-only',
  grade: 'note',
  figures: { count },
});

/** What was measured while a tone played into a load counts once somebody saw to what the step asks for; ticks for something else do not. */
function requireChecks(judged: Judgement, kind: StepKind, checks: Checks | undefined, mark: StepMark | undefined): Judgement {
  if (judged.status !== 'done' || checks === undefined || (kind.plays !== 'load' && kind.plays !== 'air')) return judged;
  const { items, basis } = checks;
  const counts = basis === undefined || mark?.basis === undefined || mark.basis === basis.key;
  const ticked = new Set(counts ? mark?.checks : []);
  const missing = items.filter(({ id }) => !ticked.has(id));
  if (missing.length === 0) return judged;
  const action: Action = {
    kind: 'tick',
    checks: items.map(({ id }) => id),
    ...(basis === undefined ? {} : { basis: basis.key, basisWords: basis.words }),
  };
  const other = counts ? undefined : mark;
  const finding: Finding = {
    code: 'not-seen-to',
    grade: 'attention',
    figures: {
      missing: missing.length,
      checks: missing.map(({ words }) => words),
      isOther: other !== undefined && other.checks.length > 0,
      ...(other?.basisWords === undefined ? {} : { tickedFor: other.basisWords }),
    },
    action,
  };
  return { ...judged, status: 'open', findings: [finding, ...judged.findings], action };
}

/** A tick beside those that stand: who ticks what an action names, and that alone, takes none of them back. */
function withKeptTicks(judged: Judgement, checks: Checks | undefined, mark: StepMark | undefined): Judgement {
  const { action } = judged;
  // Where a step has no list of things to see to, its ticks are answers, and one replaces the other.
  if (action?.kind !== 'tick' || checks === undefined || mark === undefined || mark.checks.length === 0) return judged;
  const isOfOther = checks.basis !== undefined && mark.basis !== undefined && mark.basis !== checks.basis.key;
  if (isOfOther) return judged;
  const { basis = mark.basis, basisWords = mark.basisWords } = action;
  return {
    ...judged,
    action: {
      ...action,
      checks: [...new Set([...mark.checks, ...action.checks])],
      ...(basis === undefined ? {} : { basis }),
      ...(basisWords === undefined ? {} : { basisWords }),
    },
  };
}

/** What was judged, behind its gate: a stop comes before everything, an open step is told what is missing, a skipped one says why. */
function gated(judged: Judgement, { stop, warning }: Gate, skippedReason: string | undefined): Judgement {
  const { status, findings } = judged;
  if (stop !== undefined) {
    return { ...judged, status: 'stop', findings: [stop, ...findings], ...(stop.action === undefined ? {} : { action: stop.action }) };
  }
  if (skippedReason !== undefined && status !== 'done') {
    const skipped: Finding = { code: 'skipped', grade: 'note', figures: { skippedReason } };
    return { status: 'skipped', figures: judged.figures, findings: [skipped, ...findings] };
  }
  // What was read before anybody looked at the filters waits for that look.
  if (warning !== undefined && (status === 'open' || status === 'done')) {
    return {
      ...judged,
      status: 'open',
      findings: [warning, ...findings],
      ...(warning.action === undefined ? {} : { action: warning.action }),
    };
  }
  return judged;
}
