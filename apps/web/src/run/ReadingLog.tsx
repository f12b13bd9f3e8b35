import { formatQuantity, type Reading } from '@yield/core';
import { Undo2 } from 'lucide-react';
import type { JSX } from 'react';
import { useVoidReadingMutation } from '../api/yieldApi.ts';
import type { TuneRun } from './useTuneRun.ts';

const UNIT = { 'gain-voltage': 'V', 'loaded-voltage': 'V', 'clamp-current': 'A' } as const;
const WORDS = { 'gain-voltage': 'volts', 'loaded-voltage': 'volts, loaded', 'clamp-current': 'clamp' } as const;

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
              {formatQuantity(reading.value, UNIT[reading.kind])}
            </span>
            <span className="text-quiet text-sm">{WORDS[reading.kind]}</span>
            <span className="text-quiet truncate text-sm">{noteOf(reading, run)}</span>
            {reading.voidedReason === undefined && !run.unsentIds.has(reading.id) && (
              <button
                type="button"
                className="btn btn-ghost btn-square"
                aria-label={`Void the reading ${formatQuantity(reading.value, UNIT[reading.kind])}`}
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
