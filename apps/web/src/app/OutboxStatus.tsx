import { kindOfStep } from '@yield/core';
import { Clock, CloudOff, CloudUpload, OctagonAlert } from 'lucide-react';
import { useEffect, useState, type JSX } from 'react';
import { entryDropped, entryRetried, outboxSelectors, type OutboxEntry } from '../store/outbox.ts';
import { bytesOf } from '../store/entryStore.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { Dialog } from '../ui/Dialog.tsx';
import { saveFile } from '../ui/saveFile.ts';

/** What this browser still holds; silent when everything is stored and the clocks agree. */
export function OutboxStatus(): JSX.Element | null {
  const entries = useAppSelector((state) => outboxSelectors.selectAll(state.outbox));
  const { connection, isVolatile, clockAheadMs, capturesBefore } = useAppSelector((state) => state.outbox);
  const [open, setOpen] = useState(false);
  useAskBeforeLeaving(isVolatile && entries.length > 0);
  if (entries.length === 0 && connection === 'down') return <AwayNote />;
  if (entries.length === 0) return clockAheadMs === 0 ? null : <ClockNote aheadMs={clockAheadMs} />;
  const refused = entries.filter((entry) => entry.refused !== undefined).length;
  const what = entries.length === 1 ? '1 entry' : `${entries.length} entries`;
  const isWaiting = connection === 'down' || isVolatile;
  const look = refused > 0 ? 'text-stop' : isWaiting ? 'text-attention font-medium' : 'text-quiet';
  const Sign = refused > 0 ? OctagonAlert : isWaiting ? CloudOff : CloudUpload;
  return (
    <>
      <button type="button" className={`btn btn-ghost min-h-11 text-sm ${look}`} onClick={() => setOpen(true)}>
        <Sign size={18} aria-hidden />
        <span role="status">
          {refused === 0
            ? capturesBefore === undefined
              ? waitingWords(what, connection, isVolatile)
              : turnWords(capturesBefore)
            : refused === 1
              ? '1 entry was refused'
              : `${refused} entries were refused`}
        </span>
      </button>
      {open && (
        <Dialog title={refused > 0 ? 'Refused by the server' : 'Not on the server yet'} onClose={() => setOpen(false)}>
          <ul className="space-y-4">
            {(refused > 0 ? entries.filter((entry) => entry.refused !== undefined) : entries).map((entry) => (
              <Waiting key={entry.id} entry={entry} />
            ))}
          </ul>
        </Dialog>
      )}
    </>
  );
}

const turnWords = (before: number): string => (before === 0 ? 'Capture queued: next' : `Capture queued: ${before} ahead`);

function waitingWords(what: string, connection: 'unknown' | 'up' | 'down', isVolatile: boolean): string {
  if (isVolatile) return `${what} held by this page alone, since this browser keeps nothing: leave it open until they are sent`;
  return connection === 'down' ? `${what} kept in this browser until the server is back` : `Saving ${what}`;
}

/** One entry that is not stored, and what can be done with it. */
function Waiting({ entry }: { entry: OutboxEntry }): JSX.Element {
  const dispatch = useAppDispatch();
  const save = async (): Promise<void> => {
    const bytes = await bytesOf(entry);
    if (bytes !== undefined && entry.kind === 'trace') saveFile(bytes, entry.trace.fileName, entry.contentType);
  };
  return (
    <li className="panel">
      <p className="font-medium">{entryWords(entry)}</p>
      <p className="text-quiet mt-1 text-sm">{entry.refused ?? 'It is sent again and again until the server has it.'}</p>
      <div className="mt-3 flex flex-wrap gap-2">
        {entry.refused !== undefined && (
          <button type="button" className="btn btn-sm min-h-11" onClick={() => dispatch(entryRetried(entry.id))}>
            Try again
          </button>
        )}
        {entry.kind === 'trace' && (
          <button type="button" className="btn btn-sm min-h-11" onClick={() => void save()}>
            Save the file
          </button>
        )}
        <button type="button" className="btn btn-sm min-h-11" onClick={() => dispatch(entryDropped(entry.id))}>
          Remove it from this browser
        </button>
      </div>
    </li>
  );
}

function entryWords(entry: OutboxEntry): string {
  const at = (stepId: string): string => (kindOfStep(stepId)?.title ?? stepId).toLowerCase();
  switch (entry.kind) {
    case 'reading':
      return `Reading ${entry.reading.value}, ${at(entry.reading.stepId)}`;
    case 'trace':
      return `Capture ${entry.trace.fileName}, ${at(entry.trace.stepId)}`;
    case 'mark':
      return entry.body.skippedReason === undefined ? `Ticks, ${at(entry.stepId)}` : `Skipped: ${at(entry.stepId)}`;
    case 'edit':
      return entry.of === 'chain' ? 'Change of the chain' : 'Change of name, house rules or meter';
    case 'void':
      return `${entry.reason === null ? 'Counting again' : 'Voiding'} a ${entry.of === 'trace' ? 'capture' : 'reading'}`;
  }
}

/** Nothing is lost and everything can be gone on with: what is shown is what this browser saw last. */
function AwayNote(): JSX.Element {
  return (
    <span role="status" className="text-attention flex items-center gap-2 text-sm font-medium">
      <CloudOff size={18} aria-hidden />
      <span className="max-sm:sr-only">No server: shown as it was seen last</span>
    </span>
  );
}

/** Times come from the server's clock: this only says why they differ from the one on the dash. */
function ClockNote({ aheadMs }: { aheadMs: number }): JSX.Element {
  const minutes = Math.round(Math.abs(aheadMs) / 60_000);
  const words = minutes >= 90 ? `${Math.round(minutes / 60)} hours` : `${minutes} minutes`;
  return (
    <span role="status" className="text-quiet flex items-center gap-2 text-sm">
      <Clock size={18} aria-hidden />
      This device’s clock is {words} {aheadMs > 0 ? 'ahead' : 'behind'}: times are the server’s
    </span>
  );
}

function useAskBeforeLeaving(ask: boolean): void {
  useEffect(() => {
    if (!ask) return undefined;
    const onLeave = (event: BeforeUnloadEvent): void => event.preventDefault();
    window.addEventListener('beforeunload', onLeave);
    return () => window.removeEventListener('beforeunload', onLeave);
  }, [ask]);
}
