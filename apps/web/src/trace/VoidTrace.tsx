import { Undo2 } from 'lucide-react';
import type { JSX } from 'react';
import { useVoidTraceMutation } from '../api/yieldApi.ts';

/** Voids a capture that was taken wrongly; it stays on the record. */
export function VoidTrace({ tuneId, traceId, what }: { tuneId: string; traceId: string; what: string }): JSX.Element {
  const [voidTrace] = useVoidTraceMutation();
  return (
    <button
      type="button"
      className="btn btn-ghost btn-square"
      aria-label={`Void ${what}`}
      title={`Void ${what}`}
      onClick={() => void voidTrace({ id: tuneId, traceId, reason: 'taken wrongly' })}
    >
      <Undo2 size={18} aria-hidden />
    </button>
  );
}
