import { channelsNow } from '../../frame/channels.ts';
import { channelWords, volumeCheck } from '../../frame/channelSteps.ts';
import { defineKind } from '../../frame/stepKind.ts';
import { CABIN, judgeResponse, responseBasis, responseConditions } from './judge.ts';

/** What arrives at the listener of one channel: measured at several places, evened out as far as that is wise, measured again. */
export const response = defineKind({
  kind: 'response',
  stage: 'response',
  title: 'Response',
  help: 'sweeps at several listening positions, their average against the target, and EQ where it helps',
  plays: 'air',
  isOptional: true,
  intakes: [{ type: 'capture', at: 'air', judged: 'sweep' }],
  dependsOn: [],
  subjects: channelsNow,
  keyOf: ({ channel }) => channel.id,
  words: channelWords,
  channelsOf: (subject) => [subject],
  checks: (step, now) => ({ items: [volumeCheck(now.chain.source, true), CABIN], basis: responseBasis(step) }),
  conditions: (step, now) => responseConditions(step, now),
  caution: () =>
    'A sweep runs through every tone that the filters let through: begin softly, protect your ears, leave the car where you can, and never through a tweeter without its filter or below a subwoofer’s tuning at full level. The equipment’s manual, local codes and licensed practice come first.',
  judge: judgeResponse,
});
