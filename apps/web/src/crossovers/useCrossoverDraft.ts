import type { TuneDetail } from '@yield/contract';
import { type Chain, crossoverParts, type CrossoverParts, isSameData, readParts, withCrossoverParts } from '@yield/core';
import { useMemo, useState } from 'react';
import { useKept } from '../ui/useKept.ts';

export interface CrossoverDraft {
  /** the stored chain with the plan in it, what moves just now counted in */
  chain: Chain;
  /** the stored chain to save over: an old one where somebody changed the crossovers meanwhile, so that both sides are shown */
  seen: TuneDetail['chain'];
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
  const [kept, keep] = useKept(`crossovers/${tune.id}`, readPlan);
  const [moving, setMoving] = useState<Chain | null>(null);
  const { body, version } = tune.chain;
  const stored = useMemo(() => crossoverParts(body), [body]);
  const planned = useMemo(() => (kept === undefined ? body : withCrossoverParts(body, kept.parts)), [kept, body]);
  const isUntouched = kept === undefined || isSameData(kept.base, stored);
  const change = (chain: Chain): void => {
    setMoving(null);
    keep({ version: kept?.version ?? version, base: kept?.base ?? stored, parts: crossoverParts(chain) });
  };
  return {
    chain: moving ?? planned,
    seen: isUntouched ? tune.chain : { version: kept.version, body: withCrossoverParts(body, kept.base) },
    isChanged: kept !== undefined || moving !== null,
    move: setMoving,
    change,
    settle: () => {
      if (moving !== null) change(moving);
    },
    drop: () => {
      setMoving(null);
      keep(null);
    },
  };
}

function readPlan(kept: unknown): Kept | undefined {
  const { version, base, parts } = (kept ?? {}) as Record<string, unknown>;
  const [before, planned] = [readParts(base), readParts(parts)];
  return typeof version === 'number' && before !== undefined && planned !== undefined
    ? { version, base: before, parts: planned }
    : undefined;
}
