import { createEntityAdapter, createSlice, type PayloadAction } from '@reduxjs/toolkit';
import { connectionSeen } from '../api/connection.ts';
import type { NewReading, SaveMark, TraceInfo, TraceUpload } from '@yield/contract';
import type { ChainChange, Fault } from '@yield/core';

interface Waiting {
  id: string;
  tuneId: string;
  /** when it was entered, by this browser; entries are sent in this order */
  queuedAt?: number;
  /** why the server refused it for good; such an entry waits for the tuner's decision */
  refused?: string;
  /** what is wrong in it, field by field, where the server said so */
  faults?: readonly Fault[];
}

/** Something entered that this browser holds until the server has stored it. Its id is made here, so sending it twice stores it once. */
export type OutboxEntry =
  | (Waiting & { kind: 'reading'; reading: NewReading })
  | (Waiting & { kind: 'trace'; trace: TraceInfo; upload: TraceUpload; contentType: string })
  /** a step's ticks and whether it is skipped, whole, on the version that was seen */
  /** `earlier`: ticks of the same step that it overtook; the server may hold one of them whose answer was lost */
  | (Waiting & { kind: 'mark'; stepId: string; body: SaveMark; earlier?: readonly SaveMark[] })
  /** fields of the chain, or of name, vehicle and settings, with what was seen there; `hasMet` where another edit of them came first */
  | (Waiting & { kind: 'edit'; of: 'chain' | 'tune'; seen: number; changes: readonly ChainChange[]; hasMet?: true })
  /** voids a reading or a capture; without a reason it counts again */
  | (Waiting & { kind: 'void'; of: 'reading' | 'trace'; targetId: string; reason: string | null });

/** Why the server does not take an entry, whatever is tried. */
export interface Refusal {
  reason: string;
  faults?: readonly Fault[];
  /** another edit of the same field came first */
  hasMet?: boolean;
}

/** In the order in which they were entered; what an older version left behind comes first. */
const adapter = createEntityAdapter<OutboxEntry>({ sortComparer: (a, b) => (a.queuedAt ?? 0) - (b.queuedAt ?? 0) });

interface Contact {
  connection: 'unknown' | 'up' | 'down';
  /** this browser refuses to keep anything: what waits lives as long as the page */
  isVolatile: boolean;
  /** how far this device's clock is ahead of the server's, in ms; 0 where they agree */
  clockAheadMs: number;
  /** how many large captures the server takes in before the one that is being sent; undefined where none waits */
  capturesBefore?: number;
}
const BEFORE_CONTACT: Contact = { connection: 'unknown', isVolatile: false, clockAheadMs: 0 };

export const outboxSlice = createSlice({
  name: 'outbox',
  initialState: adapter.getInitialState(BEFORE_CONTACT),
  reducers: {
    /** what an earlier visit left behind */
    entriesFound: adapter.upsertMany,
    entryAdded: adapter.addOne,
    entriesStored: adapter.removeMany,
    entryDropped: adapter.removeOne,
    entryRefused: (state, { payload: { id, reason, faults, hasMet } }: PayloadAction<Refusal & { id: string }>) => {
      const entry = state.entities[id];
      if (entry === undefined) return;
      entry.refused = reason;
      if (faults !== undefined) entry.faults = [...faults];
      if (entry.kind === 'edit' && hasMet === true) entry.hasMet = true;
    },
    /** it is to be tried once more */
    entryRetried: (state, { payload: id }: PayloadAction<string>) => {
      const entry = state.entities[id];
      if (entry === undefined) return;
      delete entry.refused;
      delete entry.faults;
      if (entry.kind === 'edit') delete entry.hasMet;
    },
    storageRefused: (state) => {
      state.isVolatile = true;
    },
    placeSeen: (state, { payload }: PayloadAction<number | undefined>) => {
      if (payload === undefined) delete state.capturesBefore;
      else state.capturesBefore = payload;
    },
    clockSeen: (state, { payload }: PayloadAction<number>) => {
      state.clockAheadMs = payload;
    },
  },
  extraReducers: (builder) =>
    builder.addCase(connectionSeen, (state, { payload }) => {
      state.connection = payload;
    }),
});

export const { entriesFound, entryAdded, entriesStored, entryDropped, entryRefused, entryRetried, storageRefused, placeSeen, clockSeen } =
  outboxSlice.actions;
export const outboxSelectors = adapter.getSelectors();

const COUNTER = 'yield.place';
let last = 0;

/**
 * The place of a new entry in the queue: a count of this device, later than any before in any of its windows, whatever its clock does.
 *
 * It begins at the time of its first use, since queues of an earlier version have times for places.
 */
export function nextPlace(): number {
  last = Math.max(last, counted() ?? Date.now()) + 1;
  try {
    localStorage.setItem(COUNTER, String(last));
  } catch {
    // It counts on as long as the page lives.
  }
  return last;
}

function counted(): number | undefined {
  try {
    const count = Number(localStorage.getItem(COUNTER) ?? NaN);
    return Number.isSafeInteger(count) ? count : last > 0 ? last : undefined;
  } catch {
    return last > 0 ? last : undefined;
  }
}

/** Entries that an earlier visit left stand before all that is entered from now on. */
export function notePlaces(entries: readonly { queuedAt?: number }[]): void {
  for (const { queuedAt = 0 } of entries) last = Math.max(last, queuedAt);
}
