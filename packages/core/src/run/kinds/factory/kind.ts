import type { LineConditions } from '../../../job/conditions.ts';
import { SHORT_SWEEP } from '../../../tones/sweepSpec.ts';
import { lineConditions } from '../../frame/played.ts';
import type { Situation } from '../../frame/situation.ts';
import { defineKind } from '../../frame/stepKind.ts';
import { FACTORY_STANDS_ON, sourceCaptures } from '../../frame/sourceSweeps.ts';
import { judgeFactory } from './judge.ts';

/** What a factory unit does to the signal: the same sweep at several volumes. */
export const factory = defineKind({
  kind: 'factory',
  stage: 'ceiling',
  title: 'Factory signal',
  help: 'what a factory unit does to the signal as its volume rises',
  plays: 'line',
  intakes: [{ type: 'capture', at: 'line', judged: 'sweep' }],
  dependsOn: FACTORY_STANDS_ON,
  subjects: (now) => (now.chain.source.isFactory === true ? [{}] : []),
  keyOf: () => 'source',
  words: () => ({
    subject: 'Sweeps at several volumes',
    where: 'Source: what it does to the signal before anyone else does',
    rail: 'Factory signal',
  }),
  channelsOf: () => [],
  caution: () =>
    'A sweep at the working volume is loud and reaches tweeters: amplifiers off, or speakers unplugged. Never put a speaker output straight into a sound card. The equipment’s manual comes first.',
  conditions: sweepConditions,
  judge: judgeFactory,
});

/** A low volume first, then the working one. */
function sweepConditions(_step: object, now: Situation): LineConditions {
  const { volumeSteps, workingVolume } = now.chain.source;
  const isFirst = sourceCaptures(now).own.length === 0;
  return {
    ...lineConditions(now, now.settings.rules.otherToneHz),
    sourceVolume: isFirst ? Math.min(Math.round(volumeSteps / 3), Math.max(1, workingVolume - 1)) : workingVolume,
    sweep: { ...SHORT_SWEEP, labels: ['Front left'] },
  };
}
