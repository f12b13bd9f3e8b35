import { CloudOff, CloudUpload, OctagonAlert } from 'lucide-react';
import { useState, type JSX } from 'react';
import { entryDropped, outboxSelectors } from '../store/outbox.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { Dialog } from '../ui/Dialog.tsx';

/** What this browser still holds; silent when everything is stored. */
export function OutboxStatus(): JSX.Element | null {
  const entries = useAppSelector((state) => outboxSelectors.selectAll(state.outbox));
  const connection = useAppSelector((state) => state.outbox.connection);
  const dispatch = useAppDispatch();
  const [open, setOpen] = useState(false);
  if (entries.length === 0) return null;
  const refused = entries.filter((entry) => entry.refused !== undefined);
  const what = entries.length === 1 ? '1 entry' : `${entries.length} entries`;
  if (refused.length === 0) {
    return (
      <span
        role="status"
        className={`flex items-center gap-2 text-sm ${connection === 'down' ? 'text-attention font-medium' : 'text-quiet'}`}
      >
        {connection === 'down' ? <CloudOff size={18} aria-hidden /> : <CloudUpload size={18} aria-hidden />}
        {connection === 'down' ? `${what} kept in this browser until the server is back` : `Saving ${what}`}
      </span>
    );
  }
  return (
    <>
      <button type="button" className="btn btn-ghost text-stop" onClick={() => setOpen(true)}>
        <OctagonAlert size={18} aria-hidden /> {refused.length === 1 ? '1 entry was refused' : `${refused.length} entries were refused`}
      </button>
      {open && (
        <Dialog title="Refused by the server" onClose={() => setOpen(false)}>
          <ul className="space-y-4">
            {refused.map((entry) => (
              <li key={entry.id} className="panel">
                <p className="font-medium">
                  {entry.kind === 'reading'
                    ? `Reading ${entry.reading.value} at ${entry.reading.stepId}`
                    : `Capture ${entry.trace.fileName}`}
                </p>
                <p className="text-quiet mt-1 text-sm">{entry.refused}</p>
                <button type="button" className="btn btn-sm mt-3" onClick={() => dispatch(entryDropped(entry.id))}>
                  Remove it from this browser
                </button>
              </li>
            ))}
          </ul>
        </Dialog>
      )}
    </>
  );
}
