import { channelsNow, type ChannelNow } from '../../frame/channels.ts';
import { channelWords, likelyVolt, terminalsBasis, volumeCheck } from '../../frame/channelSteps.ts';
import { loadConditions } from '../../frame/conditions.ts';
import { loadAtGain } from '../../frame/onset.ts';
import { SHOCK_VOLT, toneStart } from '../../frame/gate.ts';
import type { Situation } from '../../frame/situation.ts';
import { defineKind, type Check } from '../../frame/stepKind.ts';
import { endStopCheck, shortAndCleanVolt } from './endStop.ts';
import { gainReadingThatCounts, judgeGainStep, LOAD_STANDS_ON } from './judge.ts';

/** One channel's gain, to its target voltage. */
export const gain = defineKind({
  kind: 'gain',
  stage: 'gains',
  title: 'Gain',
  help: 'one channel’s gain to its target voltage',
  plays: 'load',
  intakes: [
    { type: 'reading', kind: 'gain-voltage', unit: 'V', at: 'load', words: 'volts' },
    { type: 'reading', kind: 'tone-voltage', unit: 'V', at: 'load', words: 'volts, another tone' },
    { type: 'capture', at: 'load', judged: 'tone' },
  ],
  dependsOn: LOAD_STANDS_ON,
  // The source's own amplifier has no gain: its volume is all there is.
  subjects: (now) => channelsNow(now).filter(({ amplifier }) => amplifier.isInSource !== true),
  keyOf: ({ channel }) => channel.id,
  words: channelWords,
  channelsOf: (subject) => [subject],
  checks: (step, now) => ({
    items: [
      volumeCheck(now.chain.source, toneStart(step) !== undefined),
      loadAtGain(now.settings.rules) === 'on'
        ? { id: 'load-on', words: 'load connected' }
        : { id: 'drivers-off', words: 'drivers disconnected' },
      ...endStopChecks(step, now),
    ],
    basis: terminalsBasis(step, now, loadAtGain(now.settings.rules)),
  }),
  conditions: (step, now) => loadConditions(step, now, loadAtGain(now.settings.rules)),
  target: ({ target }) => (target === undefined ? undefined : { value: target.settingVoltage, unit: 'V' }),
  likely: (step, now) => likelyVolt(step, gainReadingThatCounts(step, now)?.value),
  caution: gainCaution,
  speaksOf: {
    // What is too low is as clean as it was proved; what is too high was not proved there.
    'level-high': 'level',
    'reads-nothing': 'level',
    'too-coarse': 'level',
    'tone-outside': 'level',
    'capture-clipped': 'clean',
    'capture-onset': 'clean',
    'capture-distorted': 'clean',
    'band-flat': 'clean',
  },
  standsOn: ['load', 'terminals', 'supply', 'fed', 'line', 'source', 'way', 'offset'],
  judge: judgeGainStep,
});

function endStopChecks(step: ChannelNow, now: Situation): Check[] {
  const volt = shortAndCleanVolt(step, now);
  return volt === undefined ? [] : [endStopCheck(volt)];
}

function gainCaution({ toneHz, target }: ChannelNow, { settings: { rules } }: Situation): string {
  const isLoadOn = loadAtGain(rules) === 'on';
  return [
    isLoadOn
      ? 'A test tone at this level is loud: protect your ears, and keep it to short bursts.'
      : 'Never connect a driver while the tone plays: sparks, and a voice coil can burn.',
    ...(toneHz >= 500 && isLoadOn ? ['No tweeter without its filter.'] : []),
    ...((target?.fullScaleVoltage ?? 0) > SHOCK_VOLT ? ['Above 50 V AC the terminals can give a dangerous shock.'] : []),
    'The amplifier’s manual, local codes and licensed practice come first.',
  ].join(' ');
}
