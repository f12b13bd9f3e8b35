import type { NewReading } from '@yield/contract';
import { entryAdded } from '../../store/outbox.ts';
import { useAppDispatch } from '../../store/store.ts';

/** Puts a reading into the outbox, with an id and the time of now. */
export function useEnterReading(tuneId: string): (reading: Omit<NewReading, 'takenAt'>) => void {
  const dispatch = useAppDispatch();
  return (reading) => {
    const timed: NewReading = { ...reading, takenAt: new Date().toISOString() };
    dispatch(entryAdded({ kind: 'reading', id: crypto.randomUUID(), tuneId, reading: timed }));
  };
}
