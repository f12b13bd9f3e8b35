import { cabinOf, soundMeterDb } from '@yield/bench';
import { fixed, formatQuantity, groupName, meetingSetting, nextLevel } from '@yield/core';
import type { JSX } from 'react';
import { MeterDisplay } from '../kit/MeterDisplay.tsx';
import type { ViewProps } from '../view.ts';

/** A sound meter in the made-up vehicle: what is asked for next, as the processor is set by the chain. */
export function MeetingBench({ run, current }: ViewProps<'meeting'>): JSX.Element {
  const { step } = current;
  const cabin = cabinOf(run.tune.chain.body, run.tune.id);
  const next = nextLevel(step, run.now) ?? { part: 'level-both' as const, hertz: step.cornerHz };
  const db = soundMeterDb(cabin, step, next, meetingSetting(step, run.now));
  const who = { 'level-lower': groupName(step.lower), 'level-upper': groupName(step.upper), 'level-both': 'both' }[next.part];
  return (
    <section className="panel" aria-label="Simulated bench">
      <h2 className="text-sm font-semibold">Simulated bench</h2>
      <p className="text-quiet mt-1 text-sm leading-snug">
        A made-up cabin, to practise on. {formatQuantity(next.hertz, 'Hz')} plays through {who}; delay and polarity are as the chain has
        them.
      </p>
      <MeterDisplay display={fixed(db, 1)} range="Sound meter, C, slow" sign="dB" />
    </section>
  );
}
