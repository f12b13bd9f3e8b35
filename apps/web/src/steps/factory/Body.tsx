import { findingKey } from '../../ui/findingKey.ts';
import { formatQuantity, lineConditions, LONG_SWEEP, SHORT_SWEEP, type LineConditions } from '@yield/core';
import type { JSX } from 'react';
import { Link } from 'react-router';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { TraceDrop } from '../../trace/TraceDrop.tsx';
import { useTakeCapture } from '../../trace/useTakeCapture.ts';
import { VoidTrace } from '../../trace/VoidTrace.tsx';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { FindingLine } from '../../ui/FindingLine.tsx';
import type { ViewProps } from '../view.ts';
import { useDraft } from '../../ui/useDraft.ts';
import { volumeFault } from '../ceiling/ceilingEntry.ts';
import { ResponseChart } from './ResponseChart.tsx';

const SWEEPS = { long: LONG_SWEEP, short: SHORT_SWEEP };

/** The same sweep at several volumes: what a factory unit does to the signal, and from which volume on. */
export function FactoryBody({ run, current }: ViewProps<'factory'>): JSX.Element {
  const { step, state } = current;
  const { chain, settings } = run.tune;
  const key = `factory/${run.tune.id}`;
  const [sweepId, setSweep] = useDraft(`${key}/sweep`, 'short');
  const [volumeText, setVolume] = useDraft(`${key}/volume`, String(Math.round(chain.body.source.volumeSteps / 3)));
  const [left, setLeft] = useDraft(`${key}/left`, 'Front left');
  const [right, setRight] = useDraft(`${key}/right`);
  const sweep = sweepId === 'long' ? SWEEPS.long : SWEEPS.short;
  const fault = volumeFault(volumeText, chain.body.source.volumeSteps);
  const labels = [left.trim() === '' ? 'Left' : left.trim(), ...(right.trim() === '' ? [] : [right.trim()])];
  const conditions = (): LineConditions => ({
    ...lineConditions(run.now, settings.rules.otherToneHz),
    sourceVolume: Number(volumeText),
    sweep: { ...sweep, labels },
  });
  const capture = useTakeCapture({ run, stepId: step.id, conditions });
  const comparisons = state.figures.comparisons;
  return (
    <div className="min-w-0 space-y-4">
      <ol className="list-decimal space-y-1 pl-5 leading-snug">
        <li>
          Play the sweep from the tone set ({sweep.seconds} s, {formatQuantity(sweep.fromHertz, 'Hz')} to{' '}
          {formatQuantity(sweep.toHertz, 'Hz')}) and record the output as WAV, from before it starts until after it ends.{' '}
          <Link to="/tones" className="text-action underline">
            The tone set
          </Link>{' '}
          has it.
        </li>
        <li>Do it at a low volume first, then at the working volume and in between, with the recorder’s level untouched.</li>
      </ol>
      <div className="flex flex-wrap items-end gap-x-5 gap-y-3">
        <ChoiceField
          label="Sweep"
          value={sweepId === 'long' ? 'long' : 'short'}
          choices={[
            { value: 'short', label: '5 s' },
            { value: 'long', label: '10 s' },
          ]}
          onChange={setSweep}
        />
        <TextField label="Volume" value={volumeText} onChange={setVolume} narrow {...(fault === undefined ? {} : { fault })} />
        <TextField label="Left channel hangs on" value={left} onChange={setLeft} />
        <TextField label="Right channel, if any" value={right} onChange={setRight} />
      </div>
      {fault === undefined && (
        <TraceDrop label={`Recording of the sweep at volume ${volumeText}`} wanted="WAV" capture={capture} withRails={false} />
      )}
      <div className="space-y-3" aria-live="polite" data-testid="verdict">
        {state.findings.length === 0 && <p className="text-quiet">Two recordings at different volumes tell whether bass is held back.</p>}
        {state.findings.map((finding, i) => (
          <FindingLine key={findingKey(finding)} finding={finding} large={i === 0} />
        ))}
      </div>
      {comparisons.map((comparison) => (
        <ResponseChart key={comparison.label} comparison={comparison} />
      ))}
      <SweepLog run={run} stepId={step.id} />
    </div>
  );
}

function TextField({
  label,
  value,
  onChange,
  narrow = false,
  fault,
}: {
  label: string;
  value: string;
  onChange: (text: string) => void;
  narrow?: boolean;
  fault?: string;
}): JSX.Element {
  return (
    <label className={`block ${narrow ? 'w-24' : 'w-44'}`}>
      <span className="label mb-1 block">{label}</span>
      <input
        className={`input min-h-11 w-full font-medium ${fault === undefined ? '' : 'input-error'}`}
        value={value}
        maxLength={60}
        autoComplete="off"
        onChange={(event) => onChange(event.target.value)}
      />
      {fault !== undefined && <span className="text-stop text-sm">{fault}</span>}
    </label>
  );
}

/** The recordings of the step; a wrong one is voided. */
function SweepLog({ run, stepId }: { run: TuneRun; stepId: string }): JSX.Element | null {
  const own = run.now.records.traces.filter((trace) => trace.stepId === stepId && trace.voidedReason === undefined);
  if (own.length === 0) return null;
  return (
    <section aria-label="Recordings">
      <h2 className="label mb-1">Recordings</h2>
      <ul className="border-line divide-line divide-y border-y">
        {own.map((trace) => (
          <li key={trace.id} className="grid min-h-11 grid-cols-[6rem_minmax(0,1fr)_auto] items-center gap-3">
            <span className="font-semibold">volume {trace.conditions.sourceVolume}</span>
            <span className="text-quiet truncate text-sm">
              {trace.fileName}
              {run.unsentIds.has(trace.id) && ', kept in this browser'}
            </span>
            {!run.unsentIds.has(trace.id) && <VoidTrace tuneId={run.tune.id} traceId={trace.id} what={`the recording ${trace.fileName}`} />}
          </li>
        ))}
      </ul>
    </section>
  );
}
