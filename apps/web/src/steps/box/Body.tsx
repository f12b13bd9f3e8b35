import { boxConditions, boxDiagnosis, channelCoils, networkWords, ohmsNow, OVERLOAD_OHM } from '@yield/core';
import type { JSX } from 'react';
import { DiagnosisFigures, DiagnosisView } from '../../loads/DiagnosisView.tsx';
import { FindingLine } from '../../ui/FindingLine.tsx';
import { FigureEntry } from '../kit/FigureEntry.tsx';
import { LeadField } from '../kit/LeadField.tsx';
import { likelyOf } from '../kit/ReadingEntry.tsx';
import { useEnterReading } from '../kit/useEnterReading.ts';
import type { ViewProps } from '../view.ts';

/** Meter one driver at its own terminals, apart from the others. */
export function BoxBody({ run, current }: ViewProps<'box'>): JSX.Element {
  const { step, state } = current;
  const enterReading = useEnterReading(run.tune.id);
  const meter = ohmsNow(run.now);
  const { reading, diagnosis } = state.figures;
  const expected = (diagnosis ?? boxDiagnosis(step, run.now, 0, meter)).expectedOhm;
  return (
    <div className="min-w-0 space-y-4">
      <p className="max-w-prose">
        Probes on the terminals of <span className="font-medium">{step.driverName}</span> alone, nothing else joined to them:{' '}
        {networkWords(step.part, channelCoils(step.channel))}. A mistake is found here where it was made, before the boxes are joined.
      </p>
      <LeadField run={run} />
      <div className="grid items-end gap-x-8 gap-y-3 sm:grid-cols-[minmax(0,15rem)_minmax(0,1fr)]">
        <FigureEntry
          draftKey={`reading/${run.tune.id}/${step.id}/box`}
          unit="ohm"
          label="Meter reads"
          main
          negativeWords="A wiring never reads below zero."
          overload={OVERLOAD_OHM}
          {...likelyOf(current, run, 'box-resistance')}
          onEnter={(value, resolution) =>
            enterReading({ stepId: step.id, kind: 'box-resistance', value, resolution, conditions: boxConditions(step, run.now) })
          }
        />
        <div className="pb-6">
          <DiagnosisFigures
            expected={expected}
            leadOhm={reading?.conditions.leadOhm ?? meter.leadOhm}
            {...(reading !== undefined && diagnosis !== undefined ? { diagnosis, meterOhm: reading.value } : {})}
          />
        </div>
      </div>
      {state.status === 'stale' && state.findings.map((finding) => <FindingLine key={finding.words} finding={finding} large />)}
      <DiagnosisView expected={expected} {...(diagnosis === undefined ? {} : { diagnosis })} />
    </div>
  );
}
