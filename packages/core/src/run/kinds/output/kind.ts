import { defineKind } from '../../frame/stepKind.ts';
import { judgeOutput, OUTPUT_STANDS_ON, outputChecks, outputConditions, outputSubjects } from './judge.ts';

/** A processor's output at its target voltage, matched with the others. */
export const output = defineKind({
  kind: 'output',
  stage: 'levels',
  title: 'Output level',
  part: 'output',
  help: 'a processor’s output at its target voltage, matched with the others',
  plays: 'line',
  intakes: [
    { type: 'reading', kind: 'output-voltage', unit: 'V', at: 'line', words: 'output' },
    { type: 'capture', at: 'line', judged: 'tone' },
  ],
  dependsOn: OUTPUT_STANDS_ON,
  subjects: outputSubjects,
  keyOf: ({ output: { id } }) => id,
  words: ({ output: { name }, processor }) => ({ subject: name, where: processor.name }),
  channelsOf: () => [],
  checks: (step, now) => ({ items: outputChecks(step, now) }),
  caution: () => 'Amplifiers off while an output is set. The processor’s manual comes first.',
  conditions: outputConditions,
  // Three times what it is to give, or what its data sheet says.
  likely: ({ target, processor }) => ({ atMost: 3 * Math.max(target.fullScaleVoltRms, processor.mostOutputVolt ?? 0) }),
  target: ({ target }) => ({ value: target.settingVolt, unit: 'V' }),
  speaksOf: {
    'level-low': 'fed',
    'level-high': 'fed',
    'reads-nothing': 'fed',
    'outputs-apart': 'fed',
    'above-declared': 'fed',
    'output-clips': 'fed',
  },
  standsOn: ['source', 'line'],
  outputIdOf: ({ output: { id } }) => id,
  judge: judgeOutput,
});
