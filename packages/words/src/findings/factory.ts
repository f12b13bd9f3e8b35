import { formatQuantity, type FactoryFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const factory = {
  'bass-held-back': ({ label, fromVolume, db, hertz }) => ({
    text: `${label}: bass is reduced from volume ${fromVolume} up, ${formatQuantity(db, 'dB')} at ${formatQuantity(hertz, 'Hz')} at most.`,
    next: `An equaliser can only correct one volume. Stay below volume ${fromVolume}, or take the signal ahead of this stage.`,
  }),
  'response-steady': ({ label, fromVolume, toVolume }) => ({
    text: `${label}: the response is the same from volume ${fromVolume} to ${toVolume}.`,
  }),
  'one-volume': ({ label }) => ({
    text: `${label}: one volume only.`,
    next: 'Capture the same sweep at a higher volume: bass may be reduced there.',
  }),
  'low-corner': ({ label, hertz }) => ({
    text: `${label}: little below ${formatQuantity(hertz, 'Hz')} (3 dB down there).`,
    next: 'The source has a high-pass here. Take the bass from another output and sum both.',
  }),
  'high-corner': ({ label, hertz }) => ({
    text: `${label}: little above ${formatQuantity(hertz, 'Hz')} (3 dB down there).`,
    next: 'The source has a low-pass here. Take the treble from another output and sum both.',
  }),
  equalised: ({ label, bumpTexts, undo }) => ({
    text: `${label}: equalised, ${bumpTexts.join(', ')}.`,
    next: `To undo in the processor: ${undo.join(', ')}.`,
  }),
  'flat-response': ({ label, withinDb }) => ({
    text: `${label}: flat within ${withinDb} dB.`,
  }),
  'outputs-alike': ({ otherLabel, label, volume }) => ({
    text: `${otherLabel} against ${label} at volume ${volume}: same level, time and polarity.`,
  }),
  'outputs-differ': ({ otherLabel, label, volume, parts }) => ({
    text: `${otherLabel} against ${label} at volume ${volume}: ${parts.join(', ')}.`,
    next: 'Correct this in the processor before setting anything else.',
  }),
} satisfies WordsOf<keyof FactoryFindings>;
