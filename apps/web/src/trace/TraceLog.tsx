import { formatQuantity } from '@yield/core';
import type { JSX } from 'react';
import { Link } from 'react-router';
import type { TuneRun } from '../tune/useTuneRun.ts';
import { GradeMark } from '../ui/StatusMark.tsx';
import { VERDICT } from './verdictWords.ts';
import { VoidTrace } from './VoidTrace.tsx';

/** The captures of a step, newest first. */
export function TraceLog({ run, stepId }: { run: TuneRun; stepId: string }): JSX.Element | null {
  const own = run.now.records.traces.filter((trace) => trace.stepId === stepId).sort((a, b) => (b.takenAt < a.takenAt ? -1 : 1));
  if (own.length === 0) return null;
  return (
    <section aria-label="Captures">
      <h2 className="label mb-1">Captures</h2>
      <ol className="divide-line border-line divide-y border-y">
        {own.map((trace) => {
          const channel = trace.analysis.channels[trace.channelIndex];
          const verdict = channel === undefined ? undefined : VERDICT[channel.clipping.verdict];
          const unsent = run.unsentIds.has(trace.id);
          return (
            <li key={trace.id} className="grid min-h-11 grid-cols-[auto_minmax(0,1fr)_auto_auto] items-center gap-3">
              {verdict !== undefined && <GradeMark grade={verdict.grade} />}
              <span className={`min-w-0 truncate ${trace.voidedReason === undefined ? '' : 'text-quiet line-through'}`}>
                <span className="font-semibold">{verdict?.word}</span>
                {channel?.thdPercent !== undefined && (
                  <span className="text-quiet">, distortion {formatQuantity(channel.thdPercent, '%')}</span>
                )}
                <span className="text-quiet">
                  , {trace.fileName}
                  {trace.conditions.isSimulated === true && ', simulated bench'}
                  {unsent && ', kept in this browser'}
                </span>
              </span>
              {unsent || (trace.conditions.at === 'air' && trace.conditions.curve === true) ? (
                <span />
              ) : (
                <Link to={`/tunes/${run.tune.id}/traces/${trace.id}`} className="btn btn-ghost text-action">
                  Look
                </Link>
              )}
              {!unsent && (
                <VoidTrace
                  tuneId={run.tune.id}
                  traceId={trace.id}
                  what={`the capture ${trace.fileName}`}
                  isVoid={trace.voidedReason !== undefined}
                />
              )}
            </li>
          );
        })}
      </ol>
    </section>
  );
}
