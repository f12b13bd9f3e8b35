import { formatQuantity, type LoadPairFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const loadPair = {
  'flat-without-load': () => ({
    text: 'The peaks are flat even without a load, so the amplifier’s rails or something upstream clips, not the load.',
    next: 'Turn the gain down until the unloaded capture is clean, then repeat both.',
  }),
  'clean-both-ways': () => ({
    text: 'Clean with and without the load.',
  }),
  'flat-under-load-only': ({ byDb }) => ({
    text: 'Clean unloaded but clipped under load: the amplifier runs out of current or supply voltage. An unloaded voltage cannot show this.',
    next: `Turn down ${formatQuantity(byDb, 'dB')} or more, then repeat both captures.`,
  }),
  'pair-captures-unclear': () => ({
    text: 'One capture cannot be judged for clipping, so the effect of the load is unknown.',
    next: 'Capture again: the whole wave within the scope’s range, a few dozen cycles of this step’s tone.',
  }),
  'drops-too-far': ({ dropDb }) => ({
    text: `The voltage drops ${formatQuantity(dropDb, 'dB')} under load. A healthy amplifier never loses half its power, so other loads cannot be predicted from this.`,
    next: 'Check that the gain was not moved, the load leads are tight, the supply holds and the amplifier shows no fault. Then read both again.',
  }),
  'pair-read': ({ dropDb, sourceOhm }) => ({
    text: `The voltage drops ${formatQuantity(dropDb, 'dB')} under load, equal to ${formatQuantity(sourceOhm, 'ohm')} in the amplifier and its supply.`,
  }),
  'no-drop': ({ mostOhm }) => ({
    text: `No drop this meter can show: less than ${formatQuantity(mostOhm, 'ohm')} in the amplifier and its supply, or the load is not connected.`,
    next: 'Check with the clamp, or by ear at a low level, that the load really is connected.',
  }),
} satisfies WordsOf<keyof LoadPairFindings>;
