import { type FiltersFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const filters = {
  'ticks-stale': ({ at, tickedFor, present, why }) => {
    switch (at) {
      case 'filters':
        return {
          text: `Ticked for: ${tickedFor ?? 'another setting'}. Now: ${present}.`,
          next: 'Set it on the gear, check it and tick it again.',
        };
      case 'flat':
        return { text: `Ticked for: ${tickedFor ?? 'another source'}. Now: ${present}.`, next: 'Set it to neutral and tick it again.' };
      case 'hookup':
        return {
          text:
            tickedFor === present
              ? 'The wiring has changed since this was ticked.'
              : `Ticked for ${tickedFor ?? 'something else'}. Now: ${present}.`,
          next: 'Switch off, check again and tick it again.',
        };
      case 'input':
        return {
          text: `The input level is out of date: ${why}.`,
          next: 'Raise it until the clip light comes on, then back it off.',
        };
    }
  },
  'filters-seen': () => ({
    text: 'Filters set and checked. Tones may play on this channel.',
  }),
} satisfies WordsOf<keyof FiltersFindings>;
