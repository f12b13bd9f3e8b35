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
    text: `${formatQuantity(coilsOhm, 'ohm')}: this wiring should read ${range(low, high)}. No single fault explains it.`,
    next: 'Measure each coil separately. The closest single faults are listed below.',
  }),
  'whole-other-nominal': ({ coilsOhm, low, high, nominalOhm, likelyOhm, isReadTwice }) => ({
    text: `${formatQuantity(coilsOhm, 'ohm')}: a ${formatQuantity(nominalOhm, 'ohm')} coil reads ${range(low, high)}. This looks like a ${formatQuantity(likelyOhm, 'ohm')} coil.`,
    next: isReadTwice
      ? `Check the label on the driver. If it is ${formatQuantity(likelyOhm, 'ohm')}, enter it as measured.`
      : 'Press the probes firmly onto bare metal and read again: a bad contact adds resistance.',
  }),
  'leads-unknown': () => ({
    text: 'No lead resistance entered.',
    next: 'Touch the probes together and enter the reading.',
  }),
} satisfies WordsOf<keyof LoadResistanceFindings>;
