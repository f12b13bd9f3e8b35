import {
  channelCoils,
  channelNetwork,
  formatQuantity,
  networkWords,
  ohmsNow,
  OVERLOAD_OHM,
  wholeDiagnosis,
  whyMeterReadsLess,
  wiringConditions,
} from '@yield/core';
import type { JSX } from 'react';
import { Link } from 'react-router';
import { DiagnosisFigures, DiagnosisView } from '../../loads/DiagnosisView.tsx';
import { FindingLine } from '../../ui/FindingLine.tsx';
import { Reveal } from '../../ui/Reveal.tsx';
import { FigureEntry } from '../kit/FigureEntry.tsx';
import { likelyOf } from '../kit/ReadingEntry.tsx';
import { LeadField } from '../kit/LeadField.tsx';
import type { ViewProps } from '../view.ts';
import { useEnterReading } from '../kit/useEnterReading.ts';

/** Measure a channel's whole wiring at the wires that go to the amplifier, before they go there. */
export function WholeBody({ run, current }: ViewProps<'whole'>): JSX.Element {
  const { step, state } = current;
  const { channel } = step;
  const enterReading = useEnterReading(run.tune.id);
  const network = channelNetwork(channel);
  const plannerPath = `/tunes/${run.tune.id}/wiring/${channel.id}`;
  if (network === undefined) {
    return (
      <div className="min-w-0 space-y-4">
        {state.findings.map((finding) => (
          <FindingLine key={finding.words} finding={finding} large />
        ))}
        <Link to={plannerPath} className="btn btn-primary btn-tall">
          Plan the wiring
        </Link>
      </div>
    );
  }
  const meter = ohmsNow(run.now);
  const expected = wholeDiagnosis(channel, run.now, 0, meter)?.expectedOhm;
  const { reading, diagnosis } = state.figures;
  return (
    <div className="min-w-0 space-y-4">
      <p>
        Probes on the two wires that go to <span className="font-medium">{channel.terminals}</span>, amplifier disconnected.{' '}
        <Link to={plannerPath} className="text-action font-medium whitespace-nowrap hover:underline">
          {sentence(networkWords(network, channelCoils(channel)))}
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
          {...likelyOf(current, run, 'whole-resistance')}
          onEnter={(value, resolution) =>
            enterReading({ stepId: step.id, kind: 'whole-resistance', value, resolution, conditions: wiringConditions(step, run.now) })
          }
        />
        {expected !== undefined && (
          <div className="pb-6">
            <DiagnosisFigures
              expected={diagnosis?.expectedOhm ?? expected}
              leadOhm={reading?.conditions.leadOhm ?? meter.leadOhm}
              {...(reading !== undefined && diagnosis !== undefined ? { diagnosis, meterOhm: reading.value } : {})}
            />
          </div>
        )}
      </div>
      {state.status === 'stale' && state.findings.map((finding) => <FindingLine key={finding.words} finding={finding} large />)}
      {expected !== undefined && (
        <DiagnosisView expected={diagnosis?.expectedOhm ?? expected} {...(diagnosis === undefined ? {} : { diagnosis })} />
      )}
      <Reveal summary="Why it reads less than the nominal load">
        <p className="max-w-prose leading-snug">
          {whyMeterReadsLess(channel.drivers[0]?.coilOhm ?? 4)} So {formatQuantity(channel.loadOhm, 'ohm')} nominal is expected at the
          figure above.
        </p>
      </Reveal>
    </div>
  );
}

const sentence = (words: string): string => `${words.charAt(0).toUpperCase()}${words.slice(1)}`;
