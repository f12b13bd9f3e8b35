import type { NewReading } from '@yield/contract';
import { newUuid } from '../../api/newId.ts';
import { entryAdded, nextPlace } from '../../store/outbox.ts';
import { useAppDispatch, useAppSelector } from '../../store/store.ts';

/** Puts a reading into the outbox, with an id and the time of now. */
export function useEnterReading(tuneId: string): (reading: Omit<NewReading, 'takenAt'>) => void {
  const dispatch = useAppDispatch();
  // With the bench open it is the bench that was read.
  const isBench = useAppSelector(({ bench }) => bench.open);
  return (reading) => {
    const conditions = isBench ? { ...reading.conditions, isSimulated: true as const } : reading.conditions;
    const timed: NewReading = { ...reading, conditions, takenAt: new Date().toISOString() };
    dispatch(entryAdded({ kind: 'reading', id: newUuid(), tuneId, queuedAt: nextPlace(), reading: timed }));
  };
}
