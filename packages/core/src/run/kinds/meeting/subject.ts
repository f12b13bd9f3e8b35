import type { Chain } from '../../../job/chain.ts';
import type { AirConditions } from '../../../job/conditions.ts';
import { degreesOf } from '../../../numerics/complex.ts';
import { lastResult } from '../../../numerics/lastResult.ts';
import { neighbours } from '../../../ways/crossoverFindings.ts';
import {
  crossingOf,
  alikeGroups,
  groupAt,
  driverGroupsOf,
  workingFilter,
  type AlikeGroups,
  type ProvedFilters,
} from '../../../ways/driverGroups.ts';
import { channelsNow, provedNow, type ChannelNow } from '../../frame/channels.ts';
import { airConditions } from '../../frame/played.ts';
import { once, type Situation } from '../../frame/situation.ts';
import type { ConditionKey } from '../../frame/staleness.ts';
import type { Step } from '../../frame/stepKind.ts';
import { delayRows } from '../delay/kind.ts';

/** Two ways next to each other, and where they meet. */
export interface MeetingSubject {
  lower: AlikeGroups;
  upper: AlikeGroups;
  /** where both are equally loud by their filters */
  cornerHz: number;
  /** the corner, and half an octave to either side, lowest first */
  tones: { hertz: number; filterPhaseDeg: number }[];
  channels: ChannelNow[];
}

export type MeetingStep = Step<'meeting', MeetingSubject>;

const HALF_OCTAVE = Math.SQRT2;

type Meeting = Omit<MeetingSubject, 'channels'>;

const keptMeetings = lastResult<Meeting[]>();

/** Neighbours on channels of their own: what a delay and a pair of wires can bring together. */
export const meetingsNow = once((now: Situation): MeetingSubject[] => {
  const proved = provedNow(now);
  const found = now.chain.channels.flatMap(({ filters = [] }) =>
    filters.map(({ id }) => {
      const filter = proved.get(id);
      return filter && `${filter.family}/${filter.order}/${filter.cornerHz}`;
    }),
  );
  // Readings and ticks come and go; where two ways meet follows from the chain and from what was proved of its filters.
  const meetings = keptMeetings(now.chain, '', found, () => meetingsOf(now.chain, proved));
  return meetings.map((meeting) => {
    const ids = [...meeting.lower.members, ...meeting.upper.members].map(({ channel }) => channel.id);
    return { ...meeting, channels: channelsNow(now).filter(({ channel }) => ids.includes(channel.id)) };
  });
});

function meetingsOf(chain: Chain, proved: ProvedFilters): Meeting[] {
  return neighbours(alikeGroups(driverGroupsOf(chain))).flatMap(([lower, upper]): Meeting[] => {
    const ids = (group: AlikeGroups): string[] => group.members.map(({ channel }) => channel.id);
    const crossing = crossingOf(lower, upper, proved);
    if (crossing === undefined || ids(lower).some((id) => ids(upper).includes(id))) return [];
    const cornerHz = Math.round(crossing.hertz);
    const tones = [cornerHz / HALF_OCTAVE, cornerHz, cornerHz * HALF_OCTAVE].map(Math.round).map((hertz) => {
      // Polarity is counted with the setting, not with the filters.
      const [below, above] = [lower, upper].map((group) => degreesOf(groupAt(asWired(group), hertz, proved)));
      return { hertz, filterPhaseDeg: above! - below! };
    });
    return [{ lower, upper, cornerHz, tones }];
  });
}

export const asWired = <V extends AlikeGroups>(group: V): V => {
  const { isReversed: _, ...channel } = group.channel;
  return { ...group, channel };
};

/** What a level stands on, beside the filters. */
export const LEVEL_STANDS_ON: readonly ConditionKey[] = ['source', 'volume', 'level', 'input', 'settings'];

/** Under which a level of two neighbours is read now. */
export const meetingConditions = (step: MeetingSubject, now: Situation, toneHz: number): AirConditions => ({
  ...airConditions(now, toneHz),
  meeting: { ...meetingSetting(step, now), filters: filtersKey(step, now) },
});

/** How the two are set to each other, by the chain. */
export function meetingSetting({ lower, upper }: MeetingSubject, now: Situation): { delaySecond: number; isReversed: boolean } {
  const rows = delayRows(now);
  const setOf = ({ channel }: AlikeGroups): number | undefined => rows.find(({ channelId }) => channelId === channel.id)?.setSecond;
  const trimOf = ({ channel }: AlikeGroups): number => now.chain.listening?.trimSecond?.[channel.id] ?? 0;
  const [below, above] = [setOf(lower), setOf(upper)];
  // Where one of the two was not measured yet, what was found at the crossover is all that is set.
  const delaySecond = below === undefined || above === undefined ? trimOf(lower) - trimOf(upper) : below - above;
  return {
    // To the nanosecond: what is stored and compared is no sum of rounding errors.
    delaySecond: Math.round(delaySecond * 1e9) / 1e9,
    isReversed: (lower.channel.isReversed === true) !== (upper.channel.isReversed === true),
  };
}

/** The filters of both, as they work: other ones have other levels and another phase. */
export function filtersKey({ lower, upper }: MeetingSubject, now: Situation): string {
  const proved = provedNow(now);
  return [lower, upper]
    .map(({ filters, passive }) =>
      [
        ...filters
          .map((filter) => workingFilter(filter, proved))
          .map(({ kind, family, order, cornerHz }) => `${kind} ${family} ${order} ${cornerHz.toPrecision(4)}`),
        ...passive.map(({ kind, capacitanceFarad = 0, inductanceHenry = 0 }) => `${kind} ${capacitanceFarad} ${inductanceHenry}`),
      ].join(', '),
    )
    .join(' | ');
}
