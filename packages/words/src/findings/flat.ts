import { type FlatFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const flat = {
  'control-not-neutral': ({ controlName, value }) => ({
    text: `${controlName} is at ${value}: all later readings apply to that setting only.`,
    next: 'Set it to neutral, or keep it deliberately and find the ceiling with it.',
  }),
  flat: () => ({
    text: 'All controls neutral. These settings are saved with every reading from now on.',
  }),
} satisfies WordsOf<keyof FlatFindings>;
