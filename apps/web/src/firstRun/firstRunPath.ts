import type { RunStep } from '@yield/core';

/** Where a first run stands: the steps up to the first proof. */
export interface FirstRunPath {
  done: number;
  of: number;
  /** undefined once all is proved */
  next: RunStep | undefined;
  /** whether the step at hand is one of them */
  isOnPath: boolean;
}

/** @returns undefined for a chain that was changed until nothing is to be proved: it has no first gain */
export function firstRunPath(steps: readonly RunStep[], current: RunStep): FirstRunPath | undefined {
  const last = steps.findIndex(({ kind }) => kind.kind === 'proof');
  const path = steps.slice(0, last + 1).filter(({ isCounted }) => isCounted);
  if (path.length === 0) return undefined;
  // What was skipped was not proved.
  const isOpen = ({ state }: RunStep): boolean => state.status !== 'done';
  return {
    done: path.filter((step) => !isOpen(step)).length,
    of: path.length,
    // Along the path, not around what comes after it: a first gain is what it leads to.
    next: path.find(isOpen),
    isOnPath: path.includes(current),
  };
}
