import { lazy, Suspense, type JSX } from 'react';
import { useReadTuneQuery } from '../api/yieldApi.ts';
import { outboxSelectors, type OutboxEntry } from '../store/outbox.ts';
import { useAppSelector } from '../store/store.ts';

// Two that meet are rare, and only a server tells of it.
const MetEdit = lazy(() => import('./MetEdit.tsx'));

type Edit = OutboxEntry & { kind: 'edit' };

/** Edits of this browser that met another one of the same field, wherever they were made, one after the other. */
export function MetEdits({ tuneId }: { tuneId: string }): JSX.Element | null {
  const { data: tune } = useReadTuneQuery(tuneId);
  const edit = useAppSelector((state) =>
    outboxSelectors
      .selectAll(state.outbox)
      .find((entry): entry is Edit => entry.kind === 'edit' && entry.tuneId === tuneId && entry.hasMet === true),
  );
  if (tune === undefined || edit === undefined) return null;
  return (
    <Suspense>
      <MetEdit key={edit.id} edit={edit} tune={tune} />
    </Suspense>
  );
}
