import { newUuid } from '../api/newId.ts';
import { entryAdded, nextPlace } from '../store/outbox.ts';
import { useAppDispatch } from '../store/store.ts';

/** Voids a reading or a capture with a reason, or without one counts it again; kept and sent like everything that is entered. */
export function useVoid(tuneId: string): (of: 'reading' | 'trace', targetId: string, reason: string | null) => void {
  const dispatch = useAppDispatch();
  return (of, targetId, reason) => {
    dispatch(entryAdded({ kind: 'void', id: newUuid(), tuneId, queuedAt: nextPlace(), of, targetId, reason }));
  };
}
