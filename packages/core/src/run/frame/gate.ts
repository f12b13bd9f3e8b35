import type { Finding } from '../../findings.ts';
import type { Channel } from '../../job/chain.ts';
import { hookupOf } from '../../loads/planLoads.ts';
import { sensibleWiring } from '../../job/sensibleWiring.ts';
import { voltageRatioDb } from '../../levels/decibels.ts';
import { planCrossovers } from '../../ways/crossoverPlan.ts';
import { bareTweeter, filterChecks, filtersBasis } from '../../ways/filterChecks.ts';
import { channelGroups } from '../../ways/driverGroups.ts';
import { isBelowByWord, mayGoBelow } from './belowLowest.ts';
import type { ChannelNow } from './channels.ts';
import { markAt, stepId, type Situation } from './situation.ts';
import type { Plays, StepKind } from './stepKind.ts';

/** What stands between a step and its tone. */
export interface Gate {
  /** no tone may play: the screen offers none */
  isLocked: boolean;
  /** how low the tone begins, where a tweeter may hear it */
  start?: ToneStart;
  /** the step cannot be done like this, whatever was read */
  stop?: Finding;
  /** to be seen to before the first tone */
  warning?: Finding;
}

/** How low a tone begins where a tweeter may hear it. */
export interface ToneStart {
  /** against the tone's recorded level, in decibels */
  levelDb: number;
  /** what a meter at the terminals reads there once the gain is right; left out where the gain is at its lowest */
  volt?: number;
}

const reachesDrivers = (plays: Plays): boolean => plays === 'load' || plays === 'air';

/** The gate of one step: follows from what its kind plays and from the channels that hear it. */
export function gateOf<S extends object>(kind: StepKind<string, S>, subject: S, now: Situation): Gate {
  const channels = kind.channelsOf(subject);
  if (kind.connects !== true && !reachesDrivers(kind.plays)) return { isLocked: false };
  // The hook-up is where the tuner's word for a low load is given; every other step wants it given.
  const isTaken = (channel: ChannelNow): boolean => (kind.connects === true ? mayGoBelow(channel) : isBelowByWord(channel, now));
  const tooLow = channels.find((channel) => channel.hookup.verdict === 'below-minimum' && !isTaken(channel));
  const stop = tooLow === undefined ? channels.map(lowDummy).find((found) => found !== undefined) : lowLoad(tooLow);
  if (!reachesDrivers(kind.plays)) return { isLocked: true, ...(stop === undefined ? {} : { stop }) };
  const bare = channels.find(({ channel }) => bareTweeter(channel) !== undefined);
  const unseen = channels.find(({ channel }) => !areFiltersConfirmed(channel, now));
  const firstStop = stop ?? (bare === undefined ? undefined : bareStop(bare.channel, now));
  const start = channels.map(toneStart).find((each) => each !== undefined);
  return {
    isLocked: firstStop !== undefined || unseen !== undefined,
    ...(start === undefined ? {} : { start }),
    ...(firstStop === undefined ? {} : { stop: firstStop }),
    ...(unseen === undefined ? {} : { warning: unseenFilters(unseen.channel) }),
  };
}

/** Whether somebody looked at a channel's filters as they are now. */
export function areFiltersConfirmed(channel: Channel, now: Situation): boolean {
  const mark = markAt(now, stepId('filters', channel.id));
  if (mark === undefined) return false;
  const ticked = new Set(mark.checks);
  return mark.basis === filtersBasis(channel).key && filterChecks(channel, now.chain).every(({ id }) => ticked.has(id));
}

function lowLoad({ channel, amplifier, hookup }: ChannelNow): Finding {
  const wiring = sensibleWiring(channel, amplifier);
  return {
    code: 'load-too-low',
    grade: 'stop',
    figures: { channelId: channel.id, loadOhm: channel.loadOhm, perChannelOhm: hookup.perChannelOhm, note: hookup.note },
    action: { kind: 'rewire', channelId: channel.id, ...(wiring === undefined ? {} : { channel: wiring }) },
  };
}

/** A resistor can be too low for an amplifier as well as drivers can. */
function lowDummy({ channel, amplifier }: ChannelNow): Finding | undefined {
  const { dummyOhm, mode } = channel;
  if (dummyOhm === undefined || hookupOf({ ...amplifier, mode }, dummyOhm).verdict !== 'below-minimum') return undefined;
  return {
    code: 'dummy-too-low',
    grade: 'stop',
    figures: { channelId: channel.id, dummyOhm, amplifierName: amplifier.name },
    action: { kind: 'describe', what: 'dummyOhm' },
  };
}

function bareStop(channel: Channel, now: Situation): Finding {
  return {
    code: 'bare-tweeter',
    grade: 'stop',
    figures: { channelId: channel.id, name: bareTweeter(channel)?.name ?? channel.name },
    action: { kind: 'set-filter', channelId: channel.id, channel: proposedFilters(channel, now) },
  };
}

/** What the plan of crossovers would set for one channel. */
export function proposedFilters({ id }: Channel, { chain }: Situation): Pick<Channel, 'filters' | 'passive' | 'isReversed'> {
  const { filters, passive, isReversed } = planCrossovers(chain).chain.channels.find((channel) => channel.id === id) ?? {};
  return {
    ...(filters === undefined ? {} : { filters }),
    ...(passive === undefined ? {} : { passive }),
    ...(isReversed === undefined ? {} : { isReversed }),
  };
}

const unseenFilters = (channel: Channel): Finding => ({
  code: 'filters-not-seen',
  grade: 'attention',
  figures: { channelId: channel.id, channelName: channel.name },
  action: { kind: 'go', to: stepId('filters', channel.id) },
});

/** Below a tenth of a volt the digits of a handheld meter tell little. Common practice, no source. */
const LOWEST_READ_VOLT = 0.1;

/** The lowest level that a meter can read, for a channel with a tweeter; undefined for any other. */
export function toneStart({ channel, target }: ChannelNow): ToneStart | undefined {
  if (target === undefined || !channelGroups(channel).some(({ role }) => role === 'tweeter')) return undefined;
  const volt = Math.min(LOWEST_READ_VOLT, target.settingVoltage);
  return { levelDb: voltageRatioDb(volt, target.settingVoltage), volt };
}

/** Above this the terminals can give a shock. @see IEC 60364-4-41: 50 V AC as the limit of extra-low voltage (memory) */
export const SHOCK_VOLT = 50;

const DEFERS = 'The equipment’s manual, local codes and licensed practice come first.';

/** What can hurt somebody at a step: what its kind says, else what goes for all that plays this way; undefined where nothing can. */
export function cautionOf<S extends object>(
  kind: StepKind<string, S>,
  step: S & { id: string; kind: string },
  now: Situation,
): string | undefined {
  const own = kind.caution?.(step, now);
  if (own !== undefined) return own;
  if (kind.connects === true)
    return `Amplifier off and its fuse out before any wire is moved; nothing is connected while a tone plays. ${DEFERS}`;
  if (kind.plays === 'nothing') return undefined;
  if (kind.plays === 'line') return `Amplifiers off, or their inputs unplugged, while the source is measured. ${DEFERS}`;
  const shock = kind.channelsOf(step).some(({ target }) => (target?.fullScaleVoltage ?? 0) > SHOCK_VOLT);
  return [
    'Loud: protect your ears, and keep it to short bursts. Connect nothing while a tone plays: sparks. No tweeter without its filter.',
    ...(shock ? ['Above 50 V AC the terminals can give a dangerous shock.'] : []),
    DEFERS,
  ].join(' ');
}
