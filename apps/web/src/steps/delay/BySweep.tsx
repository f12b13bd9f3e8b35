import { arrivalConditions, formatQuantity, LONG_SWEEP, type DelayRow } from '@yield/core';
import { useState, type JSX } from 'react';
import { TraceDrop } from '../../trace/TraceDrop.tsx';
import { useTakeCapture } from '../../trace/useTakeCapture.ts';
import { Reveal } from '../../ui/Reveal.tsx';
import type { ViewProps } from '../view.ts';

/** When the sound of each channel arrives, by a sweep that is recorded together with the source's line. */
export function BySweep({ run, current }: ViewProps<'delay'>): JSX.Element {
  const { rows } = current.state.figures;
  const [chosen, choose] = useState<string>();
  const missing = (row: DelayRow): boolean => row.arrivalSecond === undefined;
  const channelId = chosen ?? (rows.find(missing) ?? rows[0])?.channelId;
  const capture = useTakeCapture({
    run,
    stepId: current.id,
    conditions: () => arrivalConditions(run.now, channelId),
    // On to the next one that was not recorded yet.
    onTaken: () => choose(undefined),
  });
  return (
    <Reveal summary="By recorded sweeps">
      <div className="max-w-3xl space-y-3">
        <p className="leading-snug">
          All delays at 0. Play the sweep of the tone set ({LONG_SWEEP.seconds} s, {formatQuantity(LONG_SWEEP.fromHertz, 'Hz')} to{' '}
          {formatQuantity(LONG_SWEEP.toHertz, 'Hz')}) through one channel alone, and record two channels at once: the microphone at the
          listener’s head on the first, the source’s line on the second. Arrival times are measured from the line signal, so the clocks need
          not match.
        </p>
        <label className="block">
          <span className="label mb-1 block">Channel that plays</span>
          <select className="select min-h-11 w-64" value={channelId} onChange={(event) => choose(event.target.value)}>
            {rows.map((row) => (
              <option key={row.channelId} value={row.channelId}>
                {row.name}
                {missing(row) ? '' : ', recorded'}
              </option>
            ))}
          </select>
        </label>
        <div className="max-w-md">
          <TraceDrop label="Recording of its sweep" wanted="WAV of two channels" capture={capture} withRails={false} />
        </div>
      </div>
    </Reveal>
  );
}
