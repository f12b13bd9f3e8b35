import { POLARITY_WAYS, type PolarityFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const polarity = {
  'polarity-stale': ({ driverName }) => ({
    text: `${driverName} has been rewired since this was checked.`,
    next: 'Check again which way the cone moves.',
  }),
  'polarity-right': ({ isReversed, driverName, foundBy }) => ({
    text:
      isReversed === true
        ? `${driverName} moves as entered in the chain, deliberately reversed${foundBy === undefined ? '' : `, found ${POLARITY_WAYS[foundBy]}`}.`
        : `${driverName} moves outward on plus${foundBy === undefined ? '' : `, found ${POLARITY_WAYS[foundBy]}`}.`,
  }),
  'polarity-reversed': ({ driverName, foundBy }) => ({
    text: `${driverName} is reversed${foundBy === undefined ? '' : `, found ${POLARITY_WAYS[foundBy]}`}: it moves in while the others move out.`,
    next: 'Amplifier off: swap the two wires at this driver, then check again.',
  }),
  'polarity-unclear': ({ driverName, foundBy }) => ({
    text: `${driverName}: no clear result${foundBy === undefined ? '' : `, found ${POLARITY_WAYS[foundBy]}`}.`,
    next: 'Try another method: touch shows what the ear misses.',
  }),
  'pulse-contradicts': ({ driverName, found }) => ({
    text: `${driverName} is entered as ${found}, but its latest pulse recording shows the opposite.`,
    next: 'Record it again or change the entry. Void the recording if it is of another driver.',
  }),
} satisfies WordsOf<keyof PolarityFindings>;
