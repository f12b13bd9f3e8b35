import { driversAtFullScale, formatQuantity } from '@yield/core';
import type { JSX } from 'react';
import { Reveal } from '../../ui/Reveal.tsx';
import type { ViewProps } from '../view.ts';

/** The formula with its numbers. */
export function GainWhy({ run, current: { step } }: ViewProps<'gain'>): JSX.Element | null {
  const { rules, meter } = run.tune.settings;
  const { power, target, channel, hookup, loss } = step;
  if (power.kind === 'unknown' || target === undefined) return null;
  const watt = (value: number): string => formatQuantity(value, 'W');
  return (
    <Reveal summary="Why this figure">
      <ol className="max-w-2xl list-decimal space-y-1.5 pl-5 leading-snug">
        <li>
          {channel.name} is set for {watt(power.powerWatt)}: the amplifier makes {watt(power.amplifierWatt)} into{' '}
          {formatQuantity(channel.loadOhm, 'ohm')}
          {power.amplifierBasis === 'estimated' && ' (estimated from a lower load on its plate)'}, the drivers are rated{' '}
          {watt(power.driversWatt)} together; the lesser counts.
        </li>
        <li>
          Full scale is the square root of {watt(power.powerWatt)} × {formatQuantity(channel.loadOhm, 'ohm')}
          {rules.headroomDb > 0 && `, less ${formatQuantity(rules.headroomDb, 'dB')} headroom`}:{' '}
          {formatQuantity(target.fullScaleVoltage, 'V')}.
        </li>
        <li>
          The tone is recorded at {formatQuantity(rules.toneLevelDbfs, 'dBFS')}
          {target.overlapDb > 0 && ` and ${formatQuantity(target.overlapDb, 'dB')} of overlap is wanted`}: set{' '}
          {formatQuantity(target.settingVoltage, 'V')}, which is {watt(target.powerAtSettingWatt)} while it plays.
        </li>
        {loss.basis !== 'none' && (
          <li>
            The filters take {formatQuantity(0 - loss.db, 'dB')} off this tone (
            {loss.basis === 'proved' ? 'as measured' : 'as they are set'}
            ); the figure is that much lower, so that full scale reaches the rating where they let everything through.
          </li>
        )}
        {driversAtFullScale(channel, target.fullScaleVoltage).map(({ name, powerWatt, ratedWatt }) => (
          <li key={name}>
            {name} gets {watt(powerWatt)} of a full-scale tone in its own range, and is rated {watt(ratedWatt)}
            {powerWatt > ratedWatt && ': music holds far less there than a tone does, a tone at full level there is not to be played'}.
          </li>
        ))}
        <li>{hookup.note}</li>
        <li>
          On target is within {formatQuantity(rules.toleranceDb, 'dB')}, or within what the meter can tell: {meter.percent} % of the reading
          and {meter.digits} of its last digit.
        </li>
      </ol>
    </Reveal>
  );
}
