import { OVERLOAD_OHM, type MeterDiagnosis, type OhmConditions, type OhmReading, type RunStep } from '@yield/core';
import type { JSX } from 'react';
import { DiagnosisFigures } from '../../loads/DiagnosisView.tsx';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { FigureEntry } from './FigureEntry.tsx';
import { likelyOf } from './ReadingEntry.tsx';
import { useEnterReading } from './useEnterReading.ts';

interface Props {
  run: TuneRun;
  current: Pick<RunStep, 'id' | 'kind' | 'step'>;
  /** as the step's kind names what it takes in */
  kind: string;
  conditions: OhmConditions;
  /** what the meter should read, leads taken off; undefined where it cannot be said */
  expected?: MeterDiagnosis['expectedOhm'];
  reading?: OhmReading;
  diagnosis?: MeterDiagnosis;
}

/** One resistance of a wiring on the ohmmeter, beside what it should be. */
export function OhmEntry({ run, current, kind, conditions, expected, reading, diagnosis }: Props): JSX.Element {
  const enterReading = useEnterReading(run.tune.id);
  const stepId = current.id;
  return (
    <div className="grid items-end gap-x-8 gap-y-3 sm:grid-cols-[minmax(0,15rem)_minmax(0,1fr)]">
      <FigureEntry
        draftKey={`reading/${run.tune.id}/${stepId}/${kind}`}
        unit="ohm"
        label="Meter reads"
        main
        negativeWords="A wiring never reads below zero."
        overload={OVERLOAD_OHM}
        {...likelyOf(current, run, kind)}
        onEnter={(value, resolution) => enterReading({ stepId, kind, value, resolution, conditions })}
      />
      {expected !== undefined && (
        <div className="pb-6">
          <DiagnosisFigures
            expected={expected}
            leadOhm={reading?.conditions.leadOhm ?? conditions.leadOhm}
            {...(reading !== undefined && diagnosis !== undefined ? { diagnosis, meterOhm: reading.value } : {})}
          />
        </div>
      )}
    </div>
  );
}
