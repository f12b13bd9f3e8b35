import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

/** How the simulated bench stands: one gain knob for each channel. */
interface BenchState {
  open: boolean;
  /** `tune/channel` → 0 … 1 */
  knobs: Record<string, number>;
}

const CLOSED: BenchState = { open: false, knobs: {} };

export const benchSlice = createSlice({
  name: 'bench',
  initialState: CLOSED,
  reducers: {
    benchToggled: (state) => {
      state.open = !state.open;
    },
    knobTurned: (state, { payload: { key, position } }: PayloadAction<{ key: string; position: number }>) => {
      state.knobs[key] = position;
    },
  },
});

export const { benchToggled, knobTurned } = benchSlice.actions;
