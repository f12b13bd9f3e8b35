import { formatQuantity, KIND_NAMES, type CrossoverPlanFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const crossoverPlan = {
  'bare-tweeter': ({ name }) => ({
    text: `${name}: this tweeter has no protection from bass.`,
    next: 'Fit its capacitor or set a high-pass filter before playing any tone. If the capacitor was removed or bridged, refit it.',
  }),
  'tweeter-by-setting': ({ name }) => ({
    text: `${name}: only a filter setting protects this tweeter.`,
    next: 'A reset or wrong preset removes it. A capacitor in the line stays.',
  }),
  'corners-crossed': ({ name, highpassHz, lowpassHz }) => ({
    text: `${name}: the high-pass at ${formatQuantity(highpassHz, 'Hz')} is above the low-pass at ${formatQuantity(lowpassHz, 'Hz')}: almost nothing passes.`,
    next: 'Change one of the two corners.',
  }),
  'filter-twice': ({ name, kind, where, otherWhere, order, otherOrder, levelDb, hertz }) => ({
    text: `${name}: two ${KIND_NAMES[kind].toLowerCase()} filters in a row, ${where} and ${otherWhere}: their slopes add to ${6 * (order + otherOrder)} dB per octave, ${formatQuantity(levelDb, 'dB')} at ${formatQuantity(hertz, 'Hz')}.`,
    next: 'Switch one off unless you want the steeper slope.',
  }),
  'no-subsonic': ({ name, tuningHz, highpassHz }) => ({
    text: `${name}: no subsonic filter below the enclosure’s tuning at ${formatQuantity(tuningHz, 'Hz')}.`,
    next: `Below tuning a port no longer controls the cone. Set a high-pass near ${formatQuantity(highpassHz, 'Hz')}.`,
  }),
  'parts-without-filter': ({ name, kind }) => ({
    text: `${name}: the passive ${KIND_NAMES[kind].toLowerCase()} has no series part, so it does nothing.`,
    next: kind === 'highpass' ? 'Enter its capacitor.' : 'Enter its inductor.',
  }),
  'ways-gap': ({ lowerName, upperName, levelDb, hertz }) => ({
    text: `Between ${lowerName} and ${upperName} there is a gap: both are ${formatQuantity(-levelDb, 'dB')} down at ${formatQuantity(hertz, 'Hz')}.`,
    next: 'Bring the two corners closer together.',
  }),
  'ways-oppose': ({ lowerName, upperName, phaseDeg, hertz, sumDb }) => ({
    text: `${lowerName} and ${upperName} work against each other: ${Math.round(Math.abs(phaseDeg))}° apart at ${formatQuantity(hertz, 'Hz')}, the sum is ${formatQuantity(sumDb, 'dB')}.`,
    next: 'Reverse one of the two: swap plus and minus.',
  }),
  'ways-overlap': ({ lowerName, upperName, hertz }) => ({
    text: `${lowerName} and ${upperName} overlap: ${hertz === undefined ? 'no filter separates them' : `both play at full level at ${formatQuantity(hertz, 'Hz')}`}.`,
    next: 'Set a low-pass on the lower and a matching high-pass on the upper.',
  }),
  'highpass-too-low': ({ name, driverName, cornerHz, hertz, why }) => ({
    text: `${name}: the high-pass at ${formatQuantity(cornerHz, 'Hz')} is too low for ${driverName}: ${why}.`,
    next: `Set ${formatQuantity(hertz, 'Hz')} or more.`,
  }),
  'lowpass-too-high': ({ name, driverName, cornerHz, hertz, why }) => ({
    text: `${name}: the low-pass at ${formatQuantity(cornerHz, 'Hz')} is too high for ${driverName}: ${why}.`,
    next: `Set ${formatQuantity(hertz, 'Hz')} or less.`,
  }),
  'no-highpass': ({ name, driverName, hertz }) => ({
    text: `${name}: no filter keeps frequencies below ${formatQuantity(hertz, 'Hz')} from ${driverName}.`,
    next: 'Set a high-pass: below its range a driver moves a lot for little output.',
  }),
} satisfies WordsOf<keyof CrossoverPlanFindings>;
