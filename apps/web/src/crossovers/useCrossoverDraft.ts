import type { TuneDetail } from '@yield/contract';
import type { Chain } from '@yield/core';
import { useMemo, useState } from 'react';
import { useDraft } from '../ui/useDraft.ts';

export interface CrossoverDraft {
  /** the chain as it is planned here, what moves just now counted in */
  chain: Chain;
  /** of the stored chain that the plan began from */
  version: number;
  isChanged: boolean;
  /** many times a second, while something is dragged: not kept */
  move: (chain: Chain) => void;
  /** keeps a change over a reload, until it is put into the chain or dropped */
  change: (chain: Chain) => void;
  /** keeps what was moved */
  settle: () => void;
  drop: () => void;
}

interface Kept {
  version: number;
  chain: Chain;
}

/** The plan on the crossovers screen: nothing of it reaches the run before it is put into the chain. */
export function useCrossoverDraft(tune: TuneDetail): CrossoverDraft {
  const [text, setText] = useDraft(`crossovers/${tune.id}`);
  const [moving, setMoving] = useState<Chain | null>(null);
  const kept = useMemo(() => (text === '' ? null : (JSON.parse(text) as Kept)), [text]);
  const version = kept?.version ?? tune.chain.version;
  const change = (chain: Chain): void => {
    setMoving(null);
    setText(JSON.stringify({ version, chain } satisfies Kept));
  };
  return {
    chain: moving ?? kept?.chain ?? tune.chain.body,
    version,
    isChanged: kept !== null || moving !== null,
    move: setMoving,
    change,
    settle: () => {
      if (moving !== null) change(moving);
    },
    drop: () => {
      setMoving(null);
      setText(null);
    },
  };
}
