import {
  channelNetwork,
  formatQuantity,
  networkText,
  ohmAccuracy,
  ohmConditionsNow,
  OVERLOAD_OHM,
  wholeDiagnosis,
  whyMeterReadsLess,
} from '@yield/core';
import type { JSX } from 'react';
import { Link } from 'react-router';
import { DiagnosisFigures, DiagnosisView } from '../loads/DiagnosisView.tsx';
import { FindingLine } from '../ui/FindingLine.tsx';
import { Caution } from '../ui/Notice.tsx';
import { Reveal } from '../ui/Reveal.tsx';
import { FigureEntry } from './FigureEntry.tsx';
import { LeadField } from './LeadField.tsx';
import { ReadingLog } from './ReadingLog.tsx';
import { useEnterReading } from './useEnterReading.ts';
import type { ChannelRunStep, TuneRun } from './useTuneRun.ts';

/** Measure a channel's whole wiring at the wires that go to the amplifier, before they go there. */
export function WholeStep({ run, current }: { run: TuneRun; current: ChannelRunStep }): JSX.Element {
  const { step, state } = current;
  const { channel } = step;
  const enterReading = useEnterReading(run.tune.id);
  const network = channelNetwork(channel);
  const plannerPath = `/tunes/${run.tune.id}/wiring/${channel.id}`;
  if (network === undefined) {
    return (
      <div className="min-w-0 space-y-4">
        {state.findings.map((finding) => (
          <FindingLine key={finding.text} finding={finding} large />
        ))}
        <Link to={plannerPath} className="btn btn-primary btn-tall">
          Plan the wiring
        </Link>
      </div>
    );
  }
  const { settings } = run.tune;
  const now = { leadOhm: settings.meter.leadOhm ?? 0, ...ohmAccuracy(settings.meter) };
  const expected = wholeDiagnosis(channel, run.records, 0, now)?.expectedOhm;
  const whole = state.whole;
  const diagnosis = whole?.diagnosis;
  return (
    <div className="min-w-0 space-y-4">
      <p>
        Probes on the two wires that go to <span className="font-medium">{channel.terminals}</span>, amplifier disconnected.{' '}
        <Link to={plannerPath} className="text-action font-medium whitespace-nowrap hover:underline">
          Wired as {networkText(network)}
        </Link>
      </p>
      <LeadField run={run} />
      <div className="grid items-end gap-x-8 gap-y-3 sm:grid-cols-[minmax(0,15rem)_minmax(0,1fr)]">
        <FigureEntry
          draftKey={`reading/${run.tune.id}/${step.id}/whole`}
          unit="ohm"
          label="Meter reads"
          main
          negativeWords="A wiring never reads below zero."
          overload={OVERLOAD_OHM}
          onEnter={(value, resolution) =>
            enterReading({ stepId: step.id, kind: 'whole-resistance', value, resolution, conditions: ohmConditionsNow(step, settings) })
          }
        />
        {expected !== undefined && (
          <div className="pb-6">
            <DiagnosisFigures
              expected={diagnosis?.expectedOhm ?? expected}
              leadOhm={whole?.reading.conditions.leadOhm ?? now.leadOhm}
              {...(whole !== undefined && diagnosis !== undefined ? { diagnosis, meterOhm: whole.reading.value } : {})}
            />
          </div>
        )}
      </div>
      {state.status === 'stale' && state.findings.map((finding) => <FindingLine key={finding.text} finding={finding} large />)}
      {expected !== undefined && (
        <DiagnosisView expected={diagnosis?.expectedOhm ?? expected} {...(diagnosis === undefined ? {} : { diagnosis })} />
      )}
      <Caution>Switched off, fuse out: an ohmmeter on a live output is destroyed, and the reading means nothing.</Caution>
      <ReadingLog run={run} stepId={step.id} />
      <Reveal summary="Why it reads less than the nominal load">
        <p className="max-w-prose leading-snug">
          {whyMeterReadsLess(channel.drivers[0]?.coilOhm ?? 4)} So {formatQuantity(channel.loadOhm, 'ohm')} nominal is expected at the
          figure above.
        </p>
      </Reveal>
    </div>
  );
}
