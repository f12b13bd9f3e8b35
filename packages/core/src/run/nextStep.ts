import type { RunStep } from './run.ts';

/**
 * The step that wants something next: the first one after a given step that is not behind, round the end.
 *
 * @param fromId - where one stands; without it, or where the run has no such step, the first of all
 * @returns undefined where nothing else is left to do: the given step itself is never its own next one
 */
export function nextStep(run: readonly RunStep[], fromId?: string): RunStep | undefined {
  const at = run.findIndex(({ id }) => id === fromId);
  return [...run.slice(at + 1), ...run.slice(0, Math.max(0, at))].find(({ isSettled }) => !isSettled);
}
