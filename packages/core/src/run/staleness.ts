import { formatQuantity } from '../units/formatQuantity.ts';
import type { Conditions } from './records.ts';

/** The conditions that a reading stands on: change one, and the reading says nothing of the present set-up. */
const DEPENDS_ON: readonly { key: keyof Conditions; words: (then: Conditions, now: Conditions) => string }[] = [
  { key: 'sourceName', words: (then, now) => `the source was ${then.sourceName} and is now ${now.sourceName}` },
  { key: 'sourceVolume', words: (then, now) => `the source volume was ${then.sourceVolume} and is now ${now.sourceVolume}` },
  { key: 'amplifierName', words: (then, now) => `the amplifier was ${then.amplifierName} and is now ${now.amplifierName}` },
  { key: 'mode', words: (then, now) => `the channel was ${then.mode} and is now ${now.mode}` },
  {
    key: 'loadOhm',
    words: (then, now) => `the load was ${formatQuantity(then.loadOhm, 'ohm')} and is now ${formatQuantity(now.loadOhm, 'ohm')}`,
  },
  {
    key: 'toneHz',
    words: (then, now) => `the tone was ${formatQuantity(then.toneHz, 'Hz')} and is now ${formatQuantity(now.toneHz, 'Hz')}`,
  },
  {
    key: 'toneLevelDbfs',
    words: (then, now) =>
      `the tone's recorded level was ${formatQuantity(then.toneLevelDbfs, 'dBFS')} and is now ${formatQuantity(now.toneLevelDbfs, 'dBFS')}`,
  },
];

/**
 * Why a reading no longer speaks of the present set-up, in words; empty where it still does.
 *
 * A changed target alone makes nothing stale: the reading stays true and is judged against the new target.
 */
export function staleReasons(then: Conditions, now: Conditions): string[] {
  return DEPENDS_ON.filter(({ key }) => then[key] !== now[key]).map(({ words }) => words(then, now));
}
