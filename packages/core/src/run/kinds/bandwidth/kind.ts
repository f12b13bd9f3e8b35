import { channelsNow } from '../../frame/channels.ts';
import { channelWords, terminalsBasis, volumeCheck } from '../../frame/channelSteps.ts';
import { defineKind } from '../../frame/stepKind.ts';
import { BANDWIDTH_STANDS_ON, bandwidthConditions, judgeBandwidth, lookTones, meantChecks } from './judge.ts';

/** The channel over its whole range, under load and at full scale: what the gain's own tone does not show. */
export const bandwidth = defineKind({
  kind: 'bandwidth',
  stage: 'proof',
  title: 'Bandwidth check',
  part: 'bandwidth',
  help: 'the channel under load over its whole range: clean at its low end too, and no boost or filter that nobody knows of',
  plays: 'load',
  intakes: [{ type: 'capture', at: 'load', judged: 'tone' }],
  dependsOn: BANDWIDTH_STANDS_ON,
  // A range that leaves no room for another tone is proved already.
  subjects: (now) => channelsNow(now).filter((each) => lookTones(each, now).length > 0),
  keyOf: ({ channel }) => channel.id,
  words: channelWords,
  channelsOf: (subject) => [subject],
  checks: (step, now) => ({
    items: [
      volumeCheck(now.chain.source),
      { id: 'load-on', words: 'load connected, tone off' },
      ...meantChecks(judgeBandwidth(step, now).findings),
    ],
    basis: terminalsBasis(step, now, 'on'),
  }),
  conditions: (step, now) =>
    bandwidthConditions(step, now, judgeBandwidth(step, now).figures.nextHz ?? lookTones(step, now)[0] ?? step.toneHz),
  tonesHz: lookTones,
  caution: () =>
    'Full power at several tones: protect your ears, keep bursts to a second or two, and rest between them. A tweeter’s tones at full power burn its coil within seconds: use a dummy load there, or the shortest burst that the scope catches. Connect the load only while nothing plays. The equipment’s manual, local codes and licensed practice come first.',
  speaksOf: {
    'band-flat': 'clean',
    'band-uneven': 'way',
  },
  standsOn: ['load', 'terminals', 'level', 'fed', 'line', 'source', 'way', 'offset'],
  judge: judgeBandwidth,
});
