import { inputConditions, OUTPUT_NAMES } from '@yield/core';
import { useState, type JSX } from 'react';
import { LiveButton } from '../../live/LiveButton.tsx';
import { LivePanel } from '../../live/LivePanel.tsx';
import { Checks } from '../kit/Checks.tsx';
import { Tone } from '../kit/Tone.tsx';
import { TraceDrop } from '../../trace/TraceDrop.tsx';
import { useTakeCapture } from '../../trace/useTakeCapture.ts';
import { Verdict } from '../kit/Verdict.tsx';
import type { ViewProps } from '../view.ts';

/** A processor's input: up until its clip light comes on, and back until it is out. */
export function InputBody({ run, current }: ViewProps<'input'>): JSX.Element {
  const { step, state } = current;
  const { chain, settings } = run.tune;
  const { source } = chain.body;
  const [liveOpen, setLiveOpen] = useState(false);
  const capture = useTakeCapture({ run, stepId: step.id, conditions: () => inputConditions(step, run.now) });
  const outputs = step.processor.outputs.map(({ name }) => name).join(', ');
  return (
    <div className="min-w-0 space-y-4">
      <div className="grid gap-x-6 gap-y-3 sm:grid-cols-[minmax(0,1fr)_auto]">
        <ol className="list-decimal space-y-2 pl-5 leading-snug">
          <li>
            Volume at <span className="font-semibold">{source.workingVolume}</span>
            {source.volumeBasis === 'assumed' && <span className="text-attention font-medium"> (assumed)</span>}, amplifiers off, the tone
            playing into {step.input.name.toLowerCase()} from the source’s {OUTPUT_NAMES[step.input.output].toLowerCase()}.
          </li>
          <li>Input level at its lowest; every equaliser, filter and delay of the processor off.</li>
          {step.processor.hasClipLight ? (
            <li>Raise the input level until the clip light comes on, then go back until it is just out.</li>
          ) : (
            <li>
              Raise the input level a little at a time and capture one of the outputs ({outputs}) until it begins to clip; go back until it
              is clean.
            </li>
          )}
        </ol>
        <Tone hertz={step.toneHz} levelDbfs={inputConditions(step, run.now).toneLevelDbfs} gate={current.gate} />
      </div>
      <Checks run={run} current={current} />
      <Verdict findings={state.findings} />
      <TraceDrop label={step.processor.hasClipLight ? 'Or by a capture of an output' : 'Capture of an output'} capture={capture}>
        <LiveButton open={liveOpen} onToggle={() => setLiveOpen(!liveOpen)} />
      </TraceDrop>
      {liveOpen && (
        <LivePanel
          toneHz={step.toneHz}
          limitThdPercent={settings.rules.limitThdPercent}
          tuneId={run.tune.id}
          onHold={(file, fullScaleVolt) => void capture.take(file, fullScaleVolt)}
        />
      )}
    </div>
  );
}
