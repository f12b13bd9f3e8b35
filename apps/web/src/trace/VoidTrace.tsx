import { Ban } from 'lucide-react';
import type { JSX } from 'react';
import { useVoid } from '../tune/useVoid.ts';

/** Voids a capture that was taken wrongly, or counts it again; it stays on the record. */
export function VoidTrace({
  tuneId,
  traceId,
  what,
  isVoid = false,
}: {
  tuneId: string;
  traceId: string;
  what: string;
  isVoid?: boolean;
}): JSX.Element {
  const voidIt = useVoid(tuneId);
  if (isVoid) {
    return (
      <button
        type="button"
        className="btn btn-ghost btn-sm min-h-11"
        aria-label={`Count ${what} again`}
        onClick={() => voidIt('trace', traceId, null)}
      >
        Restore capture
      </button>
    );
  }
  return (
    <button
      type="button"
      className="btn btn-ghost btn-square"
      aria-label={`Void ${what}`}
      title={`Void ${what}`}
      onClick={() => voidIt('trace', traceId, 'taken wrongly')}
    >
      <Ban size={18} aria-hidden />
    </button>
  );
}
