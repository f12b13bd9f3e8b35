import { rulesImpact, type HouseRules } from '@yield/core';
import type { TuneRun } from '../tune/useTuneRun.ts';

const counted = (count: number, one: string, many: string): string => `${count} ${count === 1 ? one : many}`;

/** What another answer changes in a tune: "3 gains would change." */
export function impactWords({ now, steps }: Pick<TuneRun, 'now' | 'steps'>, rules: HouseRules): string {
  const { targets, undone, settled } = rulesImpact(now, steps, rules);
  const parts = [
    ...targets.map(({ title, count }) => `${counted(count, 'figure', 'figures')} of “${title}” would change`),
    ...(undone.length === 0 ? [] : [`${counted(undone.length, 'finished step needs', 'finished steps need')} another check`]),
    ...(settled.length === 0 ? [] : [`${counted(settled.length, 'step', 'steps')} would be done by it`]),
  ];
  return parts.length === 0 ? 'Nothing in this tune would change.' : `${parts.join('; ')}.`;
}
