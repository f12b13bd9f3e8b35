import type { Finding } from '../../findings.ts';
import type { Channel } from '../../job/chain.ts';
import type { Situation } from './situation.ts';
import { upstreamLook } from './upstream.ts';

/** Distortion that does not go with the gain is looked for before it: turning the gain down only loses level. */
export function upstreamFindings(channel: Channel, now: Situation): Finding[] {
  const look = upstreamLook(now, channel);
  if (look === undefined) return [];
  const { thdPercent, lowVolt, highVolt, place, at } = look;
  return [
    {
      code: 'distorts-upstream',
      grade: 'attention',
      figures: { thdPercent, lowVolt, highVolt, place },
      action: place === 'amplifier' ? { kind: 'describe', what: 'repair' } : { kind: 'go', to: at },
    },
  ];
}
