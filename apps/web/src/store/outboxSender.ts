import {
  createListenerMiddleware,
  isAnyOf,
  type ListenerMiddlewareInstance,
  type ThunkDispatch,
  type UnknownAction,
} from '@reduxjs/toolkit';
import type { SavedMark, TraceInfo, TuneDetail } from '@yield/contract';
import { connectionSeen } from '../api/connection.ts';
import { yieldApi } from '../api/yieldApi.ts';
import { putChain, putHead, putMark, type TuneHeadAndSettings } from '../api/tuneParts.ts';
import { bytesOf, forgetEntry, keepEntry } from './entryStore.ts';
import { placeOf, sendEntry, type Sent } from './outboxHttp.ts';
import {
  clockSeen,
  entriesFound,
  entriesStored,
  entryAdded,
  entryDropped,
  entryRefused,
  entryRetried,
  outboxSelectors,
  outboxSlice,
  placeSeen,
  storageRefused,
  type OutboxEntry,
} from './outbox.ts';

/** A server that does not answer is asked again after so long, then twice as long, up to the longest. */
const RETRY_MS = { first: 1000, longest: 10_000 };
/** Each time that stored entries enter the tune, all of it is judged anew: of a long queue many enter at once. */
const HELD_MS = 500;
/** A clock that is off by less is no matter: order comes from the server. */
const NOTABLE_CLOCK_MS = 120_000;

interface OutboxState {
  outbox: ReturnType<typeof outboxSlice.getInitialState>;
}
type RootOfApi = Parameters<ReturnType<typeof yieldApi.endpoints.readTune.select>>[0];
type Store = { getState: () => OutboxState; dispatch: ThunkDispatch<OutboxState & RootOfApi, unknown, UnknownAction> };

/**
 * Writes every entry to the browser's database and sends it, again and again until the server has answered.
 *
 * What is about one tune is sent in its order; a capture has a lane of its own, so that a large or a stuck one holds up nothing else.
 */
export function outboxSender(): ListenerMiddlewareInstance<OutboxState> {
  const listener = createListenerMiddleware<OutboxState>();
  const lanes = new Lanes();
  listener.startListening({
    matcher: isAnyOf(entryAdded, entriesFound, entryRetried),
    effect: async (action, api) => {
      const store = api as unknown as Store;
      if (entryAdded.match(action)) await keepEntry(action.payload).catch(() => store.dispatch(storageRefused()));
      lanes.pump(store);
    },
  });
  listener.startListening({ actionCreator: entryDropped, effect: (action) => forgetEntry(action.payload) });
  return listener;
}

/** In which order an entry goes: after those of its own lane, beside all others. */
export function laneOf(entry: OutboxEntry): string {
  if (entry.kind === 'trace') return `capture/${entry.id}`;
  return entry.kind === 'void' && entry.of === 'trace' ? `capture/${entry.targetId}` : `tune/${entry.tuneId}`;
}

/** Sends one entry of each lane at a time, and waits longer each time that nobody answers. */
class Lanes {
  readonly #busy = new Set<string>();
  readonly #failures = new Map<string, number>();
  readonly #resting = new Map<string, ReturnType<typeof setTimeout>>();
  /** stored on the server, and not yet shown as such */
  #held: Stored[] = [];
  readonly #heldIds = new Set<string>();
  #settledAt = 0;

  constructor() {
    // A network that is back is no reason to wait any longer.
    if (typeof window !== 'undefined') window.addEventListener('online', () => this.#wake());
  }

  #store: Store | undefined;

  #wake(): void {
    for (const timer of this.#resting.values()) clearTimeout(timer);
    this.#resting.clear();
    if (this.#store !== undefined) this.pump(this.#store);
  }

  pump(store: Store): void {
    this.#store = store;
    const waiting = outboxSelectors
      .selectAll(store.getState().outbox)
      .filter(({ id, refused }) => refused === undefined && !this.#heldIds.has(id));
    for (const entry of waiting) {
      const lane = laneOf(entry);
      if (this.#busy.has(lane) || this.#resting.has(lane)) continue;
      // One capture at a time: two would only share the line.
      if (entry.kind === 'trace' && [...this.#busy].some((other) => other.startsWith('capture/'))) continue;
      this.#busy.add(lane);
      void this.#send(entry, waiting, store)
        .then((isReached) => {
          if (isReached) this.#failures.delete(lane);
          else this.#rest(lane, store);
        })
        .finally(() => {
          this.#busy.delete(lane);
          this.pump(store);
        });
    }
    // What followed them may have been dropped meanwhile.
    if (this.#busy.size === 0) void this.#settle(store.dispatch);
  }

  #rest(lane: string, store: Store): void {
    const failures = (this.#failures.get(lane) ?? 0) + 1;
    this.#failures.set(lane, failures);
    const wait = Math.min(RETRY_MS.longest, RETRY_MS.first * 2 ** (failures - 1));
    this.#resting.set(
      lane,
      setTimeout(() => {
        this.#resting.delete(lane);
        this.pump(store);
      }, wait),
    );
  }

  /** @returns whether the server answered */
  async #send(entry: OutboxEntry, waiting: readonly OutboxEntry[], store: Store): Promise<boolean> {
    const { dispatch } = store;
    // A later tick of the same step holds all of this one.
    const overtaking =
      entry.kind === 'mark'
        ? waiting.flatMap((later) => (later.kind === 'mark' && followsOn(later, entry) ? [later] : [])).at(-1)
        : undefined;
    if (entry.kind === 'mark' && overtaking !== undefined) {
      const knowing = { ...overtaking, earlier: [...(overtaking.earlier ?? []), ...(entry.earlier ?? []), entry.body] };
      dispatch(entriesFound([knowing]));
      await keepEntry(knowing).catch(() => undefined);
      dispatch(entriesStored([entry.id]));
      await forgetEntry(entry.id);
      return true;
    }
    const sent = await alone(entry.id, async () => asking(entry, dispatch, async () => sendEntry(entry, await bytesOf(entry))));
    if (sent.kind === 'stored' && entry.kind === 'reading') {
      this.#held.push({ entry, sent });
      this.#heldIds.add(entry.id);
    }
    // Whatever else comes may be about one of them.
    const next = waiting.find((other) => other !== entry && laneOf(other) === laneOf(entry));
    const isHeld = sent.kind === 'stored' && entry.kind === 'reading' && next?.kind === 'reading';
    if (!isHeld || Date.now() - this.#settledAt > HELD_MS) await this.#settle(dispatch);
    if (sent.kind === 'unreached') {
      dispatch(connectionSeen(sent.isServerUp ? 'up' : 'down'));
      return false;
    }
    dispatch(connectionSeen('up'));
    if (sent.clockAheadMs !== undefined) {
      const notable = Math.abs(sent.clockAheadMs) > NOTABLE_CLOCK_MS ? sent.clockAheadMs : 0;
      if (notable !== store.getState().outbox.clockAheadMs) dispatch(clockSeen(notable));
    }
    if (sent.kind === 'refused') {
      const { reason, faults, hasMet } = sent;
      dispatch(
        entryRefused({ id: entry.id, reason, ...(faults === undefined ? {} : { faults }), ...(hasMet === undefined ? {} : { hasMet }) }),
      );
      if (entry.kind === 'edit' && sent.current !== undefined)
        await intoTune(entry.tuneId, [{ entry, sent: { kind: 'stored', answer: sent.current } }], dispatch);
      if (entry.kind === 'mark') dispatch(yieldApi.util.invalidateTags([{ type: 'tune', id: entry.tuneId }]));
      return true;
    }
    if (entry.kind === 'reading') return true;
    // Into the tune first, so that the figure does not blink on its way from here to there.
    await intoTune(entry.tuneId, [{ entry, sent }], dispatch);
    if (entry.kind === 'mark') await rebase(entry, (sent.answer as SavedMark).version, store);
    dispatch(entriesStored([entry.id]));
    await forgetEntry(entry.id);
    return true;
  }

  /** Takes over into their tunes what the server has stored meanwhile. */
  async #settle(dispatch: Store['dispatch']): Promise<void> {
    const held = this.#held;
    if (held.length === 0) return;
    this.#held = [];
    const ids = held.map(({ entry }) => entry.id);
    try {
      for (const tuneId of new Set(held.map(({ entry }) => entry.tuneId))) {
        const own = held.filter(({ entry }) => entry.tuneId === tuneId);
        await intoTune(tuneId, own, dispatch);
      }
      dispatch(entriesStored(ids));
    } finally {
      for (const id of ids) this.#heldIds.delete(id);
      this.#settledAt = Date.now();
    }
    await Promise.all(ids.map(forgetEntry));
  }
}

interface Stored {
  entry: OutboxEntry;
  sent: Sent & { kind: 'stored' };
}

/** Ticks that were made meanwhile build on the ones that are stored now. */
async function rebase(stored: OutboxEntry & { kind: 'mark' }, version: number, { getState, dispatch }: Store): Promise<void> {
  const later = outboxSelectors
    .selectAll(getState().outbox)
    .flatMap((each) => (each.kind === 'mark' && followsOn(each, stored) ? [{ ...each, body: { ...each.body, version } }] : []));
  if (later.length === 0) return;
  dispatch(entriesFound(later));
  await Promise.allSettled(later.map(keepEntry));
}

const followsOn = (later: OutboxEntry & { kind: 'mark' }, mark: OutboxEntry & { kind: 'mark' }): boolean =>
  later.tuneId === mark.tuneId && later.stepId === mark.stepId && (later.queuedAt ?? 0) > (mark.queuedAt ?? 0);

/** A server that has no room for a large capture lets it wait: its place is asked for by and by. */
const ASK_PLACE_MS = 3000;

async function asking<T>(entry: OutboxEntry, dispatch: Store['dispatch'], send: () => Promise<T>): Promise<T> {
  if (entry.kind !== 'trace') return send();
  const timer = setInterval(() => {
    void placeOf(entry).then((before) => dispatch(placeSeen(before)));
  }, ASK_PLACE_MS);
  try {
    return await send();
  } finally {
    clearInterval(timer);
    dispatch(placeSeen(undefined));
  }
}

/** Two pages of one browser hold the same queue: an entry is sent by one of them at a time. */
async function alone(id: string, send: () => Promise<Sent>): Promise<Sent> {
  // A page of another machine without encryption has none: two of its windows may send the same twice, which is stored once.
  const locks = typeof navigator === 'undefined' ? undefined : (navigator as Partial<Navigator>).locks;
  if (locks === undefined) return send();
  return locks.request(`yield/${id}`, send);
}

const readTune = async (id: string, dispatch: Store['dispatch']): Promise<TuneDetail | undefined> =>
  (await dispatch(yieldApi.endpoints.readTune.initiate(id, { subscribe: false }))).data;

/**
 * Adds what the server has stored to the tune that is shown.
 *
 * Where the tune is just being fetched, that answer may have been made before the entry was stored: it is waited for first,
 * or the entry would be in neither.
 */
async function intoTune(tuneId: string, stored: readonly Stored[], dispatch: Store['dispatch']): Promise<void> {
  await readTune(tuneId, dispatch);
  dispatch(
    yieldApi.util.updateQueryData('readTune', tuneId, (tune) => {
      for (const each of stored) putStored(tune, each);
    }),
  );
}

function putStored(tune: TuneDetail, { entry, sent }: Stored): void {
  // Nobody changed anything in between: there is nothing to ask for. Otherwise what others did is still to come.
  if (sent.changes === tune.changes + 1) tune.changes = sent.changes;
  switch (entry.kind) {
    case 'reading':
      if (!tune.readings.some(({ id }) => id === entry.id))
        tune.readings.push({ id: entry.id, ...entry.reading, takenAt: sent.takenAt ?? entry.reading.takenAt });
      break;
    case 'trace':
      if (!tune.traces.some(({ id }) => id === entry.id)) tune.traces.push((sent.answer as TraceInfo | undefined) ?? entry.trace);
      break;
    case 'mark':
      putMark(tune, sent.answer as SavedMark);
      break;
    case 'edit':
      if (entry.of === 'chain') putChain(tune, sent.answer as TuneDetail['chain']);
      else putHead(tune, sent.answer as TuneHeadAndSettings);
      break;
    case 'void':
      for (const each of entry.of === 'reading' ? tune.readings : tune.traces) {
        if (each.id !== entry.targetId) continue;
        if (entry.reason === null) delete each.voidedReason;
        else each.voidedReason ??= entry.reason;
      }
  }
}
