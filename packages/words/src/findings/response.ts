import { formatQuantity, fixed, type ResponseFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const response = {
  'no-common-range': () => ({
    text: 'The recordings share no range where all of them are above the noise.',
    next: 'Record again: louder, in quieter surroundings, with the sweep from the tone set.',
  }),
  'range-not-covered': ({ first, last, fromHz, toHz }) => ({
    text: `Measured from ${formatQuantity(first, 'Hz')} to ${formatQuantity(last, 'Hz')}; to be corrected from ${formatQuantity(fromHz, 'Hz')} to ${formatQuantity(toHz, 'Hz')}.`,
    next: 'Record again louder or in less noise, void a table that ends too early, or narrow the range.',
  }),
  'in-noise': ({ place, underDb, first, last }) => ({
    text: `At “${place}” the noise comes within ${fixed(Math.max(0, underDb), 0)} dB of the signal, ${first === last ? `near ${formatQuantity(first, 'Hz')}` : `between ${formatQuantity(first, 'Hz')} and ${formatQuantity(last, 'Hz')}`}: the curve there is partly noise.`,
    next: 'Switch off engine and fan, play louder and record again, or narrow the range.',
  }),
  strained: ({ percent, hertz }) => ({
    text: `Distortion reaches ${fixed(percent, 0)} % at ${formatQuantity(hertz, 'Hz')}: something is overloaded there at this level.`,
    next: 'Play the sweep at a lower level. If it remains, look for a rattle, a rubbing coil or a missing high-pass.',
  }),
  even: ({ offDb, fromHz, toHz, beforeDb }) => ({
    text: `${fixed(offDb, 1)} dB off target between ${formatQuantity(fromHz, 'Hz')} and ${formatQuantity(toHz, 'Hz')}${beforeDb === undefined ? '' : `, ${fixed(beforeDb, 1)} dB before`}.`,
  }),
  uneven: ({ offDb, fromHz, toHz, beforeDb }) => ({
    text: `${fixed(offDb, 1)} dB off target between ${formatQuantity(fromHz, 'Hz')} and ${formatQuantity(toHz, 'Hz')}${beforeDb === undefined ? '' : `, ${fixed(beforeDb, 1)} dB before`}.`,
    next: 'Work through the points below first. Do not use EQ for what crossover, polarity, delay or level can fix.',
  }),
  'even-band': ({ fromHz, toHz, withinDb }) => ({
    text: `Within ${withinDb} dB from ${formatQuantity(fromHz, 'Hz')} to ${formatQuantity(toHz, 'Hz')}.`,
  }),
  'worse-than-before': ({ offDb, beforeDb }) => ({
    text: `${fixed(offDb, 1)} dB off target, and ${fixed(beforeDb, 1)} dB before: it was better without the change.`,
    next: 'Check that the EQ is entered in the processor as shown and the microphone is where it was. Otherwise remove the bands.',
  }),
  dip: ({ offDb, hertz, isOfPlace, spreadDb, places }) => ({
    text: `A dip of ${fixed(Math.abs(offDb), 1)} dB at ${formatQuantity(hertz, 'Hz')}${isOfPlace ? `, ${fixed(spreadDb, 0)} dB different between positions: leave it` : places > 1 ? ', at all positions' : ''}.`,
    next: isOfPlace
      ? 'A dip that moves with the position cannot be corrected: it would be wrong at the next seat.'
      : 'Two paths that cancel also cancel any boost. Check polarity, delay and crossover there first.',
  }),
  hump: ({ offDb, hertz, places, isOfPlace, spreadDb }) => ({
    text: `A peak of ${fixed(Math.abs(offDb), 1)} dB at ${formatQuantity(hertz, 'Hz')}${places > 1 ? (isOfPlace ? `, ${fixed(spreadDb, 0)} dB different between positions` : ', at all positions: the cabin') : ''}.`,
    next: 'A cut there costs nothing and gains headroom.',
  }),
  'few-places': ({ places }) => ({
    text: places === 1 ? 'Only one position measured: a dip or peak may exist only there.' : 'Two positions: a third tells more.',
    next: 'Move the microphone about 10 cm and record again.',
  }),
  'calibration-short': ({ first, last }) => ({
    text: `The microphone calibration only covers ${formatQuantity(first, 'Hz')} to ${formatQuantity(last, 'Hz')}. Beyond that it is assumed flat.`,
    next: 'Trust the curve less outside that range, or import the full table.',
  }),
  'boost-costs': ({ boostDb }) => ({
    text: `Its EQ boosts up to ${formatQuantity(boostDb, 'dB')}, so its gain target is that much lower to avoid clipping.`,
    next: 'Set its gain again to the lower target.',
  }),
} satisfies WordsOf<keyof ResponseFindings>;
