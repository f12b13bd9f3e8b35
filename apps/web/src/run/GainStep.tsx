import { formatQuantity, signedDb, toneStart } from '@yield/core';
import type { JSX } from 'react';
import { FindingLine } from '../ui/FindingLine.tsx';
import { Caution } from '../ui/Notice.tsx';
import { Checks, volumeWords, type Check } from './Checks.tsx';
import { GainWhy } from './GainWhy.tsx';
import { FiltersSeen, filtersSeen } from './FiltersSeen.tsx';
import { Probes } from './Probes.tsx';
import { OwnTone } from './OwnTone.tsx';
import { ReadingEntry } from './ReadingEntry.tsx';
import { ReadingLog } from './ReadingLog.tsx';
import { Tone } from './Tone.tsx';
import type { ChannelRunStep, TuneRun } from './useTuneRun.ts';

/** Set one channel's gain to its target voltage. */
export function GainStep({ run, current }: { run: TuneRun; current: ChannelRunStep }): JSX.Element {
  const { step, state } = current;
  const { source } = run.tune.chain.body;
  const { rules } = run.tune.settings;
  const loadOn = rules.loadWhileSetting === 'on';
  const start = toneStart(step);
  const checks: Check[] = [
    { id: 'volume', words: start === undefined ? volumeWords(source) : `volume up from 0, slowly, to ${source.workingVolume}` },
    loadOn ? { id: 'load-on', words: 'load connected' } : { id: 'drivers-off', words: 'drivers disconnected' },
  ];
  const target = step.target?.settingVoltage;
  const reading = state.gain?.reading;
  const difference = state.gain?.advice?.differenceDb;
  const findings = state.findings.filter(({ grade }) => grade !== 'stop');
  return (
    <div className="min-w-0 space-y-3">
      <Checks run={run} current={current} checks={checks}>
        <FiltersSeen run={run} channel={step.channel} />
      </Checks>
      {target !== undefined && (
        <div className="grid gap-x-6 gap-y-2 sm:grid-cols-[minmax(0,12.5rem)_minmax(0,1fr)_auto]">
          <Probes step={step} loadOn={loadOn} />
          <div className="flex flex-wrap content-center gap-x-8 gap-y-3">
            <Figure label="Target" value={formatQuantity(target, 'V')} />
            <Figure
              label="Now"
              value={reading === undefined ? '–' : formatQuantity(reading.value, 'V')}
              {...(difference === undefined ? {} : { note: signedDb(difference) })}
              quiet={reading === undefined}
            />
          </div>
          <Tone hertz={step.toneHz} levelDbfs={rules.toneLevelDbfs} isLocked={!filtersSeen(run, step.channel)} start={start} />
        </div>
      )}
      {target !== undefined && (
        <div className="grid gap-x-6 gap-y-3 sm:grid-cols-[minmax(0,17rem)_minmax(0,1fr)]">
          <ReadingEntry run={run} current={current} kind="gain-voltage" unit="V" label="Meter reads" main />
          <div className="space-y-3 self-center" aria-live="polite" data-testid="verdict">
            {findings.length === 0 ? (
              <p className="text-quiet">Play the tone, turn the gain up from its lowest end, and type what the meter reads.</p>
            ) : (
              findings.map((finding, i) => <FindingLine key={finding.text} finding={finding} large={i === 0} />)
            )}
          </div>
        </div>
      )}
      {target === undefined && findings.map((finding) => <FindingLine key={finding.text} finding={finding} large />)}
      <OwnTone run={run} step={step} />
      <Caution>{cautionFor(step.toneHz, step.target?.fullScaleVoltage ?? 0, loadOn)}</Caution>
      <ReadingLog run={run} stepId={step.id} />
      <GainWhy step={step} rules={rules} meter={run.tune.settings.meter} />
    </div>
  );
}

function Figure({ label, value, note, quiet = false }: { label: string; value: string; note?: string; quiet?: boolean }): JSX.Element {
  return (
    <div className="min-w-0">
      <p className="label">{label}</p>
      <p className={`figure whitespace-nowrap ${quiet ? 'text-quiet' : ''}`}>{value}</p>
      <p className="text-quiet mt-1 min-h-6 text-base">{note}</p>
    </div>
  );
}

const SHOCK_VOLT = 50;

function cautionFor(toneHz: number, fullScaleVolt: number, loadOn: boolean): string {
  const parts = [
    loadOn
      ? 'A test tone at this level is loud: protect your ears, and keep it to short bursts.'
      : 'Never connect a driver while the tone plays: sparks, and a voice coil can burn.',
    ...(toneHz >= 500 && loadOn ? ['No tweeter without its filter.'] : []),
    ...(fullScaleVolt > SHOCK_VOLT ? ['Above 50 V AC the terminals can give a dangerous shock.'] : []),
    'The amplifier’s manual, local codes and licensed practice come first.',
  ];
  return parts.join(' ');
}
