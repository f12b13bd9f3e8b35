import { type HookupFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const hookup = {
  'load-unknown': ({ note }) => ({
    text: note,
  }),
  'load-fits': ({ note }) => ({
    text: note,
  }),
  'load-below-minimum': ({ note }) => ({
    text: note,
  }),
} satisfies WordsOf<keyof HookupFindings>;
