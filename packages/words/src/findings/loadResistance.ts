import { type LoadResistanceFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const loadResistance = {
  'wiring-unknown': ({ channelName }) => ({
    text: `The coil wiring of ${channelName} is not entered yet.`,
    next: 'Choose a wiring first. The expected resistance follows from it.',
  }),
  'whole-as-intended': ({ note, leadNote }) => ({
    text: note ?? 'As intended.',
    next: leadNote,
  }),
  'whole-open': ({ note }) => ({
    text: note,
  }),
  'whole-short': ({ note }) => ({
    text: note,
  }),
  'whole-other-wiring': ({ note }) => ({
    text: note,
  }),
  'whole-one-coil-only': ({ note }) => ({
    text: note,
  }),
  'whole-driver-missing': ({ note }) => ({
    text: note,
  }),
  'whole-coil-open': ({ note }) => ({
    text: note,
  }),
  'whole-leads-not-subtracted': ({ note }) => ({
    text: note,
  }),
  'leads-unknown': () => ({
    text: 'No lead resistance entered.',
    next: 'Touch the probes together and enter the reading.',
  }),
} satisfies WordsOf<keyof LoadResistanceFindings>;
