import { type ListeningFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const listening = {
  'heard-fine': () => ({
    text: 'Every passage sounds right with the present settings.',
  }),
  'heard-wrong': ({ said, passageText, advice }) => ({
    text: `Not right${said === undefined ? '' : `: “${said}”`}. ${passageText}.`,
    next: advice ?? 'Change one thing at a time, then listen again.',
  }),
  'heard-before': ({ passageText, said }) => ({
    text: `${passageText}: heard before the settings changed${said === undefined ? '' : `: “${said}”`}.`,
    next: 'Listen again.',
  }),
} satisfies WordsOf<keyof ListeningFindings>;
