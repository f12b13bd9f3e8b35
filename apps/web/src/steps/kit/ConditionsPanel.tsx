import {
  filtersOf,
  formatQuantity,
  INPUT_NAMES,
  isNeutral,
  lineConditions,
  SOURCE_CONTROLS,
  type ConditionKey,
  type RunStep,
  type SourceSettings,
} from '@yield/core';
import type { JSX } from 'react';
import type { TuneRun } from '../../tune/useTuneRun.ts';

/** What has to hold while the reading is taken; it is stored with the reading. On narrow screens one folded line. */
export function ConditionsPanel({ run, current }: { run: TuneRun; current: RunStep }): JSX.Element {
  const rows = rowsOf(run, current);
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

function rowsOf({ tune, now }: TuneRun, { kind, step, channels }: RunStep): Row[] {
  const { settings } = tune;
  const { source } = now.chain;
  const isAssumed = source.volumeBasis === 'assumed';
  const own = kind.conditions?.(step, now);
  // In front of the drivers nothing is said of one channel's terminals.
  const of = own?.at === 'air' ? undefined : channels[0];
  // What the source plays and at which volume holds wherever something is measured; some kinds change it from reading to reading.
  const played = own === undefined || own.at === 'ohm' ? lineConditions(now, of?.toneHz ?? settings.rules.otherToneHz) : own;
  // What a kind does not stand on changes from one reading to the next, and is no condition of the step.
  const stands = (key: ConditionKey): boolean => own === undefined || own.at === 'ohm' || kind.dependsOn.includes(key);
  const isAtLine = own?.at === 'line';
  const volume = `${source.workingVolume} of ${source.volumeSteps}${isAssumed ? ', assumed' : ''}`;
  return [
    ...(stands('tone') ? [['Tone', formatQuantity(played.toneHz, 'Hz')] satisfies Row] : []),
    ...(isAtLine && !stands('level') ? [] : [['Recorded at', formatQuantity(played.toneLevelDbfs, 'dBFS')] satisfies Row]),
    [isAtLine && !stands('volume') ? 'Working volume' : 'Source volume', volume, isAssumed],
    ...(played.sourceInput === undefined
      ? []
      : [['Source', settingsWords(INPUT_NAMES[played.sourceInput], played.sourceSettings)] satisfies Row]),
    ...(of === undefined
      ? []
      : [
          ['Load', own?.at === 'load' && own.load === 'on' ? `on, ${formatQuantity(of.channel.loadOhm, 'ohm')}` : 'off'] satisfies Row,
          [
            'Use',
            of.channel.mode === 'bridged' ? `bridged, ${formatQuantity(of.hookup.perChannelOhm, 'ohm')} each` : of.channel.mode,
          ] satisfies Row,
        ]),
    ...(of === undefined || filtersOf(of.channel).length === 0
      ? []
      : [
          [
            'Filters',
            filtersOf(of.channel)
              .map((filter) => `${filter.kind === 'highpass' ? 'from' : 'to'} ${formatQuantity(filter.cornerHz, 'Hz')}`)
              .join(', '),
          ] satisfies Row,
        ]),
    own?.at === 'air' ? ['Measured', own.position] : ['Meter', `${settings.meter.percent} % + ${settings.meter.digits} digits`],
  ];
}

function settingsWords(input: string, settings: SourceSettings | undefined): string {
  if (settings === undefined) return `${input}, not checked`;
  const bent = SOURCE_CONTROLS.filter(({ id }) => settings[id] !== undefined && !isNeutral(id, settings[id]));
  return bent.length === 0
    ? `${input}, flat`
    : `${input}, ${bent.map(({ id, name }) => `${name.toLowerCase()} ${settings[id] ?? ''}`).join(', ')}`;
}
