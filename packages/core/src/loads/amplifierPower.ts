import { ratingAt } from '../gain/powerLimit.ts';
import type { HookupMode } from './hookup.ts';

export interface PowerRating {
  mode: HookupMode;
  loadOhm: number;
  powerWatt: number;
}

/** rated: the plate names this load; estimated: it follows from the loads that it names */
export type AmplifierPower = { kind: 'rated' | 'estimated'; powerWatt: number } | { kind: 'unknown' };

/**
 * What an amplifier makes into a load, from its rating plate: between two loads that it names as a source with an output resistance
 * would, above the highest with the same voltage. Below the lowest named load nothing is assumed.
 */
export function amplifierPower(ratings: readonly PowerRating[], mode: HookupMode, loadOhm: number): AmplifierPower {
  const rating = ratingAt(
    ratings.filter((each) => each.mode === mode),
    loadOhm,
  );
  if (rating === undefined) return { kind: 'unknown' };
  return { kind: rating.basis === 'rated' ? 'rated' : 'estimated', powerWatt: rating.powerWatt };
}
