import { useSyncExternalStore } from 'react';

/** Whether this computer itself plays a tone: nothing else may then sound through its output. */
let playing = 0;
const watchers = new Set<() => void>();

/** Counts one tone more until the returned function is called. */
export function tonePlays(): () => void {
  playing += 1;
  watchers.forEach((tell) => tell());
  let isOver = false;
  return () => {
    if (isOver) return;
    isOver = true;
    playing -= 1;
    watchers.forEach((tell) => tell());
  };
}

const watch = (tell: () => void): (() => void) => {
  watchers.add(tell);
  return () => watchers.delete(tell);
};

export const useTonePlaying = (): boolean => useSyncExternalStore(watch, () => playing > 0);
