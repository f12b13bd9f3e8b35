import { type EnclosureWiringFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const enclosureWiring = {
  'box-as-intended': ({ driverName }) => ({
    text: `${driverName} reads as expected at its own terminals.`,
  }),
} satisfies WordsOf<keyof EnclosureWiringFindings>;
