import { voltageRatioDb } from '../levels/decibels.ts';
import type { HouseRules } from '../job/chain.ts';
import type { Situation } from './frame/situation.ts';
import { runOf, type RunStep } from './run.ts';
import { settledSituation } from './settledSituation.ts';

/** What another answer of the house would change in a tune. */
export interface RulesImpact {
  /** steps whose figure to read would be another one, by the title of their kind */
  targets: { title: string; count: number }[];
  /** steps that are done and would not be, and the other way round */
  undone: readonly RunStep[];
  settled: readonly RunStep[];
}

/** A target that moves by less than this reads the same. */
const NOTABLE_DB = 0.05;

/** What a tune's run would be under other house rules, against what it is. */
export function rulesImpact(now: Situation, steps: readonly RunStep[], rules: HouseRules): RulesImpact {
  const then = settledSituation(now.chain, { ...now.settings, rules }, now.records);
  const after = new Map(runOf(then).map((step) => [step.id, step]));
  const counts = new Map<string, number>();
  const undone: RunStep[] = [];
  const settled: RunStep[] = [];
  for (const step of steps) {
    const next = after.get(step.id);
    if (next === undefined) continue;
    const [before, later] = [step.kind.target?.(step.step, now)?.value, next.kind.target?.(next.step, then)?.value];
    const isMoved = before !== undefined && later !== undefined ? Math.abs(voltageRatioDb(later, before)) > NOTABLE_DB : before !== later;
    if (isMoved) counts.set(step.kind.title, (counts.get(step.kind.title) ?? 0) + 1);
    const [isDone, willBe] = [step, next].map(({ state }) => state.status === 'done');
    if (isDone === true && willBe === false) undone.push(step);
    if (isDone === false && willBe === true) settled.push(step);
  }
  return { targets: [...counts].map(([title, count]) => ({ title, count })), undone, settled };
}
