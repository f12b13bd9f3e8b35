import { basisOf } from '../../../job/basis.ts';
import { formatQuantity } from '../../../units/formatQuantity.ts';
import { groupName } from '../../../ways/driverGroups.ts';
import { volumeCheck } from '../../frame/channelSteps.ts';
import { defineKind } from '../../frame/stepKind.ts';
import { judgeMeeting, nextLevel } from './judge.ts';
import { filtersKey, LEVEL_STANDS_ON, meetingConditions, meetingsNow } from './subject.ts';

/** Two neighbours, at the listener's head, by three levels: each alone, and both. */
export const meeting = defineKind({
  kind: 'meeting',
  stage: 'phase',
  title: 'Neighbours',
  help: 'two ways at their crossover: each alone and both, at the listener’s head; then delay and polarity until they add',
  plays: 'air',
  isOptional: true,
  intakes: [
    { type: 'reading', kind: 'level-lower', unit: 'dB', at: 'air', words: 'the lower one alone' },
    { type: 'reading', kind: 'level-upper', unit: 'dB', at: 'air', words: 'the upper one alone' },
    { type: 'reading', kind: 'level-both', unit: 'dB', at: 'air', words: 'both' },
  ],
  dependsOn: LEVEL_STANDS_ON,
  subjects: meetingsNow,
  keyOf: ({ lower, upper }) => [lower, upper].map(({ channel }) => channel.id.slice(0, 28)).join('-'),
  words: ({ lower, upper, cornerHz }) => ({
    subject: `${groupName(lower)} with ${groupName(upper)}`,
    where: `at the listener’s head, around ${formatQuantity(cornerHz, 'Hz')}`,
  }),
  channelsOf: ({ channels }) => channels,
  checks: (step, now) => ({
    items: [volumeCheck(now.chain.source), { id: 'still', words: 'microphone at the listener’s head, not moved until the end' }],
    basis: basisOf({ volume: now.chain.source.workingVolume, filters: filtersKey(step, now) }, `volume ${now.chain.source.workingVolume}`),
  }),
  conditions: (step, now) => meetingConditions(step, now, nextLevel(step, now)?.hertz ?? step.cornerHz),
  tonesHz: ({ tones }) => tones.map(({ hertz }) => hertz),
  caution: () =>
    'Low tones carry no warning that they are loud: begin softly, protect your ears, and rest between tones. Mute the ways that are not measured in the processor, never by pulling wires while something plays. The equipment’s manual, local codes and licensed practice come first.',
  standsOn: ['polarity'],
  judge: judgeMeeting,
});
