import { driverLetter, formatQuantity, isOhmReading, OVERLOAD_OHM, type Reading, type ReadingKind } from '@yield/core';
import { Undo2 } from 'lucide-react';
import type { JSX } from 'react';
import { useVoidReadingMutation } from '../api/yieldApi.ts';
import type { TuneRun } from './useTuneRun.ts';

const UNIT: Record<ReadingKind, 'V' | 'A' | 'ohm'> = {
  'gain-voltage': 'V',
  'loaded-voltage': 'V',
  'clamp-current': 'A',
  'filter-voltage': 'V',
  'coil-resistance': 'ohm',
  'whole-resistance': 'ohm',
  'source-voltage': 'V',
  'output-voltage': 'V',
};
const WORDS: Record<ReadingKind, string> = {
  'gain-voltage': 'volts',
  'loaded-voltage': 'volts, loaded',
  'clamp-current': 'clamp',
  'filter-voltage': 'volts',
  'coil-resistance': 'coil',
  'whole-resistance': 'whole',
  'source-voltage': 'source',
  'output-voltage': 'output',
};

/** Every reading of the step, newest first. A wrong one is voided, never deleted. */
export function ReadingLog({ run, stepId }: { run: TuneRun; stepId: string }): JSX.Element | null {
  const [voidReading] = useVoidReadingMutation();
  const own = run.records.readings.filter((reading) => reading.stepId === stepId).sort((a, b) => b.takenAt.localeCompare(a.takenAt));
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
                onClick={() => void voidReading({ id: run.tune.id, readingId: reading.id, reason: 'typed or taken wrongly' })}
              >
                <Undo2 size={18} aria-hidden />
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
  return run.unsentIds.has(reading.id) ? `${time}, kept in this browser` : time;
}

const figureOf = ({ kind, value }: Reading): string =>
  UNIT[kind] === 'ohm' && value >= OVERLOAD_OHM ? 'OL' : formatQuantity(value, UNIT[kind]);

function whatOf(reading: Reading, run: TuneRun): string {
  if (reading.kind === 'filter-voltage') return `at ${formatQuantity(reading.conditions.toneHz, 'Hz')}`;
  if (!isOhmReading(reading) || reading.conditions.driverId === undefined) return WORDS[reading.kind];
  const channel = run.tune.chain.body.channels.find(({ drivers }) => drivers.some(({ id }) => id === reading.conditions.driverId));
  const index = channel?.drivers.findIndex(({ id }) => id === reading.conditions.driverId) ?? -1;
  return index === -1 ? 'a coil taken out since' : `${driverLetter(index)} coil ${reading.conditions.coil ?? 1}`;
}
