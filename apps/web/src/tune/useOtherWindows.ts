import type { TuneDetail } from '@yield/contract';
import { QueryStatus } from '@reduxjs/toolkit/query';
import { useEffect } from 'react';
import { yieldApi } from '../api/yieldApi.ts';
import { outboxSelectors } from '../store/outbox.ts';
import { useAppDispatch, useAppStore } from '../store/store.ts';

/** What another window writes down is seen here within two seconds. */
const ASK_MS = 1500;

/** Asks, while the tune is looked at, whether anything of it was changed elsewhere, and reads it again where it was. */
export function useOtherWindows(tune: Pick<TuneDetail, 'id' | 'changes'> | undefined): void {
  const dispatch = useAppDispatch();
  const { getState } = useAppStore();
  const [id, known] = [tune?.id, tune?.changes];
  useEffect(() => {
    if (id === undefined) return undefined;
    const abort = new AbortController();
    const ask = async (): Promise<void> => {
      if (document.visibilityState !== 'visible' || isWriting(getState())) return;
      const response = await fetch(`/api/v1/tunes/${id}/changes`, { signal: abort.signal });
      if (!response.ok) return;
      const { changes } = (await response.json()) as { changes: number };
      if (changes === known) return;
      const shown = (): unknown => yieldApi.endpoints.readTune.select(id)(getState()).data;
      const before = shown();
      const fresh = await fetch(`/api/v1/tunes/${id}`, { signal: abort.signal });
      if (!fresh.ok) return;
      const tune = (await fresh.json()) as TuneDetail;
      // What this window wrote meanwhile is not overtaken by what was stored before it: asked again in a moment.
      if (shown() === before && !isWriting(getState())) void dispatch(yieldApi.util.upsertQueryData('readTune', id, tune));
    };
    const timer = setInterval(() => void ask().catch(() => undefined), ASK_MS);
    return () => {
      clearInterval(timer);
      abort.abort();
    };
  }, [id, known, dispatch, getState]);
}

type State = ReturnType<ReturnType<typeof useAppStore>['getState']>;

/** What was refused waits for the tuner, and a capture may be long on its way: neither keeps other windows out of sight. */
const isWriting = ({ api, outbox }: State): boolean =>
  outboxSelectors.selectAll(outbox).some(({ kind, refused }) => kind !== 'trace' && refused === undefined) ||
  Object.values(api.mutations).some((mutation) => mutation?.status === QueryStatus.pending);
