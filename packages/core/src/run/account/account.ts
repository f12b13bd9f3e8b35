import type { Action, Finding } from '../../findings.ts';
import type { QuantityKind } from '../../job/quantityKind.ts';
import { quantitiesOf, type Quantity } from '../frame/quantities.ts';
import type { Situation } from '../frame/situation.ts';
import type { StepKind } from '../frame/stepKind.ts';
import type { RunStep } from '../frame/runStep.ts';
import { endedByCount } from './askedOften.ts';
import { captureDoubts } from './captureDoubts.ts';
import { chainDoubts } from './chainDoubts.ts';
import { copperDoubts } from './copperDoubts.ts';
import { upstreamDoubts } from './upstreamDoubts.ts';
import { isUnsafe, subjectOf, type Doubt } from './doubt.ts';

/**
 * Steps as they stand once each knows what the others saw: done is only what is judged good by itself and stands on nothing that anything
 * else contradicts; nothing is connected or plays where something is unsafe.
 *
 * A doubt is decided at the step where it arose, by a new reading, a void, a mended chain, or, where it is no danger, by skipping that step
 * with a reason.
 */
export function withAccount(steps: readonly RunStep[], now: Situation): readonly RunStep[] {
  const doubts = accountOf(steps, now);
  return steps.map((step) => endedByCount(doubts.length === 0 ? step : besideDoubts(step, doubts, steps), now));
}

/** Everything that is contradicted or unsafe. */
function accountOf(steps: readonly RunStep[], now: Situation): Doubt[] {
  const all = [
    ...steps.flatMap(statedDoubts),
    ...held(() => captureDoubts(steps, now)),
    ...held(() => copperDoubts(steps)),
    ...held(() => chainDoubts(now)),
    ...held(() => upstreamDoubts(now)),
  ];
  const skipped = new Set(steps.filter(({ state }) => state.status === 'skipped').map(({ id }) => id));
  return all.filter((doubt) => isUnsafe(doubt) || !skipped.has(doubt.at));
}

/** A chain or a record so odd that it cannot be looked through says nothing against anything; its own step says so. */
function held(look: () => Doubt[]): Doubt[] {
  try {
    return look();
  } catch {
    return [];
  }
}

/** What a step's own figures deny. One that sends somewhere else has its doubt decided there. */
function statedDoubts(step: RunStep): Doubt[] {
  const { kind, state, isCounted } = step;
  const { speaksOf } = kind;
  if (speaksOf === undefined || !isCounted || (state.status !== 'out-of-tolerance' && state.status !== 'stop')) return [];
  if (state.action?.kind === 'go' && state.action.to !== step.id) return [];
  return state.findings.flatMap((finding) => {
    const of = speaksOf[finding.code];
    if (of === undefined || (finding.grade !== 'attention' && finding.grade !== 'stop')) return [];
    return quantitiesOf(of, subjectOf(step)).map((quantity): Doubt => ({ quantity, of, at: step.id, finding, isWitnessed: false }));
  });
}

/** What has to be safe before anything is connected or plays into it. */
const SAFE: readonly QuantityKind[] = ['load', 'terminals', 'offset'];

const reachesLoad = ({ plays, connects }: StepKind): boolean => connects === true || plays === 'load' || plays === 'air';

/** What a kind's steps state or stand on. */
export const touchedKinds = (kind: StepKind): QuantityKind[] => [
  ...new Set<QuantityKind>([...(kind.standsOn ?? []), ...Object.values(kind.speaksOf ?? {}), 'capture']),
];

function besideDoubts(step: RunStep, doubts: readonly Doubt[], steps: readonly RunStep[]): RunStep {
  const { kind, state } = step;
  if (state.status === 'skipped' || !step.isCounted) return step;
  const others = doubts.filter(({ at, isWitnessed }) => at !== step.id || isWitnessed);
  const isOf = (kinds: readonly QuantityKind[]): ((doubt: Doubt) => boolean) => {
    const own = new Set<Quantity>(kinds.flatMap((each) => quantitiesOf(each, subjectOf(step))));
    return ({ quantity }) => own.has(quantity);
  };
  const denied = others.filter((doubt) => isUnsafe(doubt) && doubt.at === step.id);
  if (denied.length > 0) return doubted(step, 'stop', denied, steps);
  const dangers = reachesLoad(kind) ? others.filter((doubt) => isUnsafe(doubt) && isOf(SAFE)(doubt)) : [];
  if (dangers.length > 0) return doubted(step, 'stop', dangers, steps);
  // What is not done says its own; what somebody takes for done is told.
  const touching = others.filter(isOf(touchedKinds(kind)));
  return state.status === 'done' && touching.length > 0 ? doubted(step, 'out-of-tolerance', touching, steps) : step;
}

function doubted(step: RunStep, status: 'stop' | 'out-of-tolerance', doubts: readonly Doubt[], steps: readonly RunStep[]): RunStep {
  const told = new Map<string, Finding>();
  for (const doubt of doubts) {
    const finding = doubt.at === step.id ? doubt.finding : elsewhere(doubt, status, steps);
    told.set(`${doubt.at}/${finding.code}`, finding);
  }
  const findings = [...told.values()];
  const action: Action = findings[0]!.action ?? { kind: 'go', to: doubts[0]!.at };
  return {
    ...step,
    gate: status === 'stop' ? { ...step.gate, isLocked: true, stop: findings[0]! } : step.gate,
    state: { ...step.state, status, findings: [...findings, ...step.state.findings], action },
    isSettled: false,
  };
}

/** At a step that rests on what another one denies. */
function elsewhere({ of, at, finding }: Doubt, status: 'stop' | 'out-of-tolerance', steps: readonly RunStep[]): Finding {
  const title = steps.find(({ id }) => id === at)?.title ?? at;
  return {
    code: 'contradicted',
    grade: status === 'stop' ? 'stop' : 'attention',
    figures: { what: of, title, because: finding.code, stepId: at, isUnsafe: status === 'stop' },
    // A knob is the same knob from wherever it is turned.
    action: finding.action?.kind === 'turn-gain' ? finding.action : { kind: 'go', to: at },
  };
}
