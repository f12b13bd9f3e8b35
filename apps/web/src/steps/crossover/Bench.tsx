import { channelPhysics, dialOf, filtersDb, filterSweep, outputWaveform, plannedPosition, type BenchSettings } from '@yield/bench';
import { encodeWav, formatQuantity, LONG_SWEEP, seededRandom } from '@yield/core';
import { Download } from 'lucide-react';
import { useMemo, type JSX } from 'react';
import type { ViewProps } from '../view.ts';
import { knobTurned } from '../../store/benchSlice.ts';
import { useAppDispatch, useAppSelector } from '../../store/store.ts';
import { saveFile } from '../../ui/saveFile.ts';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { QuantityField } from '../../ui/QuantityField.tsx';
import { useQuantityDraft } from '../../ui/useDraft.ts';
import { MeterDisplay } from '../kit/MeterDisplay.tsx';
import { dialKeys, useBenchFilters } from '../kit/useBenchFilters.ts';
import { useSimulatedMeter } from '../kit/useSimulatedMeter.ts';

const SAMPLE_RATE_HZ = 44_100;

/** The made-up vehicle's dial, set as planned until it is turned, and a meter at the terminals. */
export function FilterBench({ run, current: { step } }: ViewProps<'crossover'>): JSX.Element {
  const { tune } = run;
  const chain = tune.chain.body;
  const dispatch = useAppDispatch();
  const dial = dialOf(chain, step.channel, step.filter);
  const keys = dialKeys(tune.id, step.filter.id);
  const planned = dial === undefined ? { click: 0, switchedTo: 0 } : plannedPosition(dial, step.filter);
  const click = useAppSelector((state) => state.bench.knobs[keys.click] ?? planned.click);
  const switchedTo = useAppSelector((state) => state.bench.knobs[keys.switchedTo] ?? planned.switchedTo);
  const standing = useBenchFilters(run, step.channel);
  const tone = useQuantityDraft(`bench/${tune.id}/filter-tone`, 'Hz', '80');
  const toneHz = tone.value ?? step.filter.cornerHz;
  const physics = useMemo(() => channelPhysics(chain, step.channel, tune.id), [chain, step.channel, tune.id]);
  const bench: BenchSettings = {
    volume: chain.source.workingVolume,
    knob: 0,
    loadConnected: false,
    toneHz,
    toneLevelDbfs: step.toneLevelDbfs,
    supplyVolt: 13.8,
    filterDb: filtersDb(standing, toneHz),
  };
  const display = useSimulatedMeter({ waveform: outputWaveform(physics, bench), toneHz }, tune.settings.meter, tune.id);
  const saveSweep = (): void => {
    const samples = filterSweep(LONG_SWEEP, SAMPLE_RATE_HZ, standing, seededRandom(`${tune.id}/${step.filter.id}`));
    saveFile(encodeWav([samples], { sampleRateHz: SAMPLE_RATE_HZ, bits: 16 }), `${step.channel.id}-sweep.wav`, 'audio/wav');
  };
  return (
    <section className="panel" aria-label="Simulated bench">
      <h2 className="text-sm font-semibold">Simulated bench</h2>
      <p className="text-quiet mt-1 text-sm leading-snug">
        A made-up vehicle with this chain, to practise on. Load off, gain at its lowest.
      </p>
      <MeterDisplay display={display} range="Meter, AC volts" sign="V" />
      <div className="mt-3">
        <QuantityField label="Tone that plays" unit="Hz" draft={tone} />
      </div>
      {dial !== undefined && (
        <>
          <label className="mt-3 block">
            <span className="label">
              {dial.name}: {dial.stops === 'clicks' ? 'click' : 'mark'} {dial.table[click]?.label}, printed{' '}
              {formatQuantity(dial.table[click]?.cornerHz ?? 0, 'Hz')}
            </span>
            <input
              type="range"
              aria-label="Dial"
              min={0}
              max={dial.table.length - 1}
              step={1}
              value={click}
              className="range range-primary mt-2 w-full"
              onChange={(event) => dispatch(knobTurned({ key: keys.click, position: Number(event.target.value) }))}
            />
          </label>
          {dial.multipliers.length > 1 && (
            <div className="mt-3">
              <ChoiceField
                label="Multiplier switch"
                value={String(switchedTo)}
                choices={dial.multipliers.map((multiplier, i) => ({ value: String(i), label: `×${multiplier}` }))}
                onChange={(value) => dispatch(knobTurned({ key: keys.switchedTo, position: Number(value) }))}
              />
            </div>
          )}
        </>
      )}
      <button type="button" className="btn mt-3 w-full" onClick={saveSweep}>
        <Download size={18} aria-hidden /> Save a sweep capture
      </button>
    </section>
  );
}
