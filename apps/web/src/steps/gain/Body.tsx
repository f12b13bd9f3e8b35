import { findingKey } from '../../ui/findingKey.ts';
import { formatQuantity, loadConditions, signedDb, loadAtGain } from '@yield/core';
import { Scale } from 'lucide-react';
import { lazy, Suspense, useState, type JSX } from 'react';
import { LiveButton } from '../../live/LiveButton.tsx';
import { TraceDrop } from '../../trace/TraceDrop.tsx';
import { useTakeCapture } from '../../trace/useTakeCapture.ts';
import { FindingLine } from '../../ui/FindingLine.tsx';
import { Checks } from '../kit/Checks.tsx';
import { Probes } from '../kit/Probes.tsx';
import { ReadingEntry } from '../kit/ReadingEntry.tsx';
import { Spoken } from '../kit/Spoken.tsx';
import { Tone } from '../kit/Tone.tsx';
import { Verdict } from '../kit/Verdict.tsx';
import type { ViewProps } from '../view.ts';
import { HowSet } from './HowSet.tsx';
import { OwnTone } from './OwnTone.tsx';
import { ToneRow } from './ToneRow.tsx';

const LevelTrial = lazy(async () => ({ default: (await import('./LevelTrial.tsx')).LevelTrial }));
const LivePanel = lazy(async () => ({ default: (await import('../../live/LivePanel.tsx')).LivePanel }));

/** Set one channel's gain to its target voltage. */
export function GainBody({ run, current }: ViewProps<'gain'>): JSX.Element {
  const { step, state } = current;
  const { rules } = run.tune.settings;
  const loadOn = loadAtGain(rules) === 'on';
  const target = step.target?.settingVoltage;
  const [trialOpen, setTrialOpen] = useState(false);
  const [liveOpen, setLiveOpen] = useState(false);
  const { reading, advice } = state.figures;
  const difference = advice?.differenceDb;
  const capture = useTakeCapture({ run, stepId: step.id, conditions: () => loadConditions(step, run.now, 'on') });
  return (
    <div className="min-w-0 space-y-3">
      <Checks run={run} current={current} />
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
          <Tone hertz={step.toneHz} levelDbfs={step.toneLevelDbfs} gate={current.gate} />
        </div>
      )}
      {target !== undefined && (
        <div className="grid gap-x-6 gap-y-3 sm:grid-cols-[minmax(0,17rem)_minmax(0,1fr)]">
          <ReadingEntry run={run} current={current} kind="gain-voltage" unit="V" label="Meter reads" main />
          <Verdict findings={state.findings} hint="Play the tone, turn the gain up from its lowest end, and type what the meter reads.">
            <Spoken findings={state.findings} at={reading?.id} />
          </Verdict>
        </div>
      )}
      {target === undefined &&
        state.findings
          .filter(({ grade }) => grade !== 'stop')
          .map((finding) => <FindingLine key={findingKey(finding)} finding={finding} large />)}
      {loadOn && (
        <div className="max-w-md">
          <TraceDrop label="Capture, load on" capture={capture} />
        </div>
      )}
      {liveOpen && target !== undefined && (
        <Suspense fallback={null}>
          <LivePanel
            toneHz={step.toneHz}
            limitThdPercent={rules.limitThdPercent}
            tuneId={run.tune.id}
            aim={{ volt: target, toleranceDb: rules.toleranceDb }}
            {...(loadOn ? { onHold: (file: File, fullScaleVolt: number | undefined) => void capture.take(file, fullScaleVolt) } : {})}
          />
        </Suspense>
      )}
      <ToneRow run={run} current={current} />
      <OwnTone run={run} step={step} />
      <div className="flex flex-wrap items-center gap-x-6">
        <HowSet run={run} step={step} />
        {step.power.kind !== 'unknown' && target !== undefined && (
          <button type="button" className="btn btn-ghost text-action -ml-3" onClick={() => setTrialOpen(true)}>
            <Scale size={18} aria-hidden /> Try recorded levels
          </button>
        )}
        {trialOpen && (
          <Suspense>
            <LevelTrial run={run} step={step} onClose={() => setTrialOpen(false)} />
          </Suspense>
        )}
        {target !== undefined && <LiveButton open={liveOpen} onToggle={() => setLiveOpen(!liveOpen)} />}
      </div>
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
