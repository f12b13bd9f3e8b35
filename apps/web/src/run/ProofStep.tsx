import { conditionsNow, formatQuantity, significant, toneStart } from '@yield/core';
import { lazy, Suspense, useState, type JSX } from 'react';
import { LiveButton } from '../live/LiveButton.tsx';
import { FindingLine } from '../ui/FindingLine.tsx';
import { Caution } from '../ui/Notice.tsx';
import { Checks, volumeWords } from './Checks.tsx';
import { FiltersSeen, filtersSeen } from './FiltersSeen.tsx';
import { Probes } from './Probes.tsx';
import { ReadingEntry } from './ReadingEntry.tsx';
import { ReadingLog } from './ReadingLog.tsx';
import { Tone } from './Tone.tsx';
import { TraceDrop } from '../trace/TraceDrop.tsx';
import { useTakeCapture } from '../trace/useTakeCapture.ts';
import { TraceLog } from '../trace/TraceLog.tsx';
import type { ChannelRunStep, TuneRun } from './useTuneRun.ts';

const LivePanel = lazy(async () => ({ default: (await import('../live/LivePanel.tsx')).LivePanel }));

/** Load on: is the output clean, how far does it sag, what reaches the drivers? */
export function ProofStep({ run, current }: { run: TuneRun; current: ChannelRunStep }): JSX.Element {
  const { step, state } = current;
  const { source } = run.tune.chain.body;
  const figures = state.proof;
  const [liveOpen, setLiveOpen] = useState(false);
  const capture = useTakeCapture({
    run,
    stepId: step.id,
    conditions: () => conditionsNow(step, run.tune.chain.body, run.tune.settings.rules, run.records.marks),
  });
  const findings = state.findings.filter(({ grade }) => grade !== 'stop');
  const checks = [
    { id: 'volume', words: volumeWords(source) },
    { id: 'load-on', words: 'load connected, tone off' },
  ];
  return (
    <div className="min-w-0 space-y-3">
      <Checks run={run} current={current} checks={checks}>
        <FiltersSeen run={run} channel={step.channel} />
      </Checks>
      <div className="grid gap-x-6 gap-y-4 sm:grid-cols-[minmax(0,12.5rem)_minmax(0,1fr)_auto]">
        <Probes step={step} loadOn />
        <dl className="grid grid-cols-2 content-center gap-x-6 gap-y-4 md:grid-cols-3">
          <Figure
            name="Delivered"
            value={figures?.fullScaleWatt === undefined ? '–' : formatQuantity(figures.fullScaleWatt, 'W')}
            note="at full scale"
          />
          <Figure
            name="Sag under load"
            value={figures?.sag === undefined ? '–' : formatQuantity(figures.sag.dropDb, 'dB')}
            note={figures?.sag === undefined ? 'not known yet' : `as ${formatQuantity(figures.sag.sourceOhm, 'ohm')}`}
          />
          {figures?.impedanceRiseRatio === undefined ? (
            <Figure
              name="Set for"
              value={step.power.kind === 'known' ? formatQuantity(step.power.powerWatt, 'W') : '–'}
              note={step.power.kind === 'known' ? `${step.power.limitedBy} limit` : ''}
            />
          ) : (
            <Figure
              name="Impedance"
              value={figures.impedanceOhm === undefined ? '–' : formatQuantity(figures.impedanceOhm, 'ohm')}
              note={`${significant(figures.impedanceRiseRatio)} × nominal; phase unknown`}
            />
          )}
        </dl>
        <Tone
          hertz={step.toneHz}
          levelDbfs={run.tune.settings.rules.toneLevelDbfs}
          isLocked={!filtersSeen(run, step.channel)}
          start={toneStart(step)}
        />
      </div>
      <div className="grid gap-x-5 gap-y-3 sm:grid-cols-2 xl:grid-cols-[minmax(0,1.1fr)_minmax(0,0.8fr)_minmax(0,1.4fr)]">
        <ReadingEntry run={run} current={current} kind="loaded-voltage" unit="V" label="Meter, load on" main />
        <ReadingEntry run={run} current={current} kind="clamp-current" unit="A" label="Clamp meter, if any" />
        <div className="sm:max-xl:col-span-2">
          <TraceDrop label="Capture, load on" capture={capture}>
            <LiveButton open={liveOpen} onToggle={() => setLiveOpen(!liveOpen)} />
          </TraceDrop>
        </div>
      </div>
      {liveOpen && (
        <Suspense fallback={null}>
          <LivePanel
            toneHz={step.toneHz}
            limitThdPercent={run.tune.settings.rules.limitThdPercent}
            tuneId={run.tune.id}
            onHold={(file, fullScaleVolt) => void capture.take(file, fullScaleVolt)}
          />
        </Suspense>
      )}
      <div className="space-y-3" aria-live="polite" data-testid="verdict">
        {findings.length === 0 ? (
          <p className="text-quiet">
            Connect the load with the tone off. Then play the tone in short bursts, read the meter and capture the output.
          </p>
        ) : (
          findings.map((finding, i) => <FindingLine key={finding.text} finding={finding} large={i === 0} />)
        )}
      </div>
      <Caution>
        Full power: protect your ears, keep bursts under ten seconds, and let coils and dummy loads cool; they get hot enough to burn.
        Connect the load only while nothing plays. No tweeter without its filter. With the engine running, work outdoors: exhaust gas kills.
        The equipment’s manual, local codes and licensed practice come first.
      </Caution>
      <TraceLog run={run} stepId={step.id} />
      <ReadingLog run={run} stepId={step.id} />
    </div>
  );
}

function Figure({ name, value, note }: { name: string; value: string; note: string }): JSX.Element {
  return (
    <div className="min-w-0">
      <dt className="label">{name}</dt>
      <dd className="text-4xl leading-tight font-semibold whitespace-nowrap">{value}</dd>
      <dd className="text-quiet text-sm">{note}</dd>
    </div>
  );
}
