import {
  createListenerMiddleware,
  isAnyOf,
  type ListenerMiddlewareInstance,
  type ThunkDispatch,
  type UnknownAction,
} from '@reduxjs/toolkit';
import type { TraceInfo } from '@yield/contract';
import { del, entries, get, set } from 'idb-keyval';
import { yieldApi } from '../api/yieldApi.ts';
import {
  connectionSeen,
  entriesFound,
  entryAdded,
  entryDropped,
  entryRefused,
  entryStored,
  outboxSelectors,
  outboxSlice,
  type OutboxEntry,
} from './outbox.ts';

const ENTRY = 'outbox:';
const BYTES = 'bytes:';
const RETRY_MS = 3000;

interface OutboxState {
  outbox: ReturnType<typeof outboxSlice.getInitialState>;
}

/** Keeps the bytes of a capture until the server has them. */
export const keepBytes = (id: string, bytes: Uint8Array): Promise<void> => set(`${BYTES}${id}`, bytes);

/** Writes every entry to the browser's database and sends it, again and again until the server has answered. */
export function outboxSender(): ListenerMiddlewareInstance<OutboxState> {
  const listener = createListenerMiddleware<OutboxState>();
  listener.startListening({
    matcher: isAnyOf(entryAdded, entriesFound),
    effect: async (action, { getState, dispatch, delay, cancelActiveListeners }) => {
      if (entryAdded.match(action)) await keep(action.payload);
      cancelActiveListeners();
      for (;;) {
        const waiting = outboxSelectors.selectAll(getState().outbox).filter(({ refused }) => refused === undefined);
        if (waiting.length === 0) return;
        let reached = true;
        for (const entry of waiting) {
          const outcome = await send(entry);
          if (outcome.kind === 'unreached') {
            reached = false;
            break;
          }
          if (outcome.kind === 'refused') {
            dispatch(entryRefused({ id: entry.id, reason: outcome.reason }));
            continue;
          }
          // Into the tune first, so that the figure does not blink on its way from here to there.
          await intoTune(entry, outcome.trace, dispatch as AnyDispatch);
          dispatch(entryStored(entry.id));
          await forget(entry.id);
        }
        dispatch(connectionSeen(reached ? 'up' : 'down'));
        if (!reached) await delay(RETRY_MS);
      }
    },
  });
  listener.startListening({
    actionCreator: entryDropped,
    effect: (action) => forget(action.payload),
  });
  return listener;
}

/** Entries that an earlier visit could not send. */
export async function findEntries(): Promise<OutboxEntry[]> {
  const all = await entries<string, OutboxEntry>();
  return all.filter(([key]) => typeof key === 'string' && key.startsWith(ENTRY)).map(([, entry]) => entry);
}

type AnyDispatch = ThunkDispatch<OutboxState & RootOfApi, unknown, UnknownAction>;
type RootOfApi = Parameters<ReturnType<typeof yieldApi.endpoints.readTune.select>>[0];

/**
 * Adds what the server has stored to the tune that is shown.
 *
 * Where the tune is just being fetched, that answer may have been made before the entry was stored: it is waited for first,
 * or the entry would be in neither.
 */
async function intoTune(entry: OutboxEntry, stored: TraceInfo | undefined, dispatch: AnyDispatch): Promise<void> {
  await dispatch(yieldApi.endpoints.readTune.initiate(entry.tuneId, { subscribe: false }));
  dispatch(
    yieldApi.util.updateQueryData('readTune', entry.tuneId, (tune) => {
      if (entry.kind === 'reading' && !tune.readings.some(({ id }) => id === entry.id))
        tune.readings.push({ id: entry.id, ...entry.reading });
      if (entry.kind === 'trace' && !tune.traces.some(({ id }) => id === entry.id)) tune.traces.push(stored ?? entry.trace);
    }),
  );
}

const keep = (entry: OutboxEntry): Promise<void> => set(`${ENTRY}${entry.id}`, entry).catch(() => undefined);

async function forget(id: string): Promise<void> {
  await Promise.allSettled([del(`${ENTRY}${id}`), del(`${BYTES}${id}`)]);
}

type Outcome = { kind: 'stored'; trace?: TraceInfo } | { kind: 'refused'; reason: string } | { kind: 'unreached' };

async function send(entry: OutboxEntry): Promise<Outcome> {
  try {
    const response = entry.kind === 'reading' ? await sendReading(entry) : await sendTrace(entry);
    if (response.ok) return entry.kind === 'trace' ? { kind: 'stored', trace: (await response.json()) as TraceInfo } : { kind: 'stored' };
    // The server is up but its database is not, or a proxy answers for it: try again later.
    if (response.status >= 500) return { kind: 'unreached' };
    const problem = (await response.json().catch(() => ({}))) as { detail?: string };
    return { kind: 'refused', reason: problem.detail ?? `The server refused it (${response.status}).` };
  } catch {
    return { kind: 'unreached' };
  }
}

function sendReading(entry: Extract<OutboxEntry, { kind: 'reading' }>): Promise<Response> {
  return fetch(`/api/v1/tunes/${entry.tuneId}/readings/${entry.id}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(entry.reading),
  });
}

async function sendTrace(entry: Extract<OutboxEntry, { kind: 'trace' }>): Promise<Response> {
  const bytes = await get<Uint8Array<ArrayBuffer>>(`${BYTES}${entry.id}`);
  const query = new URLSearchParams(Object.entries(entry.upload).map(([key, value]) => [key, String(value)]));
  return fetch(`/api/v1/tunes/${entry.tuneId}/traces/${entry.id}?${query.toString()}`, {
    method: 'PUT',
    headers: { 'content-type': entry.contentType },
    body: bytes ?? new Uint8Array(),
  });
}
