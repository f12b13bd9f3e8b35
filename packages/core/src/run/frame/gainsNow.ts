import { once, readingsAt, stepId, type Situation } from './situation.ts';

/** How every gain and output level was last read, canonical; empty where nothing was: what was heard or handed over rests on them. */
export const gainsNow = once((now: Situation): string => {
  const { channels, processor } = now.chain;
  const gains = channels.flatMap(({ id }) => readingsAt(now, stepId('gain', id), 'gain-voltage', 'load').slice(-1));
  const levels = (processor?.outputs ?? []).flatMap(({ id }) => readingsAt(now, stepId('output', id), 'output-voltage', 'line').slice(-1));
  return [...gains, ...levels].map(({ stepId: at, value }) => `${at} ${value}`).join(', ');
});
