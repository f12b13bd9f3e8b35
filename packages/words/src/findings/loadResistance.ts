import { formatQuantity, type LoadResistanceFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

const range = (low: number, high: number): string => `${formatQuantity(low, 'ohm')} to ${formatQuantity(high, 'ohm')}`;

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
  'whole-unexplained': ({ coilsOhm, low, high }) => ({
    text: `${formatQuantity(coilsOhm, 'ohm')} where ${range(low, high)} fits this wiring. No single mistake explains it.`,
    next: 'Meter each coil alone. The nearest mistakes are listed below.',
  }),
  'whole-other-nominal': ({ coilsOhm, low, high, nominalOhm, likelyOhm }) => ({
    text: `${formatQuantity(coilsOhm, 'ohm')} where ${range(low, high)} fits coils of ${formatQuantity(nominalOhm, 'ohm')}. It fits coils of ${formatQuantity(likelyOhm, 'ohm')}.`,
    next: `Check what is printed on the driver. If the coils are ${formatQuantity(likelyOhm, 'ohm')}, enter them as measured.`,
  }),
  'leads-unknown': () => ({
    text: 'No lead resistance entered.',
    next: 'Touch the probes together and enter the reading.',
  }),
} satisfies WordsOf<keyof LoadResistanceFindings>;
