import { caseLiftDb, simulatedScope, sourcePhysics, sourceWaveform } from '@yield/bench';
import { seededRandom } from '@yield/core';
import { Download } from 'lucide-react';
import type { JSX } from 'react';
import type { ViewProps } from '../view.ts';
import { useCeilingSetting } from './useCeilingSetting.ts';
import { saveFile } from '../../ui/saveFile.ts';
import { MeterDisplay } from '../kit/MeterDisplay.tsx';
import { useSimulatedMeter } from '../kit/useSimulatedMeter.ts';

/** The made-up vehicle's source, at the volume and in the case that the step is at. */
export function SourceBench({ run, current: { step } }: ViewProps<'ceiling'>): JSX.Element {
  const { chain, settings, id } = run.tune;
  const { settingsCase, toneHz, volume, setVolumeText } = useCeilingSetting(run, step);
  const { volumeSteps } = chain.body.source;
  const at = Number.isInteger(volume) ? Math.max(0, Math.min(volumeSteps, volume)) : 0;
  const waveform = sourceWaveform(sourcePhysics(chain.body), {
    volume: at,
    toneHz,
    toneLevelDbfs: settings.rules.toneLevelDbfs,
    liftDb: caseLiftDb(settingsCase, toneHz, step.output),
  });
  const display = useSimulatedMeter({ waveform, toneHz }, settings.meter, id);
  const saveCapture = async (): Promise<void> => {
    const scope = simulatedScope(() => ({ waveform, toneHz }), seededRandom(`${step.id}/${at}`), { bits: 12, noise: 0.0005 });
    const { text } = await scope.capture();
    saveFile(text, `${step.output}-${settingsCase.id}-${at}.csv`, 'text/csv');
  };
  return (
    <section className="panel" aria-label="Simulated bench">
      <h2 className="text-sm font-semibold">Simulated bench</h2>
      <p className="text-quiet mt-1 text-sm leading-snug">
        A made-up source to practise on, set to “{settingsCase.name}”, the tone playing. Its volume follows the step being typed.
      </p>
      <MeterDisplay display={display} range={`Meter, AC volts, volume ${at}`} sign="V" />
      <label className="mt-3 block">
        <span className="label">Volume</span>
        <input
          type="range"
          min={0}
          max={volumeSteps}
          step={1}
          value={at}
          className="range range-primary mt-2 w-full"
          onChange={(event) => setVolumeText(event.target.value)}
        />
      </label>
      <button type="button" className="btn mt-3 w-full" onClick={() => void saveCapture()}>
        <Download size={18} aria-hidden /> Save a scope capture
      </button>
    </section>
  );
}
