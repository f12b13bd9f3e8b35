import { findingKey } from '../../ui/findingKey.ts';
import {
  channelCoils,
  channelNetwork,
  formatQuantity,
  networkWords,
  ohmsNow,
  wholeDiagnosis,
  whyMeterReadsLess,
  wiringConditions,
} from '@yield/core';
import type { JSX } from 'react';
import { Link } from 'react-router';
import { DiagnosisView } from '../../loads/DiagnosisView.tsx';
import { FindingLine } from '../../ui/FindingLine.tsx';
import { Reveal } from '../../ui/Reveal.tsx';
import { OhmEntry } from '../kit/OhmEntry.tsx';
import { LeadField } from '../kit/LeadField.tsx';
import { TakeWinding } from '../kit/TakeWinding.tsx';
import type { ViewProps } from '../view.ts';

/** Measure a channel's whole wiring at the wires that go to the amplifier, before they go there. */
export function WholeBody({ run, current }: ViewProps<'whole'>): JSX.Element {
  const { step, state } = current;
  const { channel } = step;
  const network = channelNetwork(channel);
  const plannerPath = `/tunes/${run.tune.id}/wiring/${channel.id}`;
  if (network === undefined) {
    return (
      <div className="min-w-0 space-y-4">
        {state.findings.map((finding) => (
          <FindingLine key={findingKey(finding)} finding={finding} large />
        ))}
        <Link to={plannerPath} className="btn btn-primary btn-tall">
          Plan the wiring
        </Link>
      </div>
    );
  }
  const meter = ohmsNow(run.now);
  const expected = wholeDiagnosis(channel, run.now, 0, meter)?.expectedOhm;
  const { diagnosis } = state.figures;
  const unexplained = state.findings.find(({ code }) => code === 'whole-other-nominal' || code === 'whole-unexplained');
  return (
    <div className="min-w-0 space-y-4">
      <p>
        Probes on the two wires that go to <span className="font-medium">{channel.terminals}</span>, amplifier disconnected.{' '}
        <Link to={plannerPath} className="text-action font-medium whitespace-nowrap hover:underline">
          {sentence(networkWords(network, channelCoils(channel)))}
        </Link>
      </p>
      <LeadField run={run} />
      <OhmEntry
        run={run}
        current={current}
        kind="whole-resistance"
        conditions={wiringConditions(step, run.now)}
        {...(expected === undefined ? {} : { expected: diagnosis?.expectedOhm ?? expected })}
        {...state.figures}
      />
      {state.status === 'stale' && state.findings.map((finding) => <FindingLine key={findingKey(finding)} finding={finding} large />)}
      {unexplained !== undefined && (
        <div className="space-y-3">
          <FindingLine finding={unexplained} large />
          {state.action?.kind === 'take-winding' && <TakeWinding run={run} action={state.action} words="Enter as measured" />}
        </div>
      )}
      {expected !== undefined && (
        <DiagnosisView
          isNearest={unexplained !== undefined}
          expected={diagnosis?.expectedOhm ?? expected}
          {...(diagnosis === undefined ? {} : { diagnosis })}
        />
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
