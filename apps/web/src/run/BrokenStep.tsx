import type { SavedReading, TraceInfo } from '@yield/contract';
import { FileDown } from 'lucide-react';
import { useState, type JSX } from 'react';
import { Link } from 'react-router';
import type { TuneRun } from '../tune/useTuneRun.ts';
import { useVoid } from '../tune/useVoid.ts';
import { ErrorNotice } from '../ui/Notice.tsx';
import { saveFile } from '../ui/saveFile.ts';

interface Props {
  run: TuneRun;
  stepId: string;
  title: string;
  why: string;
  onRetry?: () => void;
}

/** A step whose view cannot be shown: what it was showing, its records as they are stored, each to be voided, and a report. */
export default function BrokenStep({ run, stepId, title, why, onRetry }: Props): JSX.Element {
  const [isRaw, setRaw] = useState(false);
  const { tune, now } = run;
  const own = <T extends { stepId: string }>(rows: readonly T[]): T[] => rows.filter((row) => row.stepId === stepId);
  const records = { readings: own(now.records.readings), captures: own(now.records.traces), ticks: own(now.records.marks) };
  const report = (): void => {
    const { settings, chain, id, name, changes } = tune;
    const content = {
      view: title,
      stepId,
      why,
      at: new Date().toISOString(),
      tune: { id, name, changes },
      records,
      setAside: now.setAside,
      chain,
      settings,
    };
    saveFile(`${JSON.stringify(content, null, 1)}\n`, `yield-report-${stepId.replace(/[^\w-]+/g, '-')}.json`, 'application/json');
  };
  return (
    <section aria-label="This step cannot be shown" className="space-y-4">
      <ErrorNotice>
        <p className="font-medium">{title} cannot be shown.</p>
        <p className="mt-1 break-words">{why}</p>
        <p className="mt-1">Nothing is lost; the other steps still work. Void the faulty record or correct the chain.</p>
      </ErrorNotice>
      <Records tuneId={tune.id} readings={records.readings} traces={records.captures} />
      <div className="flex flex-wrap gap-2">
        {onRetry !== undefined && (
          <button type="button" className="btn btn-primary btn-tall" onClick={onRetry}>
            Try again
          </button>
        )}
        <button type="button" className="btn btn-tall" aria-expanded={isRaw} onClick={() => setRaw(!isRaw)}>
          {isRaw ? 'Hide the raw records' : 'Show the raw records'}
        </button>
        <button type="button" className="btn btn-tall" onClick={report}>
          <FileDown size={18} aria-hidden /> Save a report
        </button>
        <Link to={`/tunes/${tune.id}/chain`} className="btn btn-tall">
          Open the chain
        </Link>
      </div>
      {isRaw && (
        <pre className="border-line bg-raised max-h-96 overflow-auto rounded-md border p-3 text-sm whitespace-pre-wrap">
          {JSON.stringify(records, null, 1)}
        </pre>
      )}
    </section>
  );
}

/** Readings and captures of the step, each as plain as it can be told, with the way to take it back. */
function Records({
  tuneId,
  readings,
  traces,
}: {
  tuneId: string;
  readings: readonly SavedReading[];
  traces: readonly Pick<TraceInfo, 'id' | 'fileName' | 'takenAt' | 'voidedReason'>[];
}): JSX.Element | null {
  const voidIt = useVoid(tuneId);
  const rows = [
    ...readings.map(({ id, kind, value, takenAt, voidedReason }) => ({
      of: 'reading' as const,
      id,
      words: `Reading ${String(value)}, ${kind}`,
      takenAt,
      voidedReason,
    })),
    ...traces.map(({ id, fileName, takenAt, voidedReason }) => ({
      of: 'trace' as const,
      id,
      words: `Capture ${fileName}`,
      takenAt,
      voidedReason,
    })),
  ];
  if (rows.length === 0) return null;
  return (
    <ul className="divide-line border-line divide-y border-y">
      {rows.map(({ of, id, words, takenAt, voidedReason }) => (
        <li key={id} className="flex min-h-11 flex-wrap items-center justify-between gap-x-4">
          <span className={voidedReason === undefined ? '' : 'text-quiet line-through'}>
            {words} <span className="text-quiet text-sm">{takenAt.slice(0, 16).replace('T', ' ')}</span>
          </span>
          {voidedReason === undefined ? (
            <button type="button" className="btn btn-sm min-h-11" onClick={() => voidIt(of, id, 'cannot be judged')}>
              Void it
            </button>
          ) : (
            <button type="button" className="btn btn-ghost btn-sm min-h-11" onClick={() => voidIt(of, id, null)}>
              Restore
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}
