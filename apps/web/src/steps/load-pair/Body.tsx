import { loadConditions, pairConditions } from '@yield/core';
import type { JSX } from 'react';
import { TraceDrop } from '../../trace/TraceDrop.tsx';
import { useTakeCapture } from '../../trace/useTakeCapture.ts';
import { Checks } from '../kit/Checks.tsx';
import { Probes } from '../kit/Probes.tsx';
import { ReadingEntry } from '../kit/ReadingEntry.tsx';
import { Tone } from '../kit/Tone.tsx';
import { Verdict } from '../kit/Verdict.tsx';
import type { ViewProps } from '../view.ts';
import { OverLoads } from './OverLoads.tsx';

/** One voltage without and one with load, at the same knob; captures of both, where a scope is at hand. */
export function LoadPairBody({ run, current }: ViewProps<'load-pair'>): JSX.Element {
  const { step, state } = current;
  const { unloaded, loaded, sag, connectedLoadOhm, captures } = state.figures;
  const entry = (reading: 'pair-unloaded' | 'pair-loaded') => ({ kind: reading, conditions: pairConditions(step, run.now, reading) });
  const capture = {
    off: useTakeCapture({ run, stepId: step.id, conditions: () => loadConditions(step, run.now, 'off') }),
    on: useTakeCapture({ run, stepId: step.id, conditions: () => loadConditions(step, run.now, 'on') }),
  };
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
        hint="Read the voltage without load. Stop the tone, connect the load, play a short burst and read again. Do not touch the gain."
      />
      {sag !== undefined && unloaded !== undefined && loaded !== undefined && (
        <OverLoads
          unloadedVolt={unloaded.value}
          measured={{
            loadOhm: connectedLoadOhm,
            voltageRms: loaded.value,
            powerWatt: loaded.value ** 2 / connectedLoadOhm,
            isMeasured: true,
          }}
          sag={sag}
        />
      )}
      <div className="grid gap-x-5 gap-y-3 sm:grid-cols-2">
        <TraceDrop
          label={captureLabel('Capture, load off', captures?.off?.fileName)}
          capture={capture.off}
          withKey={captures?.off === undefined}
        />
        <TraceDrop
          label={captureLabel('Capture, load on', captures?.on?.fileName)}
          capture={capture.on}
          withKey={captures?.off !== undefined}
        />
      </div>
    </div>
  );
}

const captureLabel = (label: string, fileName: string | undefined): string => (fileName === undefined ? label : `${label}: ${fileName}`);
