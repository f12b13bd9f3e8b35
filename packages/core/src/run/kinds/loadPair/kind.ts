import { channelsNow } from '../../frame/channels.ts';
import { channelWords, likelyVolt, terminalsBasis, volumeCheck } from '../../frame/channelSteps.ts';
import { defineKind } from '../../frame/stepKind.ts';
import { PROOF_STANDS_ON } from '../proof/judge.ts';
import { judgeLoadPair, pairConditions } from './judge.ts';

/** One voltage without and one with load, at the same knob: what the amplifier would do into other loads. */
export const loadPair = defineKind({
  kind: 'load-pair',
  stage: 'proof',
  title: 'Load pair',
  part: 'load pair',
  help: 'one voltage without and with load at the same knob: what other loads would get',
  plays: 'load',
  isOptional: true,
  intakes: [
    { type: 'reading', kind: 'pair-unloaded', unit: 'V', at: 'load', words: 'volts, load off' },
    { type: 'reading', kind: 'pair-loaded', unit: 'V', at: 'load', words: 'volts, load on' },
    { type: 'capture', at: 'load', judged: 'tone' },
  ],
  dependsOn: PROOF_STANDS_ON,
  subjects: channelsNow,
  keyOf: ({ channel }) => channel.id,
  words: channelWords,
  channelsOf: (subject) => [subject],
  checks: (step, now) => ({
    items: [volumeCheck(now.chain.source), { id: 'same-knob', words: 'the gain knob stays where it is' }],
    basis: terminalsBasis(step, now, 'on'),
  }),
  conditions: (step, now) => pairConditions(step, now),
  likely: (step) => likelyVolt(step, undefined),
  speaksOf: { 'flat-without-load': 'clean', 'flat-under-load-only': 'clean' },
  standsOn: ['load', 'terminals', 'offset'],
  judge: judgeLoadPair,
});
