import { createEntityAdapter, createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { NewReading, TraceInfo, TraceUpload } from '@yield/contract';

interface Waiting {
  id: string;
  tuneId: string;
  /** why the server refused it for good; such an entry waits for the tuner's decision */
  refused?: string;
}

/** A reading or a capture that this browser holds until the server has stored it. Its id is made here, so sending it twice stores it once. */
export type OutboxEntry =
  | (Waiting & { kind: 'reading'; reading: NewReading })
  | (Waiting & { kind: 'trace'; trace: TraceInfo; upload: TraceUpload; contentType: string });

const adapter = createEntityAdapter<OutboxEntry>();

const BEFORE_CONTACT: { connection: 'unknown' | 'up' | 'down' } = { connection: 'unknown' };

export const outboxSlice = createSlice({
  name: 'outbox',
  initialState: adapter.getInitialState(BEFORE_CONTACT),
  reducers: {
    /** what an earlier visit left behind */
    entriesFound: adapter.upsertMany,
    entryAdded: adapter.addOne,
    entryStored: adapter.removeOne,
    entryDropped: adapter.removeOne,
    entryRefused: (state, { payload: { id, reason } }: PayloadAction<{ id: string; reason: string }>) => {
      const entry = state.entities[id];
      if (entry !== undefined) entry.refused = reason;
    },
    connectionSeen: (state, { payload }: PayloadAction<'up' | 'down'>) => {
      state.connection = payload;
    },
  },
});

export const { entriesFound, entryAdded, entryStored, entryDropped, entryRefused, connectionSeen } = outboxSlice.actions;
export const outboxSelectors = adapter.getSelectors();
