import { channelsNow } from '../../frame/channels.ts';
import { channelWords, likelyVolt, terminalsBasis, volumeCheck } from '../../frame/channelSteps.ts';
import { loadConditions } from '../../frame/conditions.ts';
import { defineKind } from '../../frame/stepKind.ts';
import { gainReadingThatCounts } from '../gain/judge.ts';
import { judgeProof, PROOF_STANDS_ON } from './judge.ts';

/** Load on: is the output clean, how far does it sag, what reaches the drivers? */
export const proof = defineKind({
  kind: 'proof',
  stage: 'proof',
  title: 'Proof',
  help: 'the channel under load: clean, how far it sags, what reaches the drivers',
  plays: 'load',
  intakes: [
    { type: 'reading', kind: 'loaded-voltage', unit: 'V', at: 'load', words: 'volts, loaded' },
    { type: 'reading', kind: 'clamp-current', unit: 'A', at: 'load', words: 'clamp' },
    { type: 'reading', kind: 'supply-rest', unit: 'V', at: 'load', words: 'supply, no tone' },
    { type: 'reading', kind: 'supply-loaded', unit: 'V', at: 'load', words: 'supply, tone on' },
    { type: 'capture', at: 'load', judged: 'tone' },
  ],
  dependsOn: PROOF_STANDS_ON,
  subjects: channelsNow,
  keyOf: ({ channel }) => channel.id,
  words: channelWords,
  channelsOf: (subject) => [subject],
  checks: (step, now) => ({
    items: [volumeCheck(now.chain.source), { id: 'load-on', words: 'load connected, tone off' }],
    basis: terminalsBasis(step, now, 'on'),
  }),
  conditions: (step, now) => loadConditions(step, now, 'on'),
  likely: (step, now, reading) => {
    if (reading === 'supply-rest' || reading === 'supply-loaded') return { atLeast: 8, atMost: 17 };
    const volt = likelyVolt(step, gainReadingThatCounts(step, now)?.value);
    const { loadOhm } = step.channel;
    return volt === undefined || reading === 'loaded-voltage' ? volt : { atMost: (volt.atMost ?? Infinity) / loadOhm };
  },
  caution: () =>
    'Full power: protect your ears, keep bursts under ten seconds, and let coils and dummy loads cool; they get hot enough to burn. Connect the load only while nothing plays. No tweeter without its filter. With the engine running, work outdoors: exhaust gas kills. The equipment’s manual, local codes and licensed practice come first.',
  speaksOf: {
    'capture-clipped': 'clean',
    'capture-onset': 'clean',
    'capture-distorted': 'clean',
    'clamp-implausible': 'load',
    'supply-implausible': 'supply',
    'supply-rises': 'supply',
  },
  standsOn: ['load', 'terminals', 'level', 'fed', 'line', 'source', 'way', 'offset'],
  judge: judgeProof,
});
