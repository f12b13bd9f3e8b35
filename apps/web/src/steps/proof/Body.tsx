import { findingOf, formatQuantity, HELD_WORDS, loadConditions, significant } from '@yield/core';
import { lazy, Suspense, useState, type JSX } from 'react';
import { useVoid } from '../../tune/useVoid.ts';
import { LiveButton } from '../../live/LiveButton.tsx';
import { TraceDrop } from '../../trace/TraceDrop.tsx';
import { useTakeCapture, type TakeCapture } from '../../trace/useTakeCapture.ts';
import { ErrorNotice } from '../../ui/Notice.tsx';
import { Reveal } from '../../ui/Reveal.tsx';
import { HowSet } from '../gain/HowSet.tsx';
import { Checks } from '../kit/Checks.tsx';
import { Probes } from '../kit/Probes.tsx';
import { ReadingEntry } from '../kit/ReadingEntry.tsx';
import { Tone } from '../kit/Tone.tsx';
import { Verdict } from '../kit/Verdict.tsx';
import type { ViewProps } from '../view.ts';
import { OtherSupplies } from './OtherSupplies.tsx';

const Impedance = lazy(async () => ({ default: (await import('./Impedance.tsx')).Impedance }));
const LivePanel = lazy(async () => ({ default: (await import('../../live/LivePanel.tsx')).LivePanel }));

/** Load on: is the output clean, how far does it sag, what reaches the drivers? */
export function ProofBody({ run, current }: ViewProps<'proof'>): JSX.Element {
  const { step, state } = current;
  const { figures } = state;
  const [liveOpen, setLiveOpen] = useState(false);
  const capture = useTakeCapture({
    run,
    stepId: step.id,
    conditions: () => loadConditions(step, run.now, 'on'),
  });
  return (
    <div className="min-w-0 space-y-3">
      <Checks run={run} current={current} />
      <div className="grid gap-x-6 gap-y-4 sm:grid-cols-[minmax(0,12.5rem)_minmax(0,1fr)_auto]">
        <Probes step={step} loadOn />
        <dl className="grid grid-cols-2 content-center gap-x-6 gap-y-4 md:grid-cols-[auto_auto_minmax(0,1fr)]">
          <Figure
            name="Delivered"
            value={figures.fullScaleWatt === undefined ? '–' : formatQuantity(figures.fullScaleWatt, 'W')}
            note="at full scale"
          />
          <Figure
            name="Sag under load"
            value={figures.sag === undefined ? '–' : formatQuantity(figures.sag.dropDb, 'dB')}
            note={figures.sag === undefined ? 'not known yet' : `as ${formatQuantity(figures.sag.sourceOhm, 'ohm')}`}
          />
          {figures.impedanceRiseRatio === undefined ? (
            <Figure
              name="Set for"
              value={step.power.kind === 'known' ? formatQuantity(step.power.powerWatt, 'W') : '–'}
              note={step.power.kind === 'known' ? `held by ${HELD_WORDS[step.power.limitedBy]}` : ''}
            />
          ) : (
            <Figure
              name="Impedance"
              value={figures.impedanceOhm === undefined ? '–' : formatQuantity(figures.impedanceOhm, 'ohm')}
              note={`${significant(figures.impedanceRiseRatio)} × nominal; phase unknown`}
            />
          )}
        </dl>
        <Tone hertz={step.toneHz} levelDbfs={step.toneLevelDbfs} gate={current.gate} />
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
      <Reveal summary={supplyWords(figures.supply)}>
        <div className="grid max-w-2xl gap-x-5 gap-y-3 sm:grid-cols-2">
          <ReadingEntry run={run} current={current} kind="supply-rest" unit="V" label="Amplifier on, no tone" />
          <ReadingEntry run={run} current={current} kind="supply-loaded" unit="V" label="While the tone plays" />
        </div>
        <p className="text-quiet text-sm">DC volts, at the amplifier’s own power terminals: what is lost there was lost on the way.</p>
        <OtherSupplies supplies={figures.otherSupplies} isRegulated={step.amplifier.isRegulated === true} />
      </Reveal>
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
      <Verdict
        findings={state.findings}
        hint="Connect the load with the tone off. Then play the tone in short bursts, read the meter and capture the output."
      >
        <TakeProbe run={run} current={current} capture={capture} />
      </Verdict>
      <HowSet run={run} step={step} label="Load and how this channel is set" />
      <Suspense fallback={null}>
        <Impedance run={run} step={step} voltageRms={figures.loadedVolt} />
      </Suspense>
    </div>
  );
}

function supplyWords(supply: { restVolt?: number; loadedVolt?: number } | undefined): string {
  if (supply === undefined) return 'Supply at the amplifier';
  const { restVolt, loadedVolt } = supply;
  const parts = [
    restVolt === undefined ? '' : `${formatQuantity(restVolt, 'V')} at rest`,
    loadedVolt === undefined ? '' : `${formatQuantity(loadedVolt, 'V')} under the tone`,
  ];
  return `Supply at the amplifier: ${parts.filter((part) => part !== '').join(', ')}`;
}

/** Meter and capture are ten or a hundred apart: the same bytes once more, with the probe's factor; the first reading of them is voided. */
function TakeProbe({ run, current, capture }: ViewProps<'proof'> & { capture: TakeCapture }): JSX.Element | null {
  const voidIt = useVoid(run.tune.id);
  const [fault, setFault] = useState<string | null>(null);
  const factor = findingOf(current.state.findings, 'capture-level-apart')?.figures.probeFactor;
  const trace = run.tune.traces.find(({ id }) => id === current.state.figures.trace?.id);
  if (typeof factor !== 'number' || trace === undefined || run.unsentIds.has(trace.id)) return null;
  const take = async (): Promise<void> => {
    const response = await fetch(`/api/v1/tunes/${run.tune.id}/traces/${trace.id}/file`).catch(() => undefined);
    if (response?.ok !== true) {
      setFault('The capture could not be loaded. Try again in a moment, or capture again.');
      return;
    }
    await capture.take(new File([await response.blob()], trace.fileName), trace.fullScaleVolt, (trace.probe ?? 1) * factor);
    voidIt('trace', trace.id, `read with a probe factor of ${factor} instead`);
    setFault(null);
  };
  return (
    <>
      <button type="button" className="btn btn-tall" onClick={() => void take()}>
        Take a probe factor of {factor}
      </button>
      {fault !== null && <ErrorNotice>{fault}</ErrorNotice>}
    </>
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
