import { upstreamLook } from '../frame/upstream.ts';
import type { Situation } from '../frame/situation.ts';
import type { Doubt } from './doubt.ts';

/** Distortion that arises before a gain denies the step where it is looked for, done as that may be by its own figures. */
export const upstreamDoubts = (now: Situation): Doubt[] =>
  now.chain.channels.flatMap((channel): Doubt[] => {
    const look = upstreamLook(now, channel);
    if (look === undefined || look.place === 'amplifier') return [];
    return [
      {
        quantity: look.place === 'source' ? 'source:all' : `fed:${channel.processorOutputId ?? ''}`,
        of: look.place === 'source' ? 'source' : 'fed',
        at: look.at,
        finding: {
          code: 'look-for-distortion',
          grade: 'attention',
          figures: { channelName: channel.name, thdPercent: look.thdPercent, place: look.place },
          action: { kind: 'capture', judged: 'tone' },
        },
        isWitnessed: true,
      },
    ];
  });
