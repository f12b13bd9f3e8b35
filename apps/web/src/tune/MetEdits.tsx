import type { TuneDetail } from '@yield/contract';
import { changesOnto, withChanges } from '@yield/core';
import { lazy, Suspense, type JSX } from 'react';
import { useReadTuneQuery } from '../api/yieldApi.ts';
import { entryAdded, entryDropped, nextPlace, outboxSelectors, type OutboxEntry } from '../store/outbox.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { headFields, type TuneHeadFields } from './useEdit.ts';

// Two that meet are rare.
const StaleSaveDialog = lazy(async () => ({ default: (await import('../ui/StaleSaveDialog.tsx')).StaleSaveDialog }));

type Edit = OutboxEntry & { kind: 'edit' };

/** Edits of this browser that met another one of the same field, wherever they were made: both sides, one after the other, and the choice. */
export function MetEdits({ tuneId }: { tuneId: string }): JSX.Element | null {
  const { data: tune } = useReadTuneQuery(tuneId);
  const edit = useAppSelector((state) =>
    outboxSelectors
      .selectAll(state.outbox)
      .find((entry): entry is Edit => entry.kind === 'edit' && entry.tuneId === tuneId && entry.hasMet === true),
  );
  return tune === undefined || edit === undefined ? null : <MetEdit key={edit.id} edit={edit} tune={tune} />;
}

function MetEdit({ edit, tune }: { edit: Edit; tune: TuneDetail }): JSX.Element {
  const dispatch = useAppDispatch();
  const isChain = edit.of === 'chain';
  const theirs = isChain ? tune.chain.body : headFields(tune);
  // What was changed here, on what is stored now: everything else stays as it is there.
  const changes = changesOnto(theirs, edit.changes);
  const mine = isChain ? withChanges(tune.chain.body, changes) : withChanges(headFields(tune), changes);
  return (
    <Suspense>
      <StaleSaveDialog
        what={isChain ? 'The chain' : 'This tune'}
        mine={isChain ? mine : flatly(mine as TuneHeadFields)}
        theirs={isChain ? theirs : flatly(tune)}
        {...(changes.length < edit.changes.length ? { lost: 'Part of what you changed is no longer there, and is left out.' } : {})}
        onKeepMine={() => {
          const { hasMet: _met, refused: _refused, ...rest } = edit;
          dispatch(entryDropped(edit.id));
          if (changes.length === 0) return;
          const seen = isChain ? tune.chain.version : tune.version;
          dispatch(entryAdded({ ...rest, id: crypto.randomUUID(), queuedAt: nextPlace(), seen, changes }));
        }}
        onTakeTheirs={() => dispatch(entryDropped(edit.id))}
      />
    </Suspense>
  );
}

/** Name, vehicle, rules and meter beside each other, as nobody reads "settings, rules, …". */
const flatly = ({ name, vehicle, settings: { rules, meter, isPractice = false } }: TuneHeadFields): object => ({
  name,
  vehicle,
  isPractice,
  ...rules,
  ...meter,
});
