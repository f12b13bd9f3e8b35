import { type ListeningFindings } from '@yield/core';
import { passageAdvice, passageWords } from '../passages.ts';
import type { WordsOf } from '../said.ts';

export const listening = {
  'heard-fine': () => ({
    text: 'Every passage sounds right with the present settings.',
  }),
  'heard-wrong': ({ said, passage }) => ({
    text: `Not right${said === undefined ? '' : `: “${said}”`}. ${passageWords(passage)}.`,
    next: passageAdvice(passage) ?? 'Change one thing at a time, then listen again.',
  }),
  'heard-before': ({ passage, said }) => ({
    text: `${passageWords(passage)}: heard before the settings changed${said === undefined ? '' : `: “${said}”`}.`,
    next: 'Listen again.',
  }),
} satisfies WordsOf<keyof ListeningFindings>;
