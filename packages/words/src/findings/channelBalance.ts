import { fixed, type ChannelBalanceFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const channelBalance = {
  'sides-apart': ({ louderName, apartDb, quieterName }) => ({
    text: `${louderName} is ${fixed(apartDb, 1)} dB louder than ${quieterName}.`,
    next: 'Check that the meter was in the middle. Then check gain, wiring and polarity of the quieter channel. Trim its level only as a last resort.',
  }),
  'ways-level': ({ apartDb, hasCurve }) => ({
    text: `All channels are within ${fixed(apartDb, 1)} dB of each other ${hasCurve ? 'relative to the house curve' : 'per octave'}.`,
  }),
  'ways-apart': ({ louderName, apartDb, quieterName, hasCurve }) => ({
    text: `${louderName} is ${fixed(apartDb, 1)} dB above ${quieterName} ${hasCurve ? 'relative to the house curve' : 'per octave'}.`,
    next: 'Raised bass is a matter of taste. If it is not intended, reduce the louder channel with its level trim in the chain.',
  }),
} satisfies WordsOf<keyof ChannelBalanceFindings>;
