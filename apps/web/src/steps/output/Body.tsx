import { formatQuantity, outputConditions, signedDb } from '@yield/core';
import type { JSX } from 'react';
import { Checks } from '../kit/Checks.tsx';
import { FigureEntry } from '../kit/FigureEntry.tsx';
import { likelyOf } from '../kit/ReadingEntry.tsx';
import { Tone } from '../kit/Tone.tsx';
import { TraceDrop } from '../../trace/TraceDrop.tsx';
import { useTakeCapture } from '../../trace/useTakeCapture.ts';
import { useEnterReading } from '../kit/useEnterReading.ts';
import { Verdict } from '../kit/Verdict.tsx';
import type { ViewProps } from '../view.ts';
import { Reveal } from '../../ui/Reveal.tsx';
import { OutputsTogether } from './OutputsTogether.tsx';
import { TwoMeters } from './TwoMeters.tsx';

/** One of a processor's outputs, brought to its target and matched with the others. */
export function OutputBody({ run, current }: ViewProps<'output'>): JSX.Element {
  const { step, state } = current;
  const { settings } = run.tune;
  const enterReading = useEnterReading(run.tune.id);
  const { target } = step;
  const capture = useTakeCapture({ run, stepId: step.id, conditions: () => outputConditions(step, run.now) });
  const { reading, advice } = state.figures;
  return (
    <div className="min-w-0 space-y-4">
      <p>
        Probes on the output <span className="font-semibold">{step.output.name}</span>: centre pin and shell, AC volts.
        {step.channels.length > 0 && ` It feeds ${step.channels.map(({ name }) => name).join(', ')}.`}
      </p>
      {(current.checks?.items.length ?? 0) > 0 && <Checks run={run} current={current} />}
      <div className="grid gap-x-6 gap-y-3 sm:grid-cols-[minmax(0,1fr)_auto]">
        <div className="flex flex-wrap content-center gap-x-8 gap-y-3">
          <div>
            <p className="label">Target</p>
            <p className="figure whitespace-nowrap">{formatQuantity(target.settingVolt, 'V')}</p>
          </div>
          <div>
            <p className="label">Now</p>
            <p className={`figure whitespace-nowrap ${reading === undefined ? 'text-quiet' : ''}`}>
              {reading === undefined ? '–' : formatQuantity(reading.value, 'V')}
            </p>
            <p className="text-quiet mt-1 min-h-6">{advice === undefined ? '' : signedDb(advice.differenceDb)}</p>
          </div>
        </div>
        <Tone hertz={step.toneHz} levelDbfs={settings.rules.toneLevelDbfs} gate={current.gate} />
      </div>
      <div className="grid gap-x-6 gap-y-3 sm:grid-cols-[minmax(0,17rem)_minmax(0,1fr)]">
        <FigureEntry
          draftKey={`reading/${run.tune.id}/${step.id}`}
          unit="V"
          label="Meter reads"
          main
          {...likelyOf(current, run, 'output-voltage')}
          negativeWords="A meter on AC never reads below zero. Is it on DC volts?"
          onEnter={(value, resolution) =>
            enterReading({
              stepId: step.id,
              kind: 'output-voltage',
              value,
              resolution,
              conditions: outputConditions(step, run.now),
            })
          }
        />
        <Verdict findings={state.findings} hint="Play the tone at the working volume, and type what the meter reads." />
      </div>
      <TraceDrop label="Capture of this output" capture={capture} />
      <OutputsTogether run={run} current={current} />
      <Reveal summary="Do two meters agree?">
        <TwoMeters run={run} />
      </Reveal>
    </div>
  );
}
