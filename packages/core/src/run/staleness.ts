import { formatQuantity } from '../units/formatQuantity.ts';
import { INPUT_NAMES, SOURCE_CONTROLS } from '../source/sourceControls.ts';
import type { Conditions, LineConditions } from './records.ts';

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

/** What every voltage stands on, wherever it was read. */
const LINE_KEYS: readonly (keyof Conditions)[] = ['sourceName', 'sourceVolume', 'toneHz', 'toneLevelDbfs'];

/**
 * Why a reading no longer speaks of the present set-up, in words; empty where it still does.
 *
 * A changed target alone makes nothing stale: the reading stays true and is judged against the new target.
 */
export function staleReasons(then: Conditions, now: Conditions): string[] {
  return [
    ...DEPENDS_ON.filter(({ key }) => then[key] !== now[key]).map(({ words }) => words(then, now)),
    ...filterReasons(then, now),
    ...settingReasons(then, now),
  ];
}

/** A filter that takes as much off the tone as before changes nothing here. */
const NOTABLE_LOSS_DB = 0.1;

/** What the filters took off the tone then and take off now: by their settings, or where both times they were measured, by that. */
function filterReasons({ filters: then }: Conditions, { filters: now }: Conditions): string[] {
  // Readings from before filters were written down say nothing of them.
  if (then === undefined) return [];
  if (Math.abs(then.setDb - (now?.setDb ?? 0)) > NOTABLE_LOSS_DB) {
    return [`the filters were ${then.words} and are now ${now === undefined || now.words === '' ? 'off' : now.words}`];
  }
  if (then.provedDb !== undefined && now?.provedDb !== undefined && Math.abs(then.provedDb - now.provedDb) > NOTABLE_LOSS_DB) {
    return [
      `the filters, measured again, take ${formatQuantity(-now.provedDb, 'dB')} off this tone instead of ${formatQuantity(-then.provedDb, 'dB')}`,
    ];
  }
  return [];
}

/** The same for a reading at line level. @param apartFrom - what changes on purpose from one reading to the next */
export function lineStaleReasons(then: LineConditions, now: LineConditions, apartFrom: readonly (keyof LineConditions)[] = []): string[] {
  const [was, is] = [then as Conditions, now as Conditions];
  const keys = LINE_KEYS.filter((key) => !(apartFrom as readonly string[]).includes(key));
  return [
    ...DEPENDS_ON.filter(({ key }) => keys.includes(key) && was[key] !== is[key]).map(({ words }) => words(was, is)),
    ...(then.processorName === now.processorName
      ? []
      : [`the processor was ${then.processorName ?? 'none'} and is now ${now.processorName ?? 'none'}`]),
    ...settingReasons(then, now),
  ];
}

type SourceState = Pick<LineConditions, 'sourceInput' | 'sourceSettings'>;

/** What was never written down is not held against a reading. */
function settingReasons(then: SourceState, now: SourceState): string[] {
  const input =
    then.sourceInput === undefined || now.sourceInput === undefined || then.sourceInput === now.sourceInput
      ? []
      : [
          `the tone came from ${INPUT_NAMES[then.sourceInput].toLowerCase()} and now comes from ${INPUT_NAMES[now.sourceInput].toLowerCase()}`,
        ];
  const controls = SOURCE_CONTROLS.flatMap(({ id, name }) => {
    const [was, is] = [then.sourceSettings?.[id], now.sourceSettings?.[id]];
    return was === undefined || is === undefined || was === is ? [] : [`${name.toLowerCase()} stood at ${was} and now stands at ${is}`];
  });
  return [...input, ...controls];
}
