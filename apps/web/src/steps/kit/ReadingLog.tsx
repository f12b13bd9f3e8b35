import { driverLetter, formatQuantity, isOhmReading, kindOfStep, OVERLOAD_OHM, type Reading, type ReadingIntake } from '@yield/core';
import type { SavedReading } from '@yield/contract';
import { Ban } from 'lucide-react';
import type { JSX } from 'react';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { useVoid } from '../../tune/useVoid.ts';

/** Every reading of the step, newest first. A wrong one is voided, never deleted. */
export function ReadingLog({ run, stepId }: { run: TuneRun; stepId: string }): JSX.Element | null {
  const voidIt = useVoid(run.tune.id);
  const own = run.now.records.readings.filter((reading) => reading.stepId === stepId).sort((a, b) => (b.takenAt < a.takenAt ? -1 : 1));
  if (own.length === 0) return null;
  return (
    <section aria-label="Readings">
      <h2 className="label mb-1">Readings</h2>
      <ol className="divide-line border-line divide-y border-y">
        {own.slice(0, 8).map((reading) => (
          <li key={reading.id} className="grid min-h-11 grid-cols-[6rem_6rem_minmax(0,1fr)_auto] items-center gap-3">
            <span className={`text-right text-lg font-semibold ${reading.voidedReason === undefined ? '' : 'text-quiet line-through'}`}>
              {figureOf(reading)}
            </span>
            <span className="text-quiet text-sm">{whatOf(reading, run)}</span>
            <span className="text-quiet truncate text-sm">{noteOf(reading, run)}</span>
            {reading.voidedReason === undefined && !run.unsentIds.has(reading.id) && (
              <button
                type="button"
                className="btn btn-ghost btn-square"
                aria-label={`Void the reading ${figureOf(reading)}`}
                title="Void this reading"
                onClick={() => voidIt('reading', reading.id, 'typed or taken wrongly')}
              >
                <Ban size={18} aria-hidden />
              </button>
            )}
            {reading.voidedReason !== undefined && (
              <button
                type="button"
                className="btn btn-ghost btn-sm min-h-11"
                aria-label={`Count the reading ${figureOf(reading)} again`}
                onClick={() => voidIt('reading', reading.id, null)}
              >
                Restore reading
              </button>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}

function noteOf(reading: Reading, run: TuneRun): string {
  if (reading.voidedReason !== undefined) return `void: ${reading.voidedReason}`;
  const time = new Date(reading.takenAt).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' });
  const bench = reading.conditions.isSimulated === true ? ', simulated bench' : '';
  const { storedAt } = reading as SavedReading;
  const stored =
    storedAt === undefined ? '' : `, stored ${new Date(storedAt).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' })}`;
  return `${time}${stored}${bench}${run.unsentIds.has(reading.id) ? ', kept in this browser' : ''}`;
}

/** How the step's kind describes such a reading. */
const intakeOf = ({ stepId, kind }: Reading): ReadingIntake | undefined =>
  kindOfStep(stepId)?.intakes.find((intake): intake is ReadingIntake => intake.type === 'reading' && intake.kind === kind);

function figureOf(reading: Reading): string {
  const unit = intakeOf(reading)?.unit ?? 'V';
  return unit === 'ohm' && reading.value >= OVERLOAD_OHM ? 'OL' : formatQuantity(reading.value, unit);
}

function whatOf(reading: Reading, run: TuneRun): string {
  const { conditions } = reading;
  // Where the tone changes from reading to reading, it tells them apart.
  const varies = kindOfStep(reading.stepId)?.dependsOn.includes('tone') === false;
  if (varies && conditions.at === 'load') return `at ${formatQuantity(conditions.toneHz, 'Hz')}`;
  // One channel alone, with every tone at once.
  if (conditions.at === 'air' && conditions.channelId !== undefined)
    return run.tune.chain.body.channels.find(({ id }) => id === conditions.channelId)?.name ?? 'a channel taken out since';
  if (conditions.at === 'air' || reading.kind === 'tone-voltage')
    return `${intakeOf(reading)?.words ?? ''}${conditions.at === 'ohm' ? '' : `, ${formatQuantity(conditions.toneHz, 'Hz')}`}`;
  if (!isOhmReading(reading) || reading.conditions.driverId === undefined) return intakeOf(reading)?.words ?? '';
  const channel = run.tune.chain.body.channels.find(({ drivers }) => drivers.some(({ id }) => id === reading.conditions.driverId));
  const index = channel?.drivers.findIndex(({ id }) => id === reading.conditions.driverId) ?? -1;
  return index === -1 ? 'a coil taken out since' : `${driverLetter(index)} coil ${reading.conditions.coil ?? 1}`;
}
