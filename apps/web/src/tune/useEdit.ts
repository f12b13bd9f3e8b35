import type { TuneDetail } from '@yield/contract';
import { changesBetween, conflictsOf, withChanges, type Chain, type ChainChange, type Fault } from '@yield/core';
import { useLayoutEffect, useRef } from 'react';
import { newUuid } from '../api/newId.ts';
import { NOT_REACHED } from '../api/problem.ts';
import { entryAdded, entryDropped, nextPlace, outboxSelectors, type OutboxEntry } from '../store/outbox.ts';
import { useAppStore } from '../store/store.ts';

export type StoredChain = TuneDetail['chain'];

/** What of a tune is edited beside its chain. */
export type TuneHeadFields = Pick<TuneDetail, 'name' | 'vehicle' | 'settings'>;

export interface EditChain {
  /**
   * Changes the chain by what was changed on the one that the change saw: kept in this browser first, then sent.
   *
   * @param seen - the chain when the editing began, where that was earlier; the present one where nothing is said
   * @param onSaved - once it is kept, with what was changed
   * @returns what is to be put right, the pointers into the chain; nothing once it is kept. An edit that met another one is kept too:
   * both sides are shown, and the tuner decides.
   */
  edit: (next: Chain, options?: { seen?: StoredChain; onSaved?: (changes: readonly ChainChange[]) => void }) => Promise<Fault[]>;
  /**
   * Changes the chain as it is by then: what is entered in quick succession is each put on what the one before made of it, never on what
   * the screen showed when the field was left.
   */
  editLatest: (change: (body: Chain) => Chain) => Promise<Fault[]>;
  /** Makes or takes back single changes on the chain as it is now: whatever they do not touch stays. */
  change: (changes: readonly ChainChange[]) => Promise<Fault[]>;
}

/** A refusal that comes this soon is told in the form that was just saved; later ones stand in the list of what waits. */
const ANSWER_MS = 1500;

/** What a chain is checked with comes when one is first edited: most looks at a tune change nothing. */
async function checked(edited: Chain): Promise<{ chain: Chain; faults: Fault[] }> {
  const check = await import('./chainCheck.ts').catch(() => undefined);
  // The form keeps what was entered: saved again once the server is back, nothing is lost.
  if (check === undefined) return { chain: edited, faults: [{ pointer: '', message: NOT_REACHED }] };
  const { chainFaults, withTrueLoads } = check;
  // A part put in front of a driver changes the load of its wiring.
  const chain = withTrueLoads(edited);
  return { chain, faults: chainFaults(chain) };
}

/** The one way in which a tune's chain is changed: checked here first, refused with words, never over somebody else's edit. */
export function useEditChain({ id: tuneId, chain: stored }: Pick<TuneDetail, 'id' | 'chain'>): EditChain {
  const keep = useKeepEdit(tuneId);
  const make = async (changes: readonly ChainChange[], seen: StoredChain, onSaved?: (changes: readonly ChainChange[]) => void) => {
    if (changes.length === 0) {
      onSaved?.(changes);
      return [];
    }
    const hasMet = conflictsOf(stored.body, changes).length > 0;
    const own = hasMet ? [] : (await checked(withChanges(stored.body, changes))).faults;
    if (own.length > 0) return own;
    const faults = await keep({ of: 'chain', seen: seen.version, changes, hasMet });
    if (faults.length === 0) onSaved?.(changes);
    return faults.map((fault) => ({ ...fault, pointer: fault.pointer.replace(/^\/chain/, '') }));
  };
  // What was kept a moment ago is not on the screen yet.
  const latest = useRef(stored.body);
  const before = useRef<Promise<unknown>>(Promise.resolve());
  useLayoutEffect(() => {
    latest.current = stored.body;
  }, [stored.body]);
  const onLatest = async (change: (body: Chain) => Chain): Promise<{ answer: Promise<Fault[]> }> => {
    const seen = latest.current;
    const { chain, faults } = await checked(change(seen));
    if (faults.length > 0) return { answer: Promise.resolve(faults) };
    const changes = changesBetween(seen, chain);
    if (changes.length === 0) return { answer: Promise.resolve([]) };
    latest.current = chain;
    return { answer: keep({ of: 'chain', seen: stored.version, changes, hasMet: false }) };
  };
  return {
    editLatest: async (change) => {
      // The next one waits until this one is kept, not until the server has answered.
      const kept = before.current.then(async () => onLatest(change));
      before.current = kept.catch(() => undefined);
      const faults = await (await kept).answer;
      return faults.map((fault) => ({ ...fault, pointer: fault.pointer.replace(/^\/chain/, '') }));
    },
    edit: async (edited, { seen = stored, onSaved } = {}) => {
      const { chain, faults } = await checked(edited);
      return faults.length > 0 ? faults : make(changesBetween(seen.body, chain), seen, onSaved);
    },
    change: (changes) => make(changes, stored),
  };
}

/** The one way in which name, vehicle, house rules and meter of a tune are changed. Pointers of faults are those of the tune. */
export function useEditTune(tune: TuneDetail): (next: TuneHeadFields, seen?: TuneDetail) => Promise<Fault[]> {
  const keep = useKeepEdit(tune.id);
  return async (next, seen = tune) => {
    const changes = changesBetween(headFields(seen), next);
    if (changes.length === 0) return [];
    return keep({ of: 'tune', seen: seen.version, changes, hasMet: conflictsOf(headFields(tune), changes).length > 0 });
  };
}

export const headFields = ({ name, vehicle, settings }: TuneHeadFields): TuneHeadFields => ({ name, vehicle, settings });

type NewEdit = Pick<OutboxEntry & { kind: 'edit' }, 'of' | 'seen' | 'changes'> & { hasMet: boolean };

/** Puts an edit into the queue, and waits a moment for a refusal. */
function useKeepEdit(tuneId: string): (edit: NewEdit) => Promise<Fault[]> {
  const { dispatch, getState, subscribe } = useAppStore();
  return async ({ hasMet, ...edit }) => {
    const id = newUuid();
    const met = hasMet ? ({ hasMet, refused: 'It was changed elsewhere since you opened it.' } as const) : {};
    dispatch(entryAdded({ kind: 'edit', id, tuneId, queuedAt: nextPlace(), ...edit, ...met }));
    if (hasMet) return [];
    const entry = (): OutboxEntry | undefined => outboxSelectors.selectById(getState().outbox, id);
    const isOpen = (): boolean => {
      const now = entry();
      return now !== undefined && now.refused === undefined && getState().outbox.connection !== 'down';
    };
    await new Promise<void>((resolve) => {
      const end = (): void => {
        clearTimeout(timer);
        leave();
        resolve();
      };
      const timer = setTimeout(end, ANSWER_MS);
      const leave = subscribe(() => {
        if (!isOpen()) end();
      });
      if (!isOpen()) end();
    });
    const now = entry();
    if (now?.refused === undefined || (now.kind === 'edit' && now.hasMet === true)) return [];
    // Said in the form, where it is put right: nothing is left waiting for it.
    dispatch(entryDropped(id));
    return now.faults !== undefined && now.faults.length > 0 ? [...now.faults] : [{ pointer: '', message: now.refused }];
  };
}
