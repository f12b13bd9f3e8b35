import { fixed, formatQuantity, signedDb } from '../units/formatQuantity.ts';
import { basisOf } from './basis.ts';
import type { Chain, Channel } from './chain.ts';
import { bandWords, settingKey } from './channelEqualiser.ts';
import type { HeardEntry } from './heardEntry.ts';

/** What is listened to, by what it tests. Common practice, no source. */
export const PASSAGES = ['bass-notes', 'drum-hits', 'voice', 'hiss', 'rattles'] as const;
export type Passage = (typeof PASSAGES)[number];

/** Passages of the tuner's own are named in words of the tuner's. */
export const isKnownPassage = (passage: string): passage is Passage => (PASSAGES as readonly string[]).includes(passage);

const keptSettings = new WeakMap<Chain, string>();

/**
 * Everything that is set and heard, as a short key.
 *
 * @param gains - how gains and levels were last read, canonical; empty where they were not
 */
export function heardSetting(chain: Chain, gains = ''): string {
  const known = keptSettings.get(chain) ?? workOutSetting(chain);
  keptSettings.set(chain, known);
  return gains === '' ? known : shortKey(`${known}, ${gains}`);
}

function workOutSetting({ channels, listening, source }: Chain): string {
  const set = channels.map((channel) => ({
    id: channel.id,
    filters: settingKey(channel),
    blendDb: channel.blendDb ?? 0,
    isReversed: channel.isReversed === true,
    passive: channel.passive,
  }));
  const { trimSecond, distancesMetre, passengerMetre, seat, delaysFrom } = listening ?? {};
  return shortKey(
    basisOf({ set, trimSecond, distancesMetre, passengerMetre, seat, delaysFrom, volume: source.workingVolume, id: source.id }, '').key,
  );
}

/** FNV-1a of 64 bits, in hexadecimal: it tells settings apart and guards nothing. */
export function shortKey(text: string): string {
  let hash = 0xcbf29ce484222325n;
  for (let i = 0; i < text.length; i += 1) {
    hash ^= BigInt(text.charCodeAt(i));
    hash = (hash * 0x100000001b3n) & 0xffffffffffffffffn;
  }
  return hash.toString(16).padStart(16, '0');
}

/** A change for what was heard, in the processor: a level, a band or a delay of one channel. */
export type EarChange =
  | { kind: 'level'; channelId: string; byDb: number }
  | { kind: 'band'; channelId: string; frequencyHz: number; gainDb: number; q: number }
  | { kind: 'delay'; channelId: string; bySecond: number };

/** Keeps to whole microseconds and hundredths of a decibel: sums of typed figures would grow digits. */
const tidy = (value: number, digits: number): number => Number(value.toFixed(digits));

/**
 * The chain with a change by ear, and the line of the log that says why. What the change spoils follows from the chain, as ever.
 *
 * @param gains - as `heardSetting` takes them
 * @returns the chain, or what stands in the way
 */
export function changedByEar(
  chain: Chain,
  change: EarChange,
  entry: Pick<HeardEntry, 'id' | 'at' | 'passage' | 'words'>,
  gains = '',
): { chain: Chain } | { fault: string } {
  const channel = chain.channels.find(({ id }) => id === change.channelId);
  if (channel === undefined) return { fault: 'This channel is no longer in the chain.' };
  const made = madeTo(chain, channel, change);
  if ('fault' in made) return made;
  const { next, before, after } = made;
  return {
    chain: {
      ...next,
      heard: [
        ...(next.heard ?? []),
        { ...entry, outcome: 'changed', setting: heardSetting(next, gains), change: { channelId: channel.id, before, after } },
      ],
    },
  };
}

function madeTo(chain: Chain, channel: Channel, change: EarChange): { next: Chain; before: string; after: string } | { fault: string } {
  const withChannel = (changed: Channel): Chain => ({
    ...chain,
    channels: chain.channels.map((each) => (each.id === channel.id ? changed : each)),
  });
  if (change.kind === 'level') {
    const was = channel.blendDb ?? 0;
    const blendDb = tidy(was - change.byDb, 2);
    if (blendDb < 0)
      return {
        fault: `${channel.name} is ${was === 0 ? 'at' : `${formatQuantity(was, 'dB')} below`} its amplifier’s clean maximum: turn the others down instead.`,
      };
    const { blendDb: _old, ...rest } = channel;
    return {
      next: withChannel(blendDb === 0 ? rest : { ...rest, blendDb }),
      before: levelWords(was),
      after: levelWords(blendDb),
    };
  }
  if (change.kind === 'band') {
    const { kind: _kind, channelId: _id, ...figures } = change;
    const band = { kind: 'peak', ...figures } as const;
    return {
      next: withChannel({ ...channel, equaliser: [...(channel.equaliser ?? []), band] }),
      before: 'no band there',
      after: bandWords(band),
    };
  }
  const was = chain.listening?.trimSecond?.[channel.id] ?? 0;
  const second = tidy(was + change.bySecond, 6);
  return {
    next: { ...chain, listening: { ...chain.listening, trimSecond: { ...chain.listening?.trimSecond, [channel.id]: second } } },
    before: `${formatQuantity(was, 's')} beside its distance`,
    after: `${formatQuantity(second, 's')} beside its distance`,
  };
}

const levelWords = (blendDb: number): string => (blendDb === 0 ? 'at its full level' : `${signedDb(-blendDb)} against its full level`);

/**
 * How likely as many right answers are by guessing alone.
 *
 * @returns share, 0 … 1: the upper tail of the binomial distribution at one half
 */
export function chanceOfGuessing(right: number, trials: number): number {
  let [sum, term] = [0, 0.5 ** trials];
  for (let hits = 0; hits <= trials; hits += 1) {
    if (hits >= right) sum += term;
    term = (term * (trials - hits)) / (hits + 1);
  }
  return Math.min(1, sum);
}

/** Told apart where guessing alone gives as many less than one time in twenty: the usual level of significance. */
const TOLD_APART = 0.05;

/** "9 of 10 right: the two are told apart (guessing does as well 1 time in 93)." */
export function blindWords(right: number, trials: number): string {
  const chance = chanceOfGuessing(right, trials);
  const score = `${right} of ${trials} right`;
  if (chance < TOLD_APART) return `${score}: a clear difference. Guessing scores this well one time in ${Math.round(1 / chance)}.`;
  return `${score}: guessing does as well one time in ${fixed(1 / chance, 1)}. No difference is shown: take the simpler setting.`;
}
