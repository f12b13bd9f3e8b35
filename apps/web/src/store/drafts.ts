import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

const NOTHING: Record<string, string> = {};

/** What was typed and not yet entered, by the field's own key. Survives a reload. */
export const draftsSlice = createSlice({
  name: 'drafts',
  initialState: NOTHING,
  reducers: {
    draftTyped: (state, { payload: { key, text } }: PayloadAction<{ key: string; text: string }>) => {
      state[key] = text;
    },
    draftDone: (state, { payload }: PayloadAction<string>) => Object.fromEntries(Object.entries(state).filter(([key]) => key !== payload)),
  },
});

export const { draftTyped, draftDone } = draftsSlice.actions;
