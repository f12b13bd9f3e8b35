/** A sweep as it was played: logarithmic, at full scale, with the fade of the tone set. */
export interface SweepSpec {
  fromHertz: number;
  toHertz: number;
  seconds: number;
}

/** The two sweeps of the tone set: the long one for a quiet place, the short one for a hurried look. */
export const LONG_SWEEP: SweepSpec = { fromHertz: 20, toHertz: 20_000, seconds: 10 };
export const SHORT_SWEEP: SweepSpec = { fromHertz: 20, toHertz: 20_000, seconds: 5 };

/** Fade of the sweeps in the tone set, at both ends. */
export const SWEEP_FADE_SECOND = 0.05;
