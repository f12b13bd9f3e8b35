import type { TuneDetail } from '@yield/contract';
import type { Chain } from '@yield/core';
import { useMemo, useState } from 'react';
import { useDraft } from '../ui/useDraft.ts';
import { crossoverParts, withCrossoverParts, type CrossoverParts } from './crossoverParts.ts';

export interface CrossoverDraft {
  /** the stored chain with the plan in it, what moves just now counted in */
  chain: Chain;
  /** of the stored chain to save over: an old one where somebody changed the crossovers meanwhile, so that both sides are shown */
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
  /** what was stored when the plan began */
  base: CrossoverParts;
  parts: CrossoverParts;
}

/** The plan on the crossovers screen: nothing of it reaches the run before it is put into the chain. */
export function useCrossoverDraft(tune: TuneDetail): CrossoverDraft {
  const [text, setText] = useDraft(`crossovers/${tune.id}`);
  const [moving, setMoving] = useState<Chain | null>(null);
  const { body, version } = tune.chain;
  const stored = useMemo(() => crossoverParts(body), [body]);
  const kept = useMemo(() => (text === '' ? null : (JSON.parse(text) as Kept)), [text]);
  const planned = useMemo(() => (kept === null ? body : withCrossoverParts(body, kept.parts)), [kept, body]);
  const isUntouched = kept === null || JSON.stringify(kept.base) === JSON.stringify(stored);
  const change = (chain: Chain): void => {
    setMoving(null);
    setText(JSON.stringify({ version: kept?.version ?? version, base: kept?.base ?? stored, parts: crossoverParts(chain) } satisfies Kept));
  };
  return {
    chain: moving ?? planned,
    version: isUntouched ? version : kept.version,
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
