import { channelDrivers, formatQuantity, networkTextWords, ohmAccuracy, plainFigure, type Channel } from '@yield/core';
import type { JSX } from 'react';
import { Link } from 'react-router';
import type { ViewProps } from '../view.ts';

/** What hangs on the channel, beside the steps that meter and connect it. */
export function LoadFacts({ run, current }: ViewProps<'coils' | 'box' | 'whole' | 'hookup' | 'polarity'>): JSX.Element {
  const { channel, hookup } = current.step;
  const { meter } = run.tune.settings;
  const { meterPercent, meterDigitsOhm } = ohmAccuracy(meter);
  return (
    <section className="panel" aria-label="Drivers and wiring">
      <h2 className="mb-3 text-sm font-semibold">On this channel</h2>
      <ul className="space-y-2 text-[0.9375rem] leading-snug">
        {channelDrivers(channel).map(({ name, coils, coilOhm }, i) => (
          <li key={name} className="flex gap-2.5">
            <span className="font-semibold">{name}</span>
            <span className="min-w-0">
              {channel.drivers[i]?.name}
              <br />
              <span className="text-quiet text-sm">
                {coils === 1 ? 'one coil' : `${coils} coils`} of {formatQuantity(coilOhm, 'ohm')}
              </span>
            </span>
          </li>
        ))}
      </ul>
      <dl className="border-line mt-3 space-y-2 border-t pt-3">
        {[
          ['Wiring', wiringWords(channel)],
          ['Load', formatQuantity(channel.loadOhm, 'ohm')],
          ['Lowest load', hookup.verdict === 'fits' ? 'fits' : hookup.verdict === 'unknown' ? 'not known' : 'too low'],
          ['Ohmmeter', `${meterPercent} % + ${plainFigure(meterDigitsOhm)} Ω`],
        ].map(([name, value]) => (
          <div key={name} className="flex items-baseline justify-between gap-4">
            <dt className="text-quiet text-sm">{name}</dt>
            <dd className="text-right font-medium break-words">{value}</dd>
          </div>
        ))}
      </dl>
      {channel.drivers.length > 0 && (
        <Link to={`/tunes/${run.tune.id}/wiring/${channel.id}`} className="btn mt-3 w-full">
          Plan the wiring
        </Link>
      )}
    </section>
  );
}

/** In words: the network's own text is for scripts. */
function wiringWords({ wiring, drivers }: Channel): string {
  if (wiring !== undefined) return networkTextWords(wiring.network);
  return drivers.length === 1 && drivers[0]?.coils === 1 ? 'one coil' : 'not chosen';
}
