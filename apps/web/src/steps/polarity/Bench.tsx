import { cabinOf, coneJumps, recordedPulse } from '@yield/bench';
import { encodeWav, filtersOf, seededRandom } from '@yield/core';
import { Download } from 'lucide-react';
import { useState, type JSX } from 'react';
import { saveFile } from '../../ui/saveFile.ts';
import type { ViewProps } from '../view.ts';

const RATE_HZ = 48_000;
/** A door's own roll-off in the free air of a cabin. */
const OWN_HIGH_PASS = { kind: 'highpass', family: 'butterworth', order: 2, cornerHz: 60 } as const;

/** A battery at the made-up vehicle's wires, and a microphone before its cones: one driver of it is the wrong way round. */
export function PolarityBench({ run, current }: ViewProps<'polarity'>): JSX.Element {
  const { driver, channel } = current.step;
  const [touches, setTouches] = useState(0);
  const [isSwapped, setSwapped] = useState(false);
  const jumps = coneJumps(cabinOf(run.tune.chain.body, run.tune.id), driver.id, isSwapped);
  const savePulse = (): void => {
    const random = seededRandom(`${driver.id}/${touches}`);
    const isTurned = channel.isReversed === true;
    const samples = recordedPulse(
      {
        isReversed: (jumps === 'in') !== isTurned,
        filters: [...filtersOf(channel), OWN_HIGH_PASS],
        arrivalSecond: 0.5 + 0.003 * random.uniform(),
        widthSecond: 0.002,
        noiseBelowDb: 30,
      },
      1.5,
      RATE_HZ,
      random,
    );
    saveFile(encodeWav([samples], { sampleRateHz: RATE_HZ, bits: 24 }), `pulse-${driver.id}.wav`, 'audio/wav');
  };
  return (
    <section className="panel" aria-label="Simulated bench">
      <h2 className="text-sm font-semibold">Simulated bench</h2>
      <p className="text-quiet mt-1 text-sm leading-snug">
        A made-up vehicle, to practise on. Amplifier off, a battery of 1.5 V, plus on plus.
      </p>
      <p className="bg-ground border-line mt-3 min-h-16 rounded-md border px-3 py-2 text-xl font-semibold" role="status">
        {touches === 0 ? (
          <span className="text-quiet text-base font-normal">Touch the wires of {driver.name}.</span>
        ) : (
          `The cone jumps ${jumps}.`
        )}
      </p>
      <button type="button" className="btn btn-tall mt-3 w-full" onClick={() => setTouches(touches + 1)}>
        Touch
      </button>
      <label className="mt-2 flex min-h-11 cursor-pointer items-center gap-2.5">
        <input
          type="checkbox"
          className="checkbox checkbox-primary"
          checked={isSwapped}
          onChange={(event) => {
            setSwapped(event.target.checked);
            setTouches(0);
          }}
        />
        its wires swapped
      </label>
      <button type="button" className="btn mt-2 w-full" onClick={savePulse}>
        <Download size={18} aria-hidden /> Save a recorded pulse
      </button>
    </section>
  );
}
