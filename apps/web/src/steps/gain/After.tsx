import { driversAtFullScale, formatQuantity, HELD_WORDS, type PowerHold } from '@yield/core';
import type { JSX } from 'react';
import { Reveal } from '../../ui/Reveal.tsx';
import type { ViewProps } from '../view.ts';

const BASIS_WORDS: Readonly<Record<PowerHold['basis'], string>> = {
  rated: ' (named for this load)',
  interpolated: ' (between two loads that it names)',
  'same-voltage': ' (the voltage of the highest load that it names)',
  scaled: ' (scaled from the voltage of its rating)',
  given: '',
  guess: '',
  measured: '',
};

/** The formula with its numbers. */
export function GainWhy({ run, current: { step } }: ViewProps<'gain'>): JSX.Element | null {
  const { rules, meter } = run.tune.settings;
  const { power, target, channel, hookup, loss } = step;
  if (power.kind === 'unknown' || target === undefined) return null;
  const watt = (value: number): string => formatQuantity(value, 'W');
  const { headroomDb = rules.headroomDb } = channel;
  return (
    <Reveal summary="Why this figure">
      <ol className="max-w-2xl list-decimal space-y-1.5 pl-5 leading-snug">
        <li>
          {channel.name} is set for {watt(power.powerWatt)}, the least of:{' '}
          {power.holds.map(({ by, powerWatt, basis }, i) => (
            <span key={by}>
              {i > 0 && ', '}
              {watt(powerWatt)} {HELD_WORDS[by]}
              {BASIS_WORDS[basis]}
            </span>
          ))}
          .
        </li>
        <li>
          Full scale is the square root of {watt(power.powerWatt)} × {formatQuantity(step.plannedOhm, 'ohm')}
          {step.plannedOhm !== channel.loadOhm && ` (measured, by the house’s rule; ${formatQuantity(channel.loadOhm, 'ohm')} nominal)`}
          {headroomDb > 0 && `, less ${formatQuantity(headroomDb, 'dB')} headroom`}
          {channel.blendDb !== undefined &&
            channel.blendDb > 0 &&
            `, less ${formatQuantity(channel.blendDb, 'dB')} that it is set down against the others`}
          : {formatQuantity(target.fullScaleVoltage, 'V')}.
        </li>
        <li>
          The tone is recorded at {formatQuantity(step.toneLevelDbfs, 'dBFS')}
          {target.overlapDb > 0 && ` and ${formatQuantity(target.overlapDb, 'dB')} of overlap set in the house rules`}: set{' '}
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
            {powerWatt > ratedWatt && ': music has far less energy there than a tone, so never play a full-level tone there'}.
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
