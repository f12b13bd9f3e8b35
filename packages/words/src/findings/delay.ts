import { fixed, formatQuantity, type DelayFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const delay = {
  'distance-missing': ({ from, channelNames }) => ({
    text: `No ${from === 'tape' ? 'distance' : 'sweep'} yet: ${channelNames.join(', ')}.`,
    next:
      from === 'tape'
        ? 'Measure from each driver to the listener’s head and enter the distance.'
        : 'Record the sweep of each channel alone, with the source’s line signal on the second recording channel.',
  }),
  'delays-stale': ({ entered, wanted }) => ({
    text: `You entered: ${entered ?? 'other delays'}. Now they should be: ${wanted}.`,
    next: 'Enter the new delays in the processor and tick it.',
  }),
  'delays-entered': ({ from }) => ({
    text: `All drivers arrive together, by ${from === 'tape' ? 'tape measure' : 'sweep'}.`,
  }),
  'arrival-unknown': ({ channels, fileName, reason }) => ({
    text:
      channels < 2
        ? `${fileName} has only one channel, so it does not show when the sweep left the source.`
        : `${fileName}: ${reason ?? 'the sweep is not on both of its channels.'}`,
    next: 'Record two channels at once: microphone on the first, the source’s line signal on the second.',
  }),
  'tape-and-sweep-apart': ({ channelName, apartSecond }) => ({
    text: `${channelName}: tape and sweep are ${fixed(Math.abs(apartSecond) * 1000, 2)} ms apart, or ${fixed(Math.abs(apartSecond) * 34_300, 0)} cm.`,
    next: 'Measure again from the playing driver to the listener’s head, with all delays at 0.',
  }),
  'seats-compromise': ({ channelName, offSecond }) => ({
    text: `Between two heads: ${channelName} is ${fixed(offSecond * 1000, 2)} ms off for either listener, the others less.`,
    next: 'To tune for one listener, choose that seat.',
  }),
  'delay-too-long': ({ channelName, wantedSecond, leftSecond }) => ({
    text: `${channelName} needs ${fixed(wantedSecond * 1000, 2)} ms; the processor misses it by ${fixed(Math.abs(leftSecond) * 1000, 2)} ms.`,
    next: 'The processor’s delay step is too coarse or its maximum too short. Use a finer step, or delay the other channels less.',
  }),
  'bass-by-phase': ({ channelNames }) => ({
    text: `${channelNames.join(', ')}: a tape measure is only a starting point here.`,
    next: `An 80 Hz wave is ${formatQuantity(343 / 80, 'm')} long. Set the subwoofer by its summed response at the crossover.`,
  }),
  'delay-bypassed': ({ channelName, wantedSecond }) => ({
    text: `${channelName} would need ${fixed(wantedSecond * 1000, 2)} ms, but it does not run through the processor.`,
    next: 'Feed it from a processor output, or accept that it arrives early.',
  }),
} satisfies WordsOf<keyof DelayFindings>;
