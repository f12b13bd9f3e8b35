import { pinkLevelDb } from '@yield/bench';
import { fixed, nextByNoise } from '@yield/core';
import type { JSX } from 'react';
import { MeterDisplay } from '../kit/MeterDisplay.tsx';
import type { ViewProps } from '../view.ts';

/** A sound meter in the made-up vehicle, while pink noise plays through the channel that is asked for. */
export function BlendBench({ run, current }: ViewProps<'blend'>): JSX.Element {
  const next = nextByNoise(current.step, run.now) ?? current.step.channels[0]!;
  return (
    <section className="panel" aria-label="Simulated bench">
      <h2 className="text-sm font-semibold">Simulated bench</h2>
      <p className="text-quiet mt-1 text-sm leading-snug">
        A made-up cabin, to practise on. Pink noise plays through {next.channel.name} alone.
      </p>
      <MeterDisplay display={fixed(pinkLevelDb(next.channel, run.tune.id), 1)} range="Sound meter, C, slow" sign="dB" />
    </section>
  );
}
