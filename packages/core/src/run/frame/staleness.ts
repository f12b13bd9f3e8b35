import type { Conditions } from '../../job/conditions.ts';
import { voltageRatioDb } from '../../levels/decibels.ts';
import { canonicalText, parseOwnNetwork } from '../../loads/network.ts';
import { networkTextWords } from '../../loads/networkWords.ts';
import { INPUT_NAMES, isNeutral, SOURCE_CONTROLS } from '../../source/sourceControls.ts';
import { formatQuantity } from '../../units/formatQuantity.ts';

/** What a reading can stand on. A kind of step names its own; change one, and the reading says nothing of the present set-up. */
export type ConditionKey =
  | 'source'
  | 'volume'
  | 'fed'
  | 'amplifier'
  | 'mode'
  | 'load'
  | 'tone'
  | 'level'
  | 'filters'
  | 'processor'
  | 'input'
  | 'settings'
  | 'wiring';

type FieldsOf<C> = C extends unknown ? keyof C : never;
type FieldOf<C, F> = C extends unknown ? (F extends keyof C ? C[F] : never) : never;
/** Every field that any conditions have. */
type AnyConditions = { [F in FieldsOf<Conditions>]?: FieldOf<Conditions, F> | undefined };

/** In the order in which they are told. */
const CHANGES: Record<ConditionKey, (then: AnyConditions, now: AnyConditions) => readonly string[]> = {
  source: (then, now) =>
    then.sourceId === now.sourceId
      ? []
      : [`the source was ${then.sourceName ?? 'another one'} and is now ${now.sourceName ?? 'another one'}`],
  volume: ({ sourceVolume: then = 0 }, { sourceVolume: now = 0 }) =>
    then === now ? [] : [`the source volume was ${then} and is now ${now}`],
  fed: ({ fedVolt: then }, { fedVolt: now }) =>
    then !== undefined && now === undefined
      ? ['the processor’s output that feeds it now was never read']
      : then === undefined || now === undefined || Math.abs(voltageRatioDb(now, then)) <= NOTABLE_FEED_DB
        ? []
        : [`the processor’s output gave ${formatQuantity(then, 'V')} and now gives ${formatQuantity(now, 'V')}`],
  amplifier: (then, now) =>
    then.amplifierId === now.amplifierId
      ? []
      : [`the amplifier was ${then.amplifierName ?? 'another one'} and is now ${now.amplifierName ?? 'another one'}`],
  mode: ({ mode: then = '' }, { mode: now = '' }) => (then === now ? [] : [`the channel was ${then} and is now ${now}`]),
  load: ({ loadOhm: then = 0 }, { loadOhm: now = 0 }) =>
    then === now ? [] : [`the load was ${formatQuantity(then, 'ohm')} and is now ${formatQuantity(now, 'ohm')}`],
  tone: ({ toneHz: then = 0 }, { toneHz: now = 0 }) =>
    then === now ? [] : [`the tone was ${formatQuantity(then, 'Hz')} and is now ${formatQuantity(now, 'Hz')}`],
  level: ({ toneLevelDbfs: then = 0 }, { toneLevelDbfs: now = 0 }) =>
    then === now ? [] : [`the tone's recorded level was ${formatQuantity(then, 'dBFS')} and is now ${formatQuantity(now, 'dBFS')}`],
  processor: (then, now) =>
    then.processorId === now.processorId
      ? []
      : [`the processor was ${then.processorName ?? 'none'} and is now ${now.processorName ?? 'none'}`],
  filters: filterChanges,
  input: ({ sourceInput: then }, { sourceInput: now }) =>
    then === undefined || now === undefined || then === now
      ? []
      : [`the tone came from ${INPUT_NAMES[then].toLowerCase()} and now comes from ${INPUT_NAMES[now].toLowerCase()}`],
  settings: ({ sourceSettings: then }, { sourceSettings: now }) =>
    SOURCE_CONTROLS.flatMap(({ id, name }) => {
      const [was, is] = [then?.[id], now?.[id]];
      // How it stood is not known where the list was ticked only afterwards: neutral is taken for neutral, anything else is not.
      if (was === undefined && is !== undefined && !isNeutral(id, is))
        return [`${name.toLowerCase()} is at ${is}, and its earlier setting is unknown`];
      return was === undefined || is === undefined || was === is ? [] : [`${name.toLowerCase()} was at ${was} and is now at ${is}`];
    }),
  wiring: wiringChanges,
};

const ORDER = Object.keys(CHANGES) as ConditionKey[];

/**
 * Why something measured no longer speaks of the present set-up, in words; empty where it still does.
 *
 * What was never written down is not held against it. A changed target alone makes nothing stale: the reading stays true and
 * is judged against the new target.
 *
 * @param dependsOn - as the kind of step declares
 */
export function staleReasons(dependsOn: readonly ConditionKey[], then: Conditions, now: Conditions): string[] {
  return ORDER.filter((key) => dependsOn.includes(key)).flatMap((key) => CHANGES[key](then, now));
}

/** An output that was read again and gives the same, within what a meter and a hand do, changes nothing behind it. */
const NOTABLE_FEED_DB = 0.2;

/** A filter that takes as much off the tone as before changes nothing. */
const NOTABLE_LOSS_DB = 0.1;

/** What the filters took off the tone then and take off now: by their settings, or where both times they were measured, by that. */
function filterChanges({ filters: then }: AnyConditions, { filters: now }: AnyConditions): string[] {
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

/** The same network written otherwise is the same wiring; without one the nominal load has to do. */
function wiringChanges(then: AnyConditions, now: AnyConditions): string[] {
  if (then.network !== undefined && now.network !== undefined && !sameNetwork(then.network, now.network)) {
    const [was, is] = [networkTextWords(then.network), networkTextWords(now.network)];
    // Two wirings of one name differ in which coil hangs where.
    return [was === is ? 'the coils were joined otherwise' : `the wiring was ${was} and is now ${is}`];
  }
  const [was, is] = [then.nominalOhm ?? 0, now.nominalOhm ?? 0];
  return was === is ? [] : [`the load was ${formatQuantity(was, 'ohm')} and is now ${formatQuantity(is, 'ohm')}`];
}

function sameNetwork(then: string, now: string): boolean {
  const canonical = (text: string): string => canonicalText(parseOwnNetwork(text));
  return then === now || canonical(then) === canonical(now);
}
