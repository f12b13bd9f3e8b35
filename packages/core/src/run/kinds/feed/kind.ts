import type { Finding } from '../../../findings.ts';
import { basisOf } from '../../../job/basis.ts';
import { channelsNow, type ChannelNow } from '../../frame/channels.ts';
import { channelWords } from '../../frame/channelSteps.ts';
import type { Judgement } from '../../frame/judgement.ts';
import { markAt, type Situation } from '../../frame/situation.ts';
import { defineKind, type Checks, type Step } from '../../frame/stepKind.ts';

/** The line side of a hook-up: which plug feeds which input, proved with a tone on one side. */
export const feed = defineKind({
  kind: 'feed',
  stage: 'levels',
  title: 'Input routing',
  part: 'line side',
  help: 'which plug feeds which input, proved with a tone on one side alone',
  plays: 'line',
  isOptional: true,
  intakes: [],
  dependsOn: [],
  // An amplifier inside the source has no plugs of its own.
  subjects: (now) => channelsNow(now).filter(({ amplifier }) => amplifier.isInSource !== true),
  keyOf: ({ channel }) => channel.id,
  words: channelWords,
  channelsOf: () => [],
  checks: feedChecks,
  caution: () =>
    'Amplifiers off while a plug is moved: a plug pulled from a live input bangs at full power. The equipment’s manual comes first.',
  judge: judgeFeed,
});

function feedChecks({ channel, amplifier }: ChannelNow, { chain: { processor } }: Situation): Checks {
  const output = processor?.outputs.find(({ id }) => id === channel.processorOutputId)?.name;
  const from = output === undefined ? 'the source' : `the processor’s ${output}`;
  return {
    items: [
      { id: 'plug', words: `the plug from ${from} sits in the input of ${channel.terminals}` },
      { id: 'one-side', words: 'a tone on its own side alone arrives here, one on the other side does not' },
      ...(channel.mode === 'bridged'
        ? [{ id: 'bridged-input', words: 'the input that the manual names for bridging is fed, the other is not' }]
        : []),
      { id: 'fader', words: 'fader and balance still work, and are back at centre' },
    ],
    basis: basisOf(
      { amplifierId: amplifier.id, terminals: channel.terminals, mode: channel.mode, output: channel.processorOutputId },
      `${amplifier.name}, ${channel.terminals}, ${channel.mode}${output === undefined ? '' : `, from ${output}`}`,
    ),
  };
}

function judgeFeed(step: Step<'feed', ChannelNow>, now: Situation): Judgement<object> {
  const mark = markAt(now, step.id);
  const { items, basis } = feedChecks(step, now);
  const ticked = new Set(mark?.basis === undefined || mark.basis === basis?.key ? mark?.checks : []);
  const action = {
    kind: 'tick',
    checks: items.map(({ id }) => id),
    ...(basis === undefined ? {} : { basis: basis.key, basisWords: basis.words }),
  } as const;
  if (!items.every(({ id }) => ticked.has(id))) return { status: 'open', figures: {}, findings: [], action };
  const seen: Finding = { code: 'feed-seen', grade: 'good', figures: {} };
  return { status: 'done', figures: {}, findings: [seen] };
}
