import { DIRTY, shownAt, upstreamLook } from '../frame/upstream.ts';
import { volumeBelow } from '../kinds/ceiling/workingVolume.ts';
import type { Situation } from '../frame/situation.ts';
import type { Doubt } from './doubt.ts';

/** The next step down, however small it is. */
const LEAST_LOWER_DB = 0.2;

/** What the newest capture of the source at its working volume shows of that tone, where it is bent; undefined without one. */
function seenThdPercent(now: Situation, at: string, toneHz: number): number | undefined {
  const shown = shownAt(now, at, toneHz);
  return shown !== undefined && DIRTY.includes(shown.clipping.verdict) ? shown.thdPercent : undefined;
}

/** Distortion that arises before a gain denies the step where it is looked for, done as that may be by its own figures. */
export const upstreamDoubts = (now: Situation): Doubt[] =>
  now.chain.channels.flatMap((channel): Doubt[] => {
    const look = upstreamLook(now, channel);
    if (look === undefined || look.place === 'amplifier') return [];
    // Seen there, and too little for the table of steps: a step lower the whole way has room.
    const seenPercent = look.place === 'source' ? seenThdPercent(now, look.at, look.toneHz) : undefined;
    const lower = seenPercent === undefined ? undefined : volumeBelow(now, LEAST_LOWER_DB);
    return [
      {
        quantity: look.place === 'source' ? 'source:all' : `fed:${channel.processorOutputId ?? ''}`,
        of: look.place === 'source' ? 'source' : 'fed',
        at: look.at,
        finding: {
          code: 'look-for-distortion',
          grade: 'attention',
          figures: {
            channelName: channel.name,
            thdPercent: look.thdPercent,
            place: look.place,
            ...(seenPercent === undefined || lower === undefined ? {} : { seenPercent, toVolume: lower.workingVolume }),
          },
          action:
            lower === undefined
              ? { kind: 'capture', judged: 'tone' }
              : { kind: 'set-volume', to: lower.workingVolume, unit: 'step', source: { ...lower } },
        },
        isWitnessed: true,
      },
    ];
  });
