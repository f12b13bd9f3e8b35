import { findingKey } from '../../ui/findingKey.ts';
import { boxConditions, boxDiagnosis, channelCoils, networkWords, ohmsNow } from '@yield/core';
import type { JSX } from 'react';
import { DiagnosisView } from '../../loads/DiagnosisView.tsx';
import { FindingLine } from '../../ui/FindingLine.tsx';
import { LeadField } from '../kit/LeadField.tsx';
import { OhmEntry } from '../kit/OhmEntry.tsx';
import type { ViewProps } from '../view.ts';

/** Meter one driver at its own terminals, apart from the others. */
export function BoxBody({ run, current }: ViewProps<'box'>): JSX.Element {
  const { step, state } = current;
  const { diagnosis } = state.figures;
  const expected = (diagnosis ?? boxDiagnosis(step, run.now, 0, ohmsNow(run.now))).expectedOhm;
  return (
    <div className="min-w-0 space-y-4">
      <p className="max-w-prose">
        Probes on the terminals of <span className="font-medium">{step.driverName}</span> alone, nothing else joined to them:{' '}
        {networkWords(step.part, channelCoils(step.channel))}. A mistake is found here where it was made, before the boxes are joined.
      </p>
      <LeadField run={run} />
      <OhmEntry
        run={run}
        current={current}
        kind="box-resistance"
        conditions={boxConditions(step, run.now)}
        expected={expected}
        {...state.figures}
      />
      {state.status === 'stale' && state.findings.map((finding) => <FindingLine key={findingKey(finding)} finding={finding} large />)}
      <DiagnosisView expected={expected} {...(diagnosis === undefined ? {} : { diagnosis })} />
    </div>
  );
}
