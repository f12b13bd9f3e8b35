import { chainFaults, type Chain, type Fault } from '@yield/core';
import { useState, type JSX } from 'react';
import { problemWords } from '../api/problem.ts';
import { useSaveChainMutation } from '../api/yieldApi.ts';
import { StaleSaveDialog } from '../ui/StaleSaveDialog.tsx';

interface Conflict {
  mine: Chain;
  theirs: { version: number; body: Chain };
}

/** In a conflict the dialog has the word; the faults' pointers lead into the chain. */
export type SaveOutcome = { kind: 'saved' } | { kind: 'conflict' } | { kind: 'faulty'; faults: Fault[] };

export interface SaveChain {
  /** Saves the chain over the version that was seen. */
  save: (next: Chain, version: number) => Promise<SaveOutcome>;
  /** both sides, where another window came first */
  conflictDialog: JSX.Element | null;
}

/**
 * Saves a tune's chain: checked here first, refused with words, never over somebody else's save.
 *
 * @param onSaved - once it is stored, at once or after a conflict was settled
 */
export function useSaveChain(tuneId: string, onSaved?: () => void): SaveChain {
  const [saveChain] = useSaveChainMutation();
  const [conflict, setConflict] = useState<Conflict | null>(null);
  const save = async (next: Chain, version: number): Promise<SaveOutcome> => {
    const own = chainFaults(next);
    if (own.length > 0) return { kind: 'faulty', faults: own };
    const result = await saveChain({ id: tuneId, body: { version, chain: next } });
    if (result.error === undefined) {
      onSaved?.();
      return { kind: 'saved' };
    }
    const problem = problemWords(result.error);
    if (problem.status === 409) {
      setConflict({ mine: next, theirs: problem.current as Conflict['theirs'] });
      return { kind: 'conflict' };
    }
    const faults = problem.faults.map((fault) => ({ ...fault, pointer: fault.pointer.replace(/^\/chain/, '') }));
    return { kind: 'faulty', faults: faults.length > 0 ? faults : [{ pointer: '', message: problem.text }] };
  };
  const conflictDialog =
    conflict === null ? null : (
      <StaleSaveDialog
        what="The chain"
        mine={conflict.mine}
        theirs={conflict.theirs.body}
        onKeepMine={() => {
          setConflict(null);
          void save(conflict.mine, conflict.theirs.version);
        }}
        onTakeTheirs={() => setConflict(null)}
        tuneId={tuneId}
      />
    );
  return { save, conflictDialog };
}

/** What is to be put right; nothing once it was saved, or while the conflict's dialog asks. */
export const faultsOf = (outcome: SaveOutcome): Fault[] => (outcome.kind === 'faulty' ? outcome.faults : []);
