import { conditionsNow, UNITS, type ToneReadingKind, type Unit } from '@yield/core';
import type { JSX } from 'react';
import { FigureEntry } from './FigureEntry.tsx';
import { useEnterReading } from './useEnterReading.ts';
import type { ChannelRunStep, TuneRun } from './useTuneRun.ts';

interface Props {
  run: TuneRun;
  current: ChannelRunStep;
  kind: ToneReadingKind;
  unit: Unit & ('V' | 'A');
  label: string;
  /** the key r puts the cursor here */
  main?: boolean;
}

/** A voltage or current read while the tone plays; it goes to the outbox and is judged at once. */
export function ReadingEntry({ run, current, kind, unit, label, main = false }: Props): JSX.Element {
  const enterReading = useEnterReading(run.tune.id);
  const { step } = current;
  const { chain, settings } = run.tune;
  return (
    <FigureEntry
      draftKey={`reading/${run.tune.id}/${step.id}/${kind}`}
      unit={unit}
      label={label}
      main={main}
      negativeWords={`A meter on AC never reads below zero. Is it on DC ${UNITS[unit].plural}?`}
      onEnter={(value, resolution) =>
        enterReading({
          stepId: step.id,
          kind,
          value,
          resolution,
          conditions: conditionsNow(step, chain.body, settings.rules, run.records.marks),
        })
      }
    />
  );
}
