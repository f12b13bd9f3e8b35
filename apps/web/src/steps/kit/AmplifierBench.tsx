import { channelPhysics, filtersDb, outputWaveform, simulatedScope, type BenchSettings } from '@yield/bench';
import { seededRandom, type LoadConditions } from '@yield/core';
import { Download } from 'lucide-react';
import { useMemo, type JSX } from 'react';
import { knobTurned } from '../../store/benchSlice.ts';
import { useAppDispatch, useAppSelector } from '../../store/store.ts';
import { saveFile } from '../../ui/saveFile.ts';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import type { ViewProps } from '../view.ts';
import { Knob } from './Knob.tsx';
import { MeterDisplay } from './MeterDisplay.tsx';
import { useBenchFilters } from './useBenchFilters.ts';
import { useSimulatedMeter } from './useSimulatedMeter.ts';

const SUPPLY_VOLT = 13.8;

/** A made-up vehicle with this chain: a gain knob, a meter and a scope to practise on. */
export function AmplifierBench({ run, current }: ViewProps<'gain' | 'proof' | 'bandwidth' | 'load-pair'>): JSX.Element {
  const { step } = current;
  const { tune } = run;
  const dispatch = useAppDispatch();
  const key = `${tune.id}/${step.channel.id}`;
  const knob = useAppSelector((state) => state.bench.knobs[key] ?? 0);
  const asked = askedAt(run, current);
  const loadConnected = asked?.load === 'on';
  const { toneHz = step.toneHz, toneLevelDbfs = step.toneLevelDbfs } = asked ?? {};
  const standing = useBenchFilters(run, step.channel);
  const physics = useMemo(() => channelPhysics(tune.chain.body, step.channel, tune.id), [tune, step]);
  const bench: BenchSettings = {
    volume: tune.chain.body.source.workingVolume,
    knob,
    loadConnected,
    toneHz,
    toneLevelDbfs,
    supplyVolt: SUPPLY_VOLT,
    filterDb: filtersDb(standing, toneHz),
  };
  const display = useSimulatedMeter({ waveform: outputWaveform(physics, bench), toneHz: bench.toneHz }, tune.settings.meter, tune.id);

  const saveCapture = async (): Promise<void> => {
    const scope = simulatedScope(
      () => ({ waveform: outputWaveform(physics, bench), toneHz: bench.toneHz }),
      seededRandom(`${key}/${knob}`),
    );
    const { text } = await scope.capture();
    saveFile(text, `${step.channel.id}-${loadConnected ? 'loaded' : 'unloaded'}.csv`, 'text/csv');
  };

  return (
    <section className="panel" aria-label="Simulated bench">
      <h2 className="text-sm font-semibold">Simulated bench</h2>
      <p className="text-quiet mt-1 text-sm leading-snug">
        A made-up vehicle with this chain, to practise on. Load {loadConnected ? 'on' : 'off'}, tone playing, 13.8 V.
      </p>
      <MeterDisplay display={display} range="Meter, AC volts" sign="V" />
      <Knob label="Gain knob" value={knob} onTurn={(position) => dispatch(knobTurned({ key, position }))} />
      <button type="button" className="btn mt-3 w-full" onClick={() => void saveCapture()}>
        <Download size={18} aria-hidden /> Save a scope capture
      </button>
    </section>
  );
}

/** Under which conditions the step's next reading or capture is taken. */
function askedAt(
  { now }: TuneRun,
  { kind, step }: Pick<ViewProps<'gain' | 'proof' | 'bandwidth' | 'load-pair'>['current'], 'kind' | 'step'>,
): LoadConditions | undefined {
  const conditions = kind.conditions?.(step, now);
  return conditions?.at === 'load' ? conditions : undefined;
}
