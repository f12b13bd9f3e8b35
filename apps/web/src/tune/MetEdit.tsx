import type { TuneDetail } from '@yield/contract';
import { changesOnto, withChanges } from '@yield/core';
import type { JSX } from 'react';
import { newUuid } from '../api/newId.ts';
import { entryAdded, entryDropped, nextPlace, type OutboxEntry } from '../store/outbox.ts';
import { useAppDispatch } from '../store/store.ts';
import { StaleSaveDialog } from '../ui/StaleSaveDialog.tsx';
import { headFields, type TuneHeadFields } from './useEdit.ts';

/** One edit that met another one of the same field: both sides, and the choice. */
export default function MetEdit({ edit, tune }: { edit: OutboxEntry & { kind: 'edit' }; tune: TuneDetail }): JSX.Element {
  const dispatch = useAppDispatch();
  const isChain = edit.of === 'chain';
  const theirs = isChain ? tune.chain.body : headFields(tune);
  // What was changed here, on what is stored now: everything else stays as it is there.
  const changes = changesOnto(theirs, edit.changes);
  const mine = isChain ? withChanges(tune.chain.body, changes) : withChanges(headFields(tune), changes);
  return (
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
        dispatch(entryAdded({ ...rest, id: newUuid(), queuedAt: nextPlace(), seen, changes }));
      }}
      onTakeTheirs={() => dispatch(entryDropped(edit.id))}
    />
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
