import { conditionsNow, formatQuantity } from '@yield/core';
import type { JSX } from 'react';
import type { RunStep, TuneRun } from './useTuneRun.ts';

/** What has to hold while the reading is taken; it is stored with the reading. On narrow screens one folded line. */
export function ConditionsPanel({ run, current }: { run: TuneRun; current: RunStep }): JSX.Element {
  const { step } = current;
  const { chain, settings } = run.tune;
  const now = conditionsNow(step, chain.body, settings.rules);
  const { source } = chain.body;
  const rows: [string, string, boolean?][] = [
    ['Tone', formatQuantity(now.toneHz, 'Hz')],
    ['Recorded at', formatQuantity(now.toneLevelDbfs, 'dBFS')],
    [
      'Source volume',
      `${now.sourceVolume} of ${source.volumeSteps}${source.volumeBasis === 'assumed' ? ', assumed' : ''}`,
      source.volumeBasis === 'assumed',
    ],
    ['Load', now.load === 'on' ? `on, ${formatQuantity(now.loadOhm, 'ohm')}` : 'off'],
    ['Use', now.mode === 'bridged' ? `bridged, ${formatQuantity(step.hookup.perChannelOhm, 'ohm')} each` : now.mode],
    ['Meter', `${settings.meter.percent} % + ${settings.meter.digits} digits`],
  ];
  const list = (
    <dl className="space-y-2.5">
      {rows.map(([name, value, attention]) => (
        <div key={name} className="flex items-baseline justify-between gap-4">
          <dt className="text-quiet text-sm">{name}</dt>
          <dd className={`text-right font-medium ${attention === true ? 'text-attention' : ''}`}>{value}</dd>
        </div>
      ))}
    </dl>
  );
  return (
    <>
      <section className="panel max-lg:hidden" aria-label="Conditions">
        <h2 className="mb-3 text-sm font-semibold">Conditions</h2>
        {list}
      </section>
      <details className="panel lg:hidden">
        <summary className="cursor-pointer text-sm">
          <span className="font-semibold">Conditions:</span>{' '}
          {rows
            .slice(0, 4)
            .map(([, value]) => value)
            .join(' · ')}
        </summary>
        <div className="mt-3">{list}</div>
      </details>
    </>
  );
}
