import {
  conditionsNow,
  filtersOf,
  formatQuantity,
  INPUT_NAMES,
  lineConditionsNow,
  SOURCE_CONTROLS,
  isNeutral,
  type FlatStep,
  type SourceSettings,
  type Step,
} from '@yield/core';
import type { JSX } from 'react';
import type { TuneRun } from './useTuneRun.ts';

/** What has to hold while the reading is taken; it is stored with the reading. On narrow screens one folded line. */
export function ConditionsPanel({ run, step }: { run: TuneRun; step: Exclude<Step, FlatStep> }): JSX.Element {
  const rows = rowsOf(run, step);
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

type Row = [name: string, value: string, attention?: boolean];

function rowsOf(run: TuneRun, step: Exclude<Step, FlatStep>): Row[] {
  const { chain, settings } = run.tune;
  const { source } = chain.body;
  const { marks } = run.records;
  const isAssumed = source.volumeBasis === 'assumed';
  const now =
    'channel' in step ? conditionsNow(step, chain.body, settings.rules, marks) : lineConditionsNow(step, chain.body, settings.rules, marks);
  const tone: Row[] =
    step.kind === 'factory'
      ? []
      : [
          ...(step.kind === 'ceiling' || step.kind === 'crossover' ? [] : [['Tone', formatQuantity(now.toneHz, 'Hz')] satisfies Row]),
          ['Recorded at', formatQuantity(now.toneLevelDbfs, 'dBFS')],
        ];
  const volume: Row[] =
    step.kind === 'ceiling' || step.kind === 'factory'
      ? [['Working volume', `${now.sourceVolume} of ${source.volumeSteps}${isAssumed ? ', assumed' : ''}`, isAssumed]]
      : [['Source volume', `${now.sourceVolume} of ${source.volumeSteps}${isAssumed ? ', assumed' : ''}`, isAssumed]];
  const load: Row[] =
    'channel' in step
      ? [
          ['Load', 'load' in now && now.load === 'on' ? `on, ${formatQuantity(step.channel.loadOhm, 'ohm')}` : 'off'],
          [
            'Use',
            step.channel.mode === 'bridged' ? `bridged, ${formatQuantity(step.hookup.perChannelOhm, 'ohm')} each` : step.channel.mode,
          ],
        ]
      : [];
  const filters: Row[] =
    'channel' in step && filtersOf(step.channel).length > 0
      ? [
          [
            'Filters',
            filtersOf(step.channel)
              .map((filter) => `${filter.kind === 'highpass' ? 'from' : 'to'} ${formatQuantity(filter.cornerHz, 'Hz')}`)
              .join(', '),
          ],
        ]
      : [];
  return [
    ...tone,
    ...volume,
    ...(now.sourceInput === undefined ? [] : [['Source', settingsWords(INPUT_NAMES[now.sourceInput], now.sourceSettings)] satisfies Row]),
    ...load,
    ...filters,
    ['Meter', `${settings.meter.percent} % + ${settings.meter.digits} digits`],
  ];
}

function settingsWords(input: string, settings: SourceSettings | undefined): string {
  if (settings === undefined) return `${input}, not checked`;
  const bent = SOURCE_CONTROLS.filter(({ id }) => settings[id] !== undefined && !isNeutral(id, settings[id]));
  return bent.length === 0
    ? `${input}, flat`
    : `${input}, ${bent.map(({ id, name }) => `${name.toLowerCase()} ${settings[id] ?? ''}`).join(', ')}`;
}
