import type { Finding } from '../../../findings.ts';
import { belowLowestCheck, belowLowestFinding, hookupBasis, mayGoBelow } from '../../frame/belowLowest.ts';
import { channelsNow, type ChannelNow } from '../../frame/channels.ts';
import { channelWords } from '../../frame/channelSteps.ts';
import type { Judgement } from '../../frame/judgement.ts';
import { markAt, type Situation } from '../../frame/situation.ts';
import { defineKind, type Check, type Step } from '../../frame/stepKind.ts';

/** Connecting a channel's wiring to its amplifier. Metering a wiring harms nobody; connecting one that is too low does. */
export const hookup = defineKind({
  kind: 'hookup',
  stage: 'loads',
  title: 'Hook-up',
  part: 'hook-up',
  help: 'the wiring on the amplifier’s terminals, and what each channel sees',
  plays: 'nothing',
  connects: true,
  intakes: [],
  dependsOn: [],
  subjects: channelsNow,
  keyOf: ({ channel }) => channel.id,
  words: channelWords,
  channelsOf: (subject) => [subject],
  checks: (step) => ({ items: hookupChecks(step), basis: hookupBasis(step) }),
  caution: () =>
    'Amplifier off and its fuse out before any wire is moved; nothing is connected while a tone plays. The amplifier’s manual, local codes and licensed practice come first.',
  standsOn: ['load', 'terminals'],
  judge: judgeHookup,
});

/** What to see to before a load is connected; the ticks are for exactly this load on exactly these terminals. */
function hookupChecks(step: ChannelNow): Check[] {
  const { channel } = step;
  return [
    { id: 'power-off', words: 'amplifier switched off, no tone' },
    ...(channel.mode === 'bridged' ? [{ id: 'bridging', words: 'manual shows these two terminals for bridging' }] : []),
    { id: 'polarity', words: 'plus on plus, minus on minus' },
    { id: 'strands', words: 'no strand reaches another terminal' },
    ...(mayGoBelow(step) ? [belowLowestCheck(step)] : []),
  ];
}

function judgeHookup(step: Step<'hookup', ChannelNow>, now: Situation): Judgement<object> {
  const mark = markAt(now, step.id);
  const ticked = new Set(mark?.checks);
  const basis = hookupBasis(step);
  const checks = hookupChecks(step).map(({ id }) => id);
  const action = { kind: 'tick', checks, basis: basis.key, basisWords: basis.words } as const;
  const verdict: Finding = {
    code: `load-${step.hookup.verdict}`,
    grade: step.hookup.verdict === 'fits' ? 'good' : 'attention',
    figures: { loadOhm: step.channel.loadOhm, perChannelOhm: step.hookup.perChannelOhm, note: step.hookup.note },
  };
  if (ticked.size > 0 && mark?.basis !== undefined && mark.basis !== basis.key) {
    return {
      status: 'stale',
      figures: {},
      action,
      findings: [
        {
          code: 'ticks-stale',
          grade: 'stale',
          figures: {
            at: 'hookup',
            then: mark.basis,
            now: basis.key,
            ...(mark.basisWords === undefined ? {} : { tickedFor: mark.basisWords }),
            present: basis.words,
          },
        },
        verdict,
      ],
    };
  }
  const findings = mayGoBelow(step) ? [belowLowestFinding(step)] : step.hookup.verdict === 'below-minimum' ? [] : [verdict];
  return checks.every((id) => ticked.has(id))
    ? { status: 'done', figures: {}, findings }
    : { status: 'open', figures: {}, findings, action };
}
