import { formatQuantity, inputBasis, inputChecks, lineConditionsNow, OUTPUT_NAMES, type InputStep as InputStepType } from '@yield/core';
import { useState, type JSX } from 'react';
import { LiveButton } from '../live/LiveButton.tsx';
import { LivePanel } from '../live/LivePanel.tsx';
import { Checks } from '../run/Checks.tsx';
import { Tone } from '../run/Tone.tsx';
import type { RunStep, TuneRun } from '../run/useTuneRun.ts';
import { TraceDrop } from '../trace/TraceDrop.tsx';
import { TraceLog } from '../trace/TraceLog.tsx';
import { useTakeCapture } from '../trace/useTakeCapture.ts';
import { FindingLine } from '../ui/FindingLine.tsx';
import { Caution } from '../ui/Notice.tsx';

/** A processor's input: up until its clip light comes on, and back until it is out. */
export function InputStep({ run, current }: { run: TuneRun; current: RunStep<InputStepType> }): JSX.Element {
  const { step, state } = current;
  const { chain, settings } = run.tune;
  const { source } = chain.body;
  const { marks } = run.records;
  const [liveOpen, setLiveOpen] = useState(false);
  const capture = useTakeCapture({ run, stepId: step.id, conditions: () => lineConditionsNow(step, chain.body, settings.rules, marks) });
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
        <Tone hertz={step.toneHz} levelDbfs={settings.rules.toneLevelDbfs} />
      </div>
      <Checks run={run} current={current} checks={inputChecks(step)} basis={inputBasis(chain.body, settings.rules, marks)} />
      <div className="space-y-3" aria-live="polite" data-testid="verdict">
        {state.findings.map((finding, i) => (
          <FindingLine key={finding.text} finding={finding} large={i === 0} />
        ))}
      </div>
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
      <Caution>
        Amplifiers off while an input is raised: what clips here comes out of every speaker. A tone of {formatQuantity(step.toneHz, 'Hz')}{' '}
        at full level destroys tweeters. The processor’s manual comes first.
      </Caution>
      <TraceLog run={run} stepId={step.id} />
    </div>
  );
}
