import { LOAD_SLACK, type HookupMode } from './hookup.ts';

export interface PowerRating {
  mode: HookupMode;
  loadOhm: number;
  powerWatt: number;
}

/** rated: the plate names this load; estimated: same voltage as at the next lower load that it names */
export type AmplifierPower = { kind: 'rated' | 'estimated'; powerWatt: number } | { kind: 'unknown' };

/**
 * What an amplifier makes into a load, from its rating plate.
 *
 * Into a load that the plate does not name, it is taken to hold the voltage of the next lower load that it does name
 * (V² / R falls as R rises). Below the lowest named load nothing is assumed.
 */
export function amplifierPower(ratings: readonly PowerRating[], mode: HookupMode, loadOhm: number): AmplifierPower {
  const own = ratings.filter((rating) => rating.mode === mode).sort((a, b) => a.loadOhm - b.loadOhm);
  const exact = own.find((rating) => Math.abs(rating.loadOhm / loadOhm - 1) < LOAD_SLACK);
  if (exact !== undefined) return { kind: 'rated', powerWatt: exact.powerWatt };
  const lower = own.findLast((rating) => rating.loadOhm < loadOhm);
  return lower === undefined ? { kind: 'unknown' } : { kind: 'estimated', powerWatt: (lower.powerWatt * lower.loadOhm) / loadOhm };
}
