import { OUTPUT_NAMES } from '../../../source/sourceControls.ts';
import { defineKind } from '../../frame/stepKind.ts';
import { CEILING_STANDS_ON } from './curves.ts';
import { ceilingConditions, judgeCeiling } from './judge.ts';
import { ceilingSubjects } from './workingVolume.ts';

/** What outputs of sources give, where nothing is claimed. Common practice, no source. */
const USUAL_PREAMP_VOLT = 5;
const USUAL_SPEAKER_VOLT = 12;

/** Up the volume a step at a time, for each way the source may be set. */
export const ceiling = defineKind({
  kind: 'ceiling',
  stage: 'ceiling',
  title: 'Clean ceiling',
  help: 'how far the volume may go at one output, for each way the source may be set',
  plays: 'line',
  intakes: [
    { type: 'reading', kind: 'source-voltage', unit: 'V', at: 'line', words: 'source' },
    { type: 'capture', at: 'line', judged: 'tone' },
  ],
  dependsOn: CEILING_STANDS_ON,
  subjects: ceilingSubjects,
  keyOf: ({ output }) => output,
  words: ({ output }) => ({ subject: OUTPUT_NAMES[output], where: 'Source: how far the volume may go' }),
  channelsOf: () => [],
  caution: ({ output }) =>
    `${
      output === 'speakers'
        ? 'Never put a speaker output straight into a sound card: its two wires both carry the signal, up to 20 V. Take the drivers off, or protect your ears.'
        : 'Amplifiers off or their inputs unplugged: the volume goes far beyond what anyone listens at.'
    } The equipment’s manual comes first.`,
  conditions: ceilingConditions,
  likely: ({ output }, { chain: { source } }) => ({
    atMost: 3 * (output === 'speakers' ? USUAL_SPEAKER_VOLT : (source.preampClaimVolt ?? USUAL_PREAMP_VOLT)),
  }),
  speaksOf: { 'volume-over-ceiling': 'source', 'steps-contradict': 'source', 'row-implausible': 'source' },
  judge: judgeCeiling,
});
