import { formatQuantity } from '@yield/core';
import type { JSX } from 'react';
import { Reveal } from '../../ui/Reveal.tsx';
import type { ViewProps } from '../view.ts';

/** The formula with its numbers. */
export function OutputWhy({ run, current: { step } }: ViewProps<'output'>): JSX.Element {
  const { settings } = run.tune;
  const { target } = step;
  return (
    <Reveal summary="Why this figure">
      <ol className="max-w-2xl list-decimal space-y-1.5 pl-5 leading-snug">
        <li>
          {formatQuantity(step.processor.outputVolt, 'V')} are wanted at full scale
          {target.limitedBy === 'amplifier' && `, but the amplifier’s input takes ${formatQuantity(target.fullScaleVoltRms, 'V')} at most`}
          {target.limitedBy === 'processor' && `, but the processor gives ${formatQuantity(target.fullScaleVoltRms, 'V')} clean at most`}.
        </li>
        <li>
          The tone is recorded at {formatQuantity(settings.rules.toneLevelDbfs, 'dBFS')}: set {formatQuantity(target.settingVolt, 'V')}.
        </li>
        <li>A high line level keeps the amplifier’s gain low, and with it the hiss.</li>
      </ol>
    </Reveal>
  );
}
