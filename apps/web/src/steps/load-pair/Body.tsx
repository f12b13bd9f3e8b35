import { formatQuantity, pairConditions } from '@yield/core';
import type { JSX } from 'react';
import { Checks } from '../kit/Checks.tsx';
import { Probes } from '../kit/Probes.tsx';
import { ReadingEntry } from '../kit/ReadingEntry.tsx';
import { Tone } from '../kit/Tone.tsx';
import { Verdict } from '../kit/Verdict.tsx';
import type { ViewProps } from '../view.ts';

/** One voltage without and one with load, at the same knob. */
export function LoadPairBody({ run, current }: ViewProps<'load-pair'>): JSX.Element {
  const { step, state } = current;
  const { unloaded, sag } = state.figures;
  const entry = (reading: 'pair-unloaded' | 'pair-loaded') => ({ kind: reading, conditions: pairConditions(step, run.now, reading) });
  return (
    <div className="min-w-0 space-y-3">
      <Checks run={run} current={current} />
      <div className="grid gap-x-6 gap-y-3 sm:grid-cols-[minmax(0,12.5rem)_minmax(0,1fr)_auto]">
        <Probes step={step} loadOn={unloaded !== undefined} />
        <div className="grid content-center gap-x-5 gap-y-3 md:grid-cols-2">
          <ReadingEntry run={run} current={current} {...entry('pair-unloaded')} unit="V" label="Load off" main={unloaded === undefined} />
          <ReadingEntry run={run} current={current} {...entry('pair-loaded')} unit="V" label="Load on" main={unloaded !== undefined} />
        </div>
        <Tone hertz={step.toneHz} levelDbfs={step.toneLevelDbfs} gate={current.gate} />
      </div>
      <Verdict
        findings={state.findings}
        hint="Read the voltage without load. Stop the tone, connect the load, play again in a short burst, and read once more: the knob stays where it is."
      />
      {sag !== undefined && (
        <dl
          className="border-line grid grid-cols-[auto_auto_1fr] gap-x-8 gap-y-2 border-y py-3"
          aria-label="At this knob, into other loads"
        >
          {sag.predictions.map(({ loadOhm, voltageRms, powerWatt }) => (
            <div key={loadOhm} className="contents">
              <dt className="font-semibold">{formatQuantity(loadOhm, 'ohm')}</dt>
              <dd className="text-right">{formatQuantity(voltageRms, 'V')}</dd>
              <dd className="text-quiet">{formatQuantity(powerWatt, 'W')} with this tone, as long as current and rails hold out</dd>
            </div>
          ))}
        </dl>
      )}
    </div>
  );
}
