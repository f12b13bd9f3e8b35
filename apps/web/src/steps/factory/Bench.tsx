import { recordedSweep } from '@yield/bench';
import { encodeWav, LONG_SWEEP, seededRandom, SHORT_SWEEP } from '@yield/core';
import { Download } from 'lucide-react';
import type { JSX } from 'react';
import type { ViewProps } from '../view.ts';
import { saveFile } from '../../ui/saveFile.ts';
import { useDraft } from '../../ui/useDraft.ts';

const SAMPLE_RATE_HZ = 44_100;

/** The made-up factory unit, recorded at the volume that the step is at. */
export function SweepBench({ run }: Pick<ViewProps<'factory'>, 'run'>): JSX.Element {
  const key = `factory/${run.tune.id}`;
  const [sweepId] = useDraft(`${key}/sweep`, 'short');
  const [volumeText] = useDraft(`${key}/volume`, String(Math.round(run.tune.chain.body.source.volumeSteps / 3)));
  const volume = Number(volumeText);
  const record = (): void => {
    const samples = recordedSweep(sweepId === 'long' ? LONG_SWEEP : SHORT_SWEEP, SAMPLE_RATE_HZ, volume, seededRandom(`${key}/${volume}`));
    saveFile(encodeWav([samples], { sampleRateHz: SAMPLE_RATE_HZ, bits: 16 }), `sweep-volume-${volume}.wav`, 'audio/wav');
  };
  return (
    <section className="panel" aria-label="Simulated bench">
      <h2 className="text-sm font-semibold">Simulated bench</h2>
      <p className="text-quiet mt-1 text-sm leading-snug">
        A simulated factory unit for practice: it equalises for its own speakers and reduces bass as the volume rises.
      </p>
      <button type="button" className="btn mt-3 w-full" disabled={!Number.isInteger(volume)} onClick={record}>
        <Download size={18} aria-hidden /> Record at volume {volumeText}
      </button>
    </section>
  );
}
