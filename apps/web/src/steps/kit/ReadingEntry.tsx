import { UNITS, type Conditions, type LikelySize, type RunStep, type Unit } from '@yield/core';
import type { JSX } from 'react';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { FigureEntry } from './FigureEntry.tsx';
import { useEnterReading } from './useEnterReading.ts';

/** Where the kind of step expects its figure, as a prop. */
export function likelyOf({ kind, step }: Pick<RunStep, 'kind' | 'step'>, run: TuneRun, reading: string): { likely?: LikelySize } {
  const likely = kind.likely?.(step, run.now, reading);
  return likely === undefined ? {} : { likely };
}

interface Props {
  run: TuneRun;
  current: Pick<RunStep, 'id' | 'kind' | 'step'>;
  /** as the step's kind names what it takes in */
  kind: string;
  unit: Unit & ('V' | 'A' | 'dB');
  /** under which it is read, where they are not those of the step's next reading */
  conditions?: Conditions;
  label: string;
  /** the key r puts the cursor here */
  main?: boolean;
}

/** A voltage or current read while the tone plays; it goes to the outbox and is judged at once. */
export function ReadingEntry({ run, current, kind, unit, conditions, label, main = false }: Props): JSX.Element {
  const enterReading = useEnterReading(run.tune.id);
  const { id } = current;
  return (
    <FigureEntry
      draftKey={`reading/${run.tune.id}/${id}/${kind}`}
      unit={unit}
      label={label}
      main={main}
      {...likelyOf(current, run, kind)}
      negativeWords={
        unit === 'dB'
          ? 'A sound meter reads above zero. Take one that shows sound pressure, or add 100 to every figure of this step.'
          : `A meter on AC never reads below zero. Is it on DC ${UNITS[unit].plural}?`
      }
      onEnter={(value, resolution) => {
        const held = conditions ?? current.kind.conditions?.(current.step, run.now);
        if (held !== undefined) enterReading({ stepId: id, kind, value, resolution, conditions: held });
      }}
    />
  );
}
