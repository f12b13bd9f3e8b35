import { findingKey } from '../../ui/findingKey.ts';
import { formatQuantity, lineConditions, OUTPUT_NAMES, type LineConditions } from '@yield/core';
import { Plus } from 'lucide-react';
import { useState, type JSX } from 'react';
import { LivePanel } from '../../live/LivePanel.tsx';
import { LiveButton } from '../../live/LiveButton.tsx';
import { Tone } from '../kit/Tone.tsx';
import { TraceDrop } from '../../trace/TraceDrop.tsx';
import { useTakeCapture } from '../../trace/useTakeCapture.ts';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { FindingLine, GradedLine } from '../../ui/FindingLine.tsx';
import type { ViewProps } from '../view.ts';
import { CasesDialog } from './CasesDialog.tsx';
import { CeilingChart } from './CeilingChart.tsx';
import { CeilingEntryForm } from './CeilingEntryForm.tsx';
import { CeilingTable } from './CeilingTable.tsx';
import { useCeilingSetting } from './useCeilingSetting.ts';
import { WorkingVolume } from './WorkingVolume.tsx';

/** Go up the volume a step at a time: a table for each way the source may be set, and where each one stops being clean. */
export function CeilingBody({ run, current }: ViewProps<'ceiling'>): JSX.Element {
  const { step, state } = current;
  const { chain, settings } = run.tune;
  const setting = useCeilingSetting(run, step);
  const { settingsCase, toneHz, volume } = setting;
  const [casesOpen, setCasesOpen] = useState(false);
  const [liveOpen, setLiveOpen] = useState(false);
  const { figures } = state;
  const curve = figures.curves.find((c) => c.settingsCase.id === settingsCase.id && c.toneHz === toneHz);
  const conditions = (): LineConditions => ({
    ...lineConditions(run.now, toneHz),
    sourceVolume: volume,
    caseId: settingsCase.id,
  });
  const [first, ...others] = state.findings;
  const warnings = curve?.ceiling?.warnings ?? [];
  const capture = useTakeCapture({ run, stepId: step.id, conditions });
  return (
    <div className="min-w-0 space-y-4">
      <div className="grid gap-x-6 gap-y-3 sm:grid-cols-[minmax(0,1fr)_auto]">
        <div className="min-w-0 space-y-3">
          <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
            <div className="flex flex-wrap items-end gap-2">
              <ChoiceField
                label="The source is set"
                value={settingsCase.id}
                choices={setting.cases.map(({ id, name }) => ({ value: id, label: name }))}
                onChange={setting.setCase}
              />
              <button type="button" className="btn btn-ghost text-action" onClick={() => setCasesOpen(true)}>
                <Plus size={18} aria-hidden /> Cases
              </button>
            </div>
            <ChoiceField
              label="Tone played"
              value={String(toneHz)}
              choices={setting.tonesHz.map((hertz) => ({ value: String(hertz), label: formatQuantity(hertz, 'Hz') }))}
              onChange={(value) => setting.setToneHz(Number(value))}
            />
          </div>
          <CeilingEntryForm key={`${settingsCase.id}/${toneHz}`} run={run} step={step} setting={setting} conditions={conditions} />
        </div>
        <Tone hertz={toneHz} levelDbfs={settings.rules.toneLevelDbfs} gate={current.gate} />
      </div>
      <div className="space-y-3" aria-live="polite" data-testid="verdict">
        {first !== undefined && <FindingLine finding={first} large />}
        {(curve?.rows.length ?? 0) === 0 && (
          <p className="text-quiet">
            Probes on {OUTPUT_NAMES[step.output].toLowerCase()}, AC volts. Play the tone, begin at half of the scale, and type what the
            meter reads at each step, until it hardly rises any more.
          </p>
        )}
        <WorkingVolume run={run} {...(figures.working === undefined ? {} : { working: figures.working })} />
      </div>
      {figures.curves.some(({ rows }) => rows.length > 0) && (
        <div className="grid gap-5 xl:grid-cols-[minmax(0,1.05fr)_minmax(0,1fr)]">
          <CeilingTable run={run} curve={curve} volume={volume} />
          <CeilingChart
            curves={figures.curves.filter(({ rows }) => rows.length > 0)}
            volumeSteps={chain.body.source.volumeSteps}
            workingVolume={chain.body.source.workingVolume}
          />
        </div>
      )}
      {warnings.length + others.length > 0 && (
        <div className="space-y-3">
          {warnings.map((warning) => (
            <GradedLine key={warning} grade="note" text={warning} />
          ))}
          {others.map((finding) => (
            <FindingLine key={findingKey(finding)} finding={finding} />
          ))}
        </div>
      )}
      <TraceDrop label={`Capture at volume ${Number.isInteger(volume) ? volume : '–'}`} capture={capture}>
        <LiveButton open={liveOpen} onToggle={() => setLiveOpen(!liveOpen)} />
      </TraceDrop>
      {liveOpen && (
        <LivePanel
          toneHz={toneHz}
          limitThdPercent={settings.rules.limitThdPercent}
          tuneId={run.tune.id}
          onHold={(file, fullScaleVolt) => void capture.take(file, fullScaleVolt)}
        />
      )}
      {casesOpen && <CasesDialog run={run} onClose={() => setCasesOpen(false)} />}
    </div>
  );
}
