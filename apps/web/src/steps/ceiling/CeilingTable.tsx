import { formatQuantity, signedDb, voltageRatioDb, type CeilingCurve, type CeilingRow } from '@yield/core';
import { Undo2 } from 'lucide-react';
import { useEffect, useRef, type JSX } from 'react';
import { Link } from 'react-router';
import { useVoid } from '../../tune/useVoid.ts';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { VERDICT, warningWords } from '../../trace/verdictWords.ts';

/** The volume table of the case and tone at hand; the step that is next is marked. */
export function CeilingTable({ run, curve, volume }: { run: TuneRun; curve: CeilingCurve | undefined; volume: number }): JSX.Element {
  const rows = curve?.rows ?? [];
  const ceiling = curve?.fullScaleStep;
  const box = useRef<HTMLDivElement>(null);
  // The newest row in view, without moving the page.
  useEffect(() => {
    const row =
      box.current?.querySelector<HTMLElement>(`[data-step="${volume - 1}"]`) ??
      box.current?.querySelector<HTMLElement>('tbody tr:last-child');
    if (box.current !== null && row !== undefined && row !== null) box.current.scrollTop = row.offsetTop - box.current.clientHeight / 2;
  }, [rows.length, volume]);
  if (rows.length === 0) return <p className="text-quiet self-center">Nothing read in this case yet.</p>;
  return (
    <div className="min-w-0">
      <div ref={box} className="border-line relative max-h-80 overflow-y-auto border-y">
        <table className="w-full" aria-label="Volume table">
          <thead className="bg-ground text-quiet sticky top-0 text-sm">
            <tr>
              <th className="py-1.5 pr-3 text-right font-medium">Step</th>
              <th className="px-3 text-right font-medium">Voltage</th>
              <th className="px-3 text-right font-medium">Growth</th>
              <th className="px-3 text-left font-medium">Picture</th>
              <th>
                <span className="sr-only">Void</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row, i) => (
              <tr key={row.step} data-step={row.step} className={`border-line h-11 border-t ${row.step === ceiling ? 'bg-raised' : ''}`}>
                <td className="pr-3 text-right text-lg font-semibold whitespace-nowrap">
                  {row.step === ceiling && (
                    <svg width="12" height="10" viewBox="0 0 12 10" className="mr-1.5 inline" role="img" aria-label="Clean ceiling">
                      <path d="M0 0h12L6 10z" fill="var(--action)" />
                    </svg>
                  )}
                  {row.step}
                </td>
                <td className="px-3 text-right whitespace-nowrap">
                  {row.voltageRms === undefined || row.voltageRms === 0 ? '–' : formatQuantity(row.voltageRms, 'V')}
                </td>
                <td className="text-quiet px-3 text-right text-sm whitespace-nowrap">{growth(row, rows[i - 1])}</td>
                <td className="px-3 text-sm leading-snug">
                  <Picture run={run} row={row} />
                </td>
                <td className="text-right">
                  <VoidRow run={run} row={row} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {curve?.sureness !== undefined && <p className="text-quiet mt-2 text-sm">{curve.sureness}</p>}
    </div>
  );
}

function growth(row: CeilingRow, before: CeilingRow | undefined): string {
  if (!row.voltageRms || !before?.voltageRms) return '';
  return signedDb(voltageRatioDb(row.voltageRms, before.voltageRms));
}

function Picture({ run, row }: { run: TuneRun; row: CeilingRow }): JSX.Element {
  const trace = run.now.records.traces.find(({ id }) => id === row.traceId);
  if (trace === undefined) return <span className={row.eye === undefined ? 'text-quiet' : ''}>{row.eye ?? ''}</span>;
  const channel = trace.analysis.channels[trace.channelIndex];
  const words = channel === undefined ? 'Cannot be judged' : VERDICT[channel.clipping.verdict].word;
  const other = channel?.warnings.includes('other-tone') === true;
  const text = other
    ? `Not counted: ${formatQuantity(channel.fundamentalHz ?? 0, 'Hz')} in the capture`
    : row.thdPercent === undefined
      ? `Not counted: ${words.toLowerCase()}`
      : `${words}, ${formatQuantity(row.thdPercent, '%')}`;
  return run.unsentIds.has(trace.id) ? (
    <span>{text}</span>
  ) : (
    <Link
      to={`/tunes/${run.tune.id}/traces/${trace.id}`}
      className="text-action hover:underline"
      title={channel === undefined ? '' : warningWords(channel).join(' ')}
    >
      {text}
    </Link>
  );
}

function VoidRow({ run, row }: { run: TuneRun; row: CeilingRow }): JSX.Element | null {
  const voidIt = useVoid(run.tune.id);
  const { readingId, traceId } = row;
  if ((readingId !== undefined && run.unsentIds.has(readingId)) || (traceId !== undefined && run.unsentIds.has(traceId))) return null;
  const reason = 'typed or taken wrongly';
  return (
    <button
      type="button"
      className="btn btn-ghost btn-square"
      aria-label={`Void step ${row.step}`}
      title="Void this step"
      onClick={() => {
        if (readingId !== undefined) voidIt('reading', readingId, reason);
        if (traceId !== undefined) voidIt('trace', traceId, reason);
      }}
    >
      <Undo2 size={18} aria-hidden />
    </button>
  );
}
