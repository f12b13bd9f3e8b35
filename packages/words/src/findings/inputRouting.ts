import { type InputRoutingFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const inputRouting = {
  'feed-seen': () => ({
    text: 'Fed by its own side only.',
  }),
} satisfies WordsOf<keyof InputRoutingFindings>;
