import type { JSX } from 'react';
import { Checks } from '../kit/Checks.tsx';
import { Verdict } from '../kit/Verdict.tsx';
import type { ViewProps } from '../view.ts';

/** Which plug feeds which input of the amplifier. */
export function FeedBody({ run, current }: ViewProps<'feed'>): JSX.Element {
  const { channel, amplifier } = current.step;
  return (
    <div className="min-w-0 space-y-4">
      <p className="max-w-prose">
        Gain at its lowest, drivers off. Play the tone of one side from the set, the meter on the terminals{' '}
        <span className="font-semibold">{channel.terminals}</span>: only its own side may arrive here.
      </p>
      <Checks run={run} current={current} />
      <Verdict findings={current.state.findings} />
      <ul className="text-quiet max-w-prose list-disc space-y-1 pl-5 leading-snug">
        <li>An amplifier with an input switch for two or four channels feeds both pairs from one pair of plugs. Check its position.</li>
        {channel.mode === 'bridged' && <li>Bridged, one input feeds both halves: the manual of {amplifier.name} says which.</li>}
        {channel.mode === 'mono' && (
          <li>A one-channel amplifier adds left and right by itself: both plugs in, or a Y-piece from one output.</li>
        )}
      </ul>
    </div>
  );
}
