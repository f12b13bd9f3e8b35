import { formatQuantity, lineConditionsNow, signedDb, type OutputStep as OutputStepType } from '@yield/core';
import type { JSX } from 'react';
import { FigureEntry } from '../run/FigureEntry.tsx';
import { ReadingLog } from '../run/ReadingLog.tsx';
import { Tone } from '../run/Tone.tsx';
import { useEnterReading } from '../run/useEnterReading.ts';
import type { RunStep, TuneRun } from '../run/useTuneRun.ts';
import { FindingLine } from '../ui/FindingLine.tsx';
import { Caution } from '../ui/Notice.tsx';
import { Reveal } from '../ui/Reveal.tsx';
import { OutputsTogether } from './OutputsTogether.tsx';
import { TwoMeters } from './TwoMeters.tsx';

/** One of a processor's outputs, brought to its target and matched with the others. */
export function OutputStep({ run, current }: { run: TuneRun; current: RunStep<OutputStepType> }): JSX.Element {
  const { step, state } = current;
  const { chain, settings } = run.tune;
  const enterReading = useEnterReading(run.tune.id);
  const { target } = step;
  const reading = state.line?.reading;
  const advice = state.line?.advice;
  return (
    <div className="min-w-0 space-y-4">
      <p>
        Probes on the output <span className="font-semibold">{step.output.name}</span>: centre pin and shell, AC volts.
        {step.channels.length > 0 && ` It feeds ${step.channels.map(({ name }) => name).join(', ')}.`}
      </p>
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
        <Tone hertz={step.toneHz} levelDbfs={settings.rules.toneLevelDbfs} />
      </div>
      <div className="grid gap-x-6 gap-y-3 sm:grid-cols-[minmax(0,17rem)_minmax(0,1fr)]">
        <FigureEntry
          draftKey={`reading/${run.tune.id}/${step.id}`}
          unit="V"
          label="Meter reads"
          main
          negativeWords="A meter on AC never reads below zero. Is it on DC volts?"
          onEnter={(value, resolution) =>
            enterReading({
              stepId: step.id,
              kind: 'output-voltage',
              value,
              resolution,
              conditions: lineConditionsNow(step, chain.body, settings.rules, run.records.marks),
            })
          }
        />
        <div className="space-y-3 self-center" aria-live="polite" data-testid="verdict">
          {state.findings.length === 0 ? (
            <p className="text-quiet">Play the tone at the working volume, and type what the meter reads.</p>
          ) : (
            state.findings.map((finding, i) => <FindingLine key={finding.text} finding={finding} large={i === 0} />)
          )}
        </div>
      </div>
      <OutputsTogether run={run} current={current} />
      <Caution>Amplifiers off while an output is set. The processor’s manual comes first.</Caution>
      <Reveal summary="Do two meters agree?">
        <TwoMeters run={run} />
      </Reveal>
      <ReadingLog run={run} stepId={step.id} />
      <Reveal summary="Why this figure">
        <ol className="max-w-2xl list-decimal space-y-1.5 pl-5 leading-snug">
          <li>
            {formatQuantity(step.processor.outputVolt, 'V')} are wanted at full scale
            {target.limitedBy === 'amplifier' && `, but the amplifier’s input takes ${formatQuantity(target.fullScaleVolt, 'V')} at most`}
            {target.limitedBy === 'processor' && `, but the processor gives ${formatQuantity(target.fullScaleVolt, 'V')} clean at most`}.
          </li>
          <li>
            The tone is recorded at {formatQuantity(settings.rules.toneLevelDbfs, 'dBFS')}: set {formatQuantity(target.settingVolt, 'V')}.
          </li>
          <li>A high line level keeps the amplifier’s gain low, and with it the hiss.</li>
        </ol>
      </Reveal>
    </div>
  );
}
