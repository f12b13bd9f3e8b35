import { processorLevels, sourcePhysics, type Waveform } from '@yield/bench';
import { voltageFactor } from '@yield/core';
import type { JSX } from 'react';
import { knobTurned } from '../../store/benchSlice.ts';
import { useAppDispatch, useAppSelector } from '../../store/store.ts';
import type { ViewProps } from '../view.ts';
import { Knob } from './Knob.tsx';
import { MeterDisplay } from './MeterDisplay.tsx';
import { useSimulatedMeter } from './useSimulatedMeter.ts';

/** The made-up vehicle's processor: an input knob with its clip light, an output knob, a meter on the output. */
export function ProcessorBench({ run, current: { step } }: ViewProps<'input' | 'output'>): JSX.Element {
  const { chain, settings, id } = run.tune;
  const dispatch = useAppDispatch();
  const inputKey = `${id}/processor-input`;
  const outputKey = `${id}/${step.kind === 'output' ? step.id : 'processor-output'}`;
  const inputKnob = useAppSelector((state) => state.bench.knobs[inputKey] ?? (step.kind === 'output' ? 0.7 : 0));
  const outputKnob = useAppSelector((state) => state.bench.knobs[outputKey] ?? 0.5);
  const physics = sourcePhysics(chain.body);
  const inputVolt = (physics.voltAtStep[chain.body.source.workingVolume] ?? 0) * voltageFactor(settings.rules.toneLevelDbfs);
  const { outputVolt, lightOn } = processorLevels({ inputVolt, inputKnob, outputKnob });
  const omega = 2 * Math.PI * step.toneHz;
  const waveform: Waveform = (second) => Math.SQRT2 * outputVolt * Math.sin(omega * second);
  const display = useSimulatedMeter({ waveform, toneHz: step.toneHz }, settings.meter, id);
  return (
    <section className="panel" aria-label="Simulated bench">
      <h2 className="text-sm font-semibold">Simulated bench</h2>
      <p className="text-quiet mt-1 text-sm leading-snug">A made-up processor to practise on, the tone playing at the working volume.</p>
      {step.kind === 'input' ? (
        <p className="mt-3 flex items-center gap-3" role="status" aria-label="Clip light">
          <span className={`size-5 rounded-full border-2 ${lightOn ? 'border-stop bg-stop' : 'border-line bg-ground'}`} aria-hidden />
          <span className={lightOn ? 'text-stop font-semibold' : 'text-quiet'}>{lightOn ? 'Clip light on' : 'Clip light off'}</span>
        </p>
      ) : (
        <MeterDisplay display={display} range={`Meter, AC volts, ${step.output.name}`} sign="V" />
      )}
      <Knob
        label={step.kind === 'input' ? 'Input level' : 'Output level'}
        value={step.kind === 'input' ? inputKnob : outputKnob}
        onTurn={(position) => dispatch(knobTurned({ key: step.kind === 'input' ? inputKey : outputKey, position }))}
      />
    </section>
  );
}
