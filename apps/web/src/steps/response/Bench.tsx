import { heardSweep } from '@yield/bench';
import { encodeWav, LONG_SWEEP } from '@yield/core';
import { Download } from 'lucide-react';
import { useState, type JSX } from 'react';
import { saveFile } from '../../ui/saveFile.ts';
import type { ViewProps } from '../view.ts';
import { placesFrom, usePlace } from './places.ts';

const RATE_HZ = 48_000;

/** A microphone in the made-up vehicle, at the places that the step is at: a channel of the recording for each. */
export function ResponseBench({ run, current }: ViewProps<'response'>): JSX.Element {
  const [placeText] = usePlace(current.id, current.state.figures.present);
  const [isWorking, setWorking] = useState(false);
  const { channel } = current.step;
  const record = async (): Promise<void> => {
    setWorking(true);
    // The button says so before ten seconds of samples are worked out.
    await new Promise((painted) => setTimeout(painted, 30));
    const heard = placesFrom(placeText).map((place) => heardSweep(LONG_SWEEP, RATE_HZ, channel, run.tune.id, place));
    saveFile(encodeWav(heard, { sampleRateHz: RATE_HZ, bits: 24 }), `sweep-${channel.id}.wav`, 'audio/wav');
    setWorking(false);
  };
  return (
    <section className="panel" aria-label="Simulated bench">
      <h2 className="text-sm font-semibold">Simulated bench</h2>
      <p className="text-quiet mt-1 text-sm leading-snug">
        A made-up cabin to practise on: a hump that is the cabin’s, a dip that moves with the microphone. It hears the equaliser as it
        stands in the chain.
      </p>
      <button type="button" className="btn mt-3 w-full" disabled={isWorking} onClick={() => void record()}>
        <Download size={18} aria-hidden /> {isWorking ? 'Recording …' : `Record at ${placeText}`}
      </button>
    </section>
  );
}
