import { Ban } from 'lucide-react';
import type { JSX } from 'react';
import { useRestoreTraceMutation, useVoidTraceMutation } from '../api/yieldApi.ts';

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
  const [voidTrace] = useVoidTraceMutation();
  const [restoreTrace] = useRestoreTraceMutation();
  if (isVoid) {
    return (
      <button
        type="button"
        className="btn btn-ghost btn-sm min-h-11"
        aria-label={`Count ${what} again`}
        onClick={() => void restoreTrace({ id: tuneId, traceId })}
      >
        Count it again
      </button>
    );
  }
  return (
    <button
      type="button"
      className="btn btn-ghost btn-square"
      aria-label={`Void ${what}`}
      title={`Void ${what}`}
      onClick={() => void voidTrace({ id: tuneId, traceId, reason: 'taken wrongly' })}
    >
      <Ban size={18} aria-hidden />
    </button>
  );
}
