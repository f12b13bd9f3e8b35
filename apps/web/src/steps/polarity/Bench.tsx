import { cabinOf, coneJumps } from '@yield/bench';
import { useState, type JSX } from 'react';
import type { ViewProps } from '../view.ts';

/** A battery at the made-up vehicle's wires: one driver of it is the wrong way round. */
export function PolarityBench({ run, current }: ViewProps<'polarity'>): JSX.Element {
  const { driver } = current.step;
  const [touches, setTouches] = useState(0);
  const [isSwapped, setSwapped] = useState(false);
  const jumps = coneJumps(cabinOf(run.tune.chain.body, run.tune.id), driver.id, isSwapped);
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
    </section>
  );
}
