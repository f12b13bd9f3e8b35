import type { HandoverFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const handover = {
  'volume-unknown': ({ cases }) => ({
    text: `No safe volume is known for ${cases.join(', ')}: the owner’s sheet says to leave it off.`,
    next: 'Find its ceiling, or remove the setting from the chain.',
  }),
  'handed-over-before': () => ({
    text: 'Settings changed after the handover.',
    next: 'Sign a new sheet and hand it over: the old one is out of date.',
  }),
  'handed-over': () => ({ text: 'Handed over with the present settings.' }),
} satisfies WordsOf<keyof HandoverFindings>;
