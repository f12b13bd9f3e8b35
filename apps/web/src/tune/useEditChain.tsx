import type { TuneDetail } from '@yield/contract';
import { chainFaults, changesBetween, withChanges, withTrueLoads, type Chain, type ChainChange, type Fault } from '@yield/core';
import { useState, type JSX } from 'react';
import { problemWords } from '../api/problem.ts';
import { useSaveChainMutation, yieldApi } from '../api/yieldApi.ts';
import { useAppDispatch } from '../store/store.ts';
import { StaleSaveDialog } from '../ui/StaleSaveDialog.tsx';

interface StoredChain {
  version: number;
  body: Chain;
}

interface Conflict {
  changes: readonly ChainChange[];
  mine: Chain;
  theirs: StoredChain;
  onSaved: (() => void) | undefined;
}

export interface EditChain {
  /**
   * Saves the chain as it was changed, over the one that the change saw.
   *
   * @param seen - the chain when the editing began, where that was earlier; the present one where nothing is said
   * @param onSaved - once it is stored, at once or after a conflict was settled
   * @returns what is to be put right, the pointers into the chain; nothing once it was saved, or while the conflict's dialog asks
   */
  edit: (next: Chain, options?: { seen?: StoredChain; onSaved?: (changes: readonly ChainChange[]) => void }) => Promise<Fault[]>;
  /** Makes or takes back single changes on the chain as it is now: whatever they do not touch stays. */
  change: (changes: readonly ChainChange[]) => Promise<Fault[]>;
  isSaving: boolean;
  /** both sides, where another window came first */
  conflictDialog: JSX.Element | null;
}

/** The one way in which a tune's chain is saved: checked here first, refused with words, never over somebody else's save. */
export function useEditChain({ id: tuneId, chain: stored }: Pick<TuneDetail, 'id' | 'chain'>): EditChain {
  const [saveChain, { isLoading }] = useSaveChainMutation();
  const dispatch = useAppDispatch();
  const [conflict, setConflict] = useState<Conflict | null>(null);
  const save = async (next: Chain, version: number, changes: readonly ChainChange[], onSaved?: () => void): Promise<Fault[]> => {
    const own = chainFaults(next);
    if (own.length > 0) return own;
    const result = await saveChain({ id: tuneId, body: { version, chain: next } });
    if (result.error === undefined) {
      onSaved?.();
      return [];
    }
    const problem = problemWords(result.error);
    if (problem.status === 409) {
      const theirs = problem.current as StoredChain;
      // The other window wrote the same: there is nothing to choose between.
      if (changesBetween(theirs.body, next).length === 0) {
        dispatch(yieldApi.util.invalidateTags([{ type: 'tune', id: tuneId }]));
        onSaved?.();
      } else setConflict({ changes, mine: next, theirs, onSaved });
      return [];
    }
    const faults = problem.faults.map((fault) => ({ ...fault, pointer: fault.pointer.replace(/^\/chain/, '') }));
    return faults.length > 0 ? faults : [{ pointer: '', message: problem.text }];
  };
  const conflictDialog =
    conflict === null ? null : (
      <StaleSaveDialog
        what="The chain"
        mine={conflict.mine}
        theirs={conflict.theirs.body}
        onKeepMine={() => {
          const { changes, theirs, onSaved } = conflict;
          setConflict(null);
          // What I changed, on what is stored now: the other window's fields stay as they are there.
          void save(withChanges(theirs.body, changes), theirs.version, changes, onSaved);
        }}
        onTakeTheirs={() => setConflict(null)}
        tuneId={tuneId}
      />
    );
  return {
    edit: (edited, { seen = stored, onSaved } = {}) => {
      // A part put in front of a driver changes the load of its wiring.
      const next = withTrueLoads(edited);
      const changes = changesBetween(seen.body, next);
      return save(next, seen.version, changes, () => onSaved?.(changes));
    },
    change: (changes) => save(withChanges(stored.body, changes), stored.version, changes),
    isSaving: isLoading,
    conflictDialog,
  };
}
