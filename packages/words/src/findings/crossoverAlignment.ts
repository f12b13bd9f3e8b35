import { formatQuantity, fixed, signedDb, type CrossoverAlignmentFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const crossoverAlignment = {
  'levels-contradict': ({ hertz, advice }) => ({
    text: `${formatQuantity(hertz, 'Hz')}: ${advice}`,
    next: 'Void the wrong reading, or read them again.',
  }),
  'earlier-was-better': ({ bestDb, lossDb, setting }) => ({
    text: `An earlier setting was ${fixed(bestDb - lossDb, 1)} dB better: ${setting}.`,
    next: 'Restore it in the processor and here.',
  }),
  'not-together': ({ lossDb, setting, promisesDb }) => ({
    text: `Together they are ${fixed(-lossDb, 1)} dB below what they could reach.`,
    next: `Try ${setting}: it should gain ${signedDb(promisesDb)}. Then read both again.`,
  }),
  together: ({ lossDb }) => ({
    text: `They sum at the crossover: ${lossDb > -0.05 ? 'no loss' : `${fixed(-lossDb, 1)} dB lost`}.`,
  }),
  'best-of-trials': ({ lossDb }) => ({
    text: `Best setting found: ${fixed(-lossDb, 1)} dB lost on average.`,
    next: 'Delay and polarity alone cannot fix the rest. Try other slopes or another corner; the cabin also plays a part.',
  }),
  'levels-apart': ({ hertz, lower, upper, apartDb }) => ({
    text: `At ${formatQuantity(hertz, 'Hz')} ${lower} and ${upper} are ${fixed(apartDb, 0)} dB apart, so their sum does not show their phase.`,
    next: 'Read each one alone again. If the readings hold, one channel is muted or its level is not set yet.',
  }),
} satisfies WordsOf<keyof CrossoverAlignmentFindings>;
