import type { Device, TuneChanges, TuneDetail, TuneEvent } from '@yield/contract';
import { useEffect, useState } from 'react';
import { putChanges } from '../api/tuneParts.ts';
import { yieldApi } from '../api/yieldApi.ts';
import { deviceId, deviceName } from '../api/device.ts';
import { useAppDispatch, useAppStore } from '../store/store.ts';

/** A line that broke is tried again by the browser itself; one that was refused is tried again after so long. */
const AGAIN_MS = 5000;

/**
 * Follows a tune while it is looked at: what another device writes down is put into it, part by part.
 *
 * @returns the other devices that look at it
 */
export function useTuneEvents(tuneId: string): readonly Device[] {
  const dispatch = useAppDispatch();
  const { getState } = useAppStore();
  const [others, setOthers] = useState<readonly Device[]>([]);
  useEffect(() => {
    const abort = new AbortController();
    const own = deviceId();
    let source: EventSource | undefined;
    let again: ReturnType<typeof setTimeout> | undefined;
    const shown = (): TuneDetail | undefined => yieldApi.endpoints.readTune.select(tuneId)(getState()).data;

    let asking: Promise<void> = Promise.resolve();
    /** One question after the other: the second one asks from where the first one left off. */
    const ask = (changes?: number): void => {
      asking = asking.then(async () => {
        const known = shown();
        if (known === undefined || (changes !== undefined && changes <= known.changes)) return;
        const response = await fetch(`/api/v1/tunes/${tuneId}/changes?since=${known.changes}`, { signal: abort.signal });
        if (!response.ok) return;
        const news = (await response.json()) as TuneChanges;
        if (news.whole === true) dispatch(yieldApi.util.invalidateTags([{ type: 'tune', id: tuneId }]));
        else dispatch(yieldApi.util.updateQueryData('readTune', tuneId, (tune) => putChanges(tune, news)));
      });
      // Asked again with the next event.
      asking = asking.catch(() => undefined);
    };

    const open = (): void => {
      clearTimeout(again);
      source?.close();
      if (document.visibilityState !== 'visible') return;
      const name = deviceName();
      const query = new URLSearchParams({ device: own, ...(name === '' ? {} : { who: name }) });
      source = new EventSource(`/api/v1/tunes/${tuneId}/events?${query.toString()}`);
      source.onmessage = ({ data }) => {
        const event = JSON.parse(String(data)) as TuneEvent;
        if (event.kind === 'changed') ask(event.changes);
        else setOthers(event.devices.filter(({ id }) => id !== own));
      };
      source.onerror = () => {
        setOthers([]);
        // The browser gives up where the answer was no stream, as from a server that just starts.
        if (source?.readyState === EventSource.CLOSED) again = setTimeout(open, AGAIN_MS);
      };
    };
    open();
    // Not followed out of sight: a browser has few lines to one server, and each window would hold one.
    document.addEventListener('visibilitychange', open);
    return () => {
      document.removeEventListener('visibilitychange', open);
      clearTimeout(again);
      source?.close();
      abort.abort();
    };
  }, [tuneId, dispatch, getState]);
  return others;
}
