import { checkNumbers } from '../coreError.ts';

/** How long a dummy load may be driven at a stretch. */
export type DummyHeat =
  | { kind: 'steady' }
  /** seconds on, and seconds off before the next burst */
  | { kind: 'bursts'; burstSecond: number; pauseSecond: number }
  | { kind: 'too-small' };

/** A burst long enough to read a meter, and no longer than voice coils are asked to bear. Common practice, no source. */
const LONGEST_BURST_SECOND = 10;
const SHORTEST_BURST_SECOND = 2;
/** A wire-wound resistor bears ten times its rating for some seconds. From memory of data sheets' short-time overload, no source. */
const MAX_TIMES_RATING = 10;

/**
 * What a resistor's rating leaves of time: over a burst and the pause after it no more than the rating on average.
 *
 * The burst shortens with the overload, from ten seconds at the rating to two at five times and more.
 *
 * @param powerWatt - while the tone plays, 0 or more
 * @param ratedWatt - continuous rating as it is mounted, above 0
 * @throws {CoreError} `INPUT_INVALID`
 */
export function dummyHeat({ powerWatt, ratedWatt }: { powerWatt: number; ratedWatt: number }): DummyHeat {
  checkNumbers(
    { powerWatt, ratedWatt },
    { powerWatt: { name: 'power', unit: 'W', atLeast: 0 }, ratedWatt: { name: 'rating', unit: 'W', above: 0 } },
  );
  const timesRating = powerWatt / ratedWatt;
  if (timesRating <= 1) return { kind: 'steady' };
  if (timesRating > MAX_TIMES_RATING) return { kind: 'too-small' };
  const burstSecond = Math.max(SHORTEST_BURST_SECOND, Math.floor(LONGEST_BURST_SECOND / timesRating));
  return { kind: 'bursts', burstSecond, pauseSecond: Math.ceil(burstSecond * (timesRating - 1)) };
}
