import { chainFaults, type Chain, type Fault } from '@yield/core';
import { useState, type JSX } from 'react';
import { problemWords } from '../api/problem.ts';
import { useSaveChainMutation } from '../api/yieldApi.ts';
import { StaleSaveDialog } from '../ui/StaleSaveDialog.tsx';

interface Conflict {
  mine: Chain;
  theirs: { version: number; body: Chain };
}

export interface SaveChain {
  /** Saves the chain over the version that was seen; the faults' pointers lead into the chain. */
  save: (next: Chain, version: number) => Promise<Fault[]>;
  /** both sides, where another window came first */
  conflictDialog: JSX.Element | null;
}

/** Saves a tune's chain: checked here first, refused with words, never over somebody else's save. */
export function useSaveChain(tuneId: string): SaveChain {
  const [saveChain] = useSaveChainMutation();
  const [conflict, setConflict] = useState<Conflict | null>(null);
  const save = async (next: Chain, version: number): Promise<Fault[]> => {
    const own = chainFaults(next);
    if (own.length > 0) return own;
    const result = await saveChain({ id: tuneId, body: { version, chain: next } });
    if (result.error === undefined) return [];
    const problem = problemWords(result.error);
    if (problem.status === 409) {
      setConflict({ mine: next, theirs: problem.current as Conflict['theirs'] });
      return [];
    }
    return problem.faults.length > 0
      ? problem.faults.map((fault) => ({ ...fault, pointer: fault.pointer.replace(/^\/chain/, '') }))
      : [{ pointer: '', message: problem.text }];
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
