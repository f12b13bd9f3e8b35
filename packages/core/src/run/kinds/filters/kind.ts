import type { Finding } from '../../../findings.ts';
import { channelsNow, type ChannelNow } from '../../frame/channels.ts';
import { channelWords } from '../../frame/channelSteps.ts';
import { areFiltersConfirmed, proposedFilters } from '../../frame/gate.ts';
import type { Judgement } from '../../frame/judgement.ts';
import { markAt, type Situation } from '../../frame/situation.ts';
import { defineKind, type Step } from '../../frame/stepKind.ts';
import { crossoverFindings } from '../../../ways/crossoverFindings.ts';
import { filterChecks, filtersBasis } from '../../../ways/filterChecks.ts';

/** A channel's filters set and looked at: its ticks unlock the channel's tones. */
export const filters = defineKind({
  kind: 'filters',
  stage: 'crossovers',
  title: 'Filters',
  part: 'filters',
  help: 'a channel’s filters set and confirmed before its first tone',
  plays: 'nothing',
  intakes: [],
  dependsOn: [],
  subjects: channelsNow,
  keyOf: ({ channel }) => channel.id,
  words: channelWords,
  channelsOf: (subject) => [subject],
  checks: ({ channel }, now) => ({ items: filterChecks(channel, now.chain), basis: filtersBasis(channel) }),
  caution: () =>
    'Amplifiers off while a filter is set or a capacitor is put in. A tweeter without its filter dies in a moment, and a coil that burns can start a fire. The equipment’s manual, local codes and licensed practice come first.',
  standsOn: ['way'],
  judge: judgeFilters,
});

/** Where setting a channel's filters stands. */
function judgeFilters(step: Step<'filters', ChannelNow>, now: Situation): Judgement<object> {
  const { channel } = step;
  const mark = markAt(now, step.id);
  const basis = filtersBasis(channel);
  const own: Finding[] = crossoverFindings(now.chain).filter(({ channelIds }) => channelIds.includes(channel.id));
  const isStop = own.some(({ grade }) => grade === 'stop');
  const action = isStop
    ? ({ kind: 'set-filter', channelId: channel.id, channel: proposedFilters(channel, now) } as const)
    : ({ kind: 'tick', checks: filterChecks(channel, now.chain).map(({ id }) => id), basis: basis.key, basisWords: basis.words } as const);
  if (mark !== undefined && mark.checks.length > 0 && mark.basis !== basis.key) {
    return {
      status: isStop ? 'stop' : 'stale',
      figures: {},
      action,
      findings: [
        {
          code: 'ticks-stale',
          grade: 'stale',
          figures: {
            at: 'filters',
            then: mark.basis ?? '',
            now: basis.key,
            ...(mark.basisWords === undefined ? {} : { tickedFor: mark.basisWords }),
            present: basis.words,
          },
        },
        ...own,
      ],
    };
  }
  if (isStop) return { status: 'stop', figures: {}, findings: own, action };
  if (!areFiltersConfirmed(channel, now)) return { status: 'open', figures: {}, findings: own, action };
  const seen: Finding = {
    code: 'filters-seen',
    grade: 'good',
    figures: {},
  };
  return { status: 'done', figures: {}, findings: [seen, ...own] };
}
