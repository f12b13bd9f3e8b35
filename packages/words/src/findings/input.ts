import { formatQuantity, type InputFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const input = {
  'input-clean': () => ({
    text: 'Clean at the working volume.',
  }),
  'capture-unjudged': () => ({
    text: 'This capture cannot be judged.',
    next: 'Choose a larger range and capture at least five cycles while the tone plays.',
  }),
  'input-at-lowest': ({ byDb, toVolume }) => ({
    text: `Turned down, the input still clips by ${formatQuantity(byDb, 'dB')}: it is at its lowest, or the signal comes in clipped.`,
    next:
      toVolume === undefined
        ? 'Feed it less: lower the working volume, or use an input with a higher range. Then capture again.'
        : `Lower the working volume to ${toVolume}, then set the levels again. If it still clips alike, look at the source.`,
  }),
  'input-clips': () => ({
    text: 'The input clips at the working volume.',
    next: 'Turn the input level down slightly and capture again.',
  }),
  'input-set': () => ({
    text: 'Input set just below clipping at the working volume.',
  }),
  'set-with-case': ({ liftDb, caseName }) => ({
    text:
      liftDb === undefined
        ? `“${caseName}” will probably be used, but its boost at this output is not measured.`
        : `“${caseName}” will probably be used and boosts this output by ${formatQuantity(liftDb, 'dB')}. Set the input with it on, or it clips.`,
    next: 'Set the source that way for this step, then back to flat.',
  }),
} satisfies WordsOf<keyof InputFindings>;
