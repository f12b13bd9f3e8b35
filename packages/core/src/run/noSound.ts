import type { Chain } from '../job/chain.ts';

/** Places on the way of the signal where it can be looked for, from the source to the driver. */
export const PLACES = ['source', 'processor-in', 'processor-out', 'amplifier-in', 'amplifier-out', 'coil'] as const;
export type Place = (typeof PLACES)[number];

/** What was found at a place: something there, or nothing. */
export type Answers = Readonly<Partial<Record<Place, boolean>>>;

export interface Search {
  /** where to look next: halves what is left; undefined once the place is found */
  next?: Place;
  /** the first place without a signal and the last one with it; neither where it is there all the way */
  lost?: { before?: Place; at?: Place };
  /** nothing at the first, and something further along at the second */
  contradiction?: { nothing: Place; something: Place };
}

/** The places that a chain has, from the source to a driver's coil. */
export const placesOf = ({ processor }: Chain): Place[] =>
  PLACES.filter((place) => processor !== undefined || (place !== 'processor-in' && place !== 'processor-out'));

/** Where a signal is lost, by what was found so far. */
export function searchSound(places: readonly Place[], answers: Answers): Search {
  const lastYes = places.findLastIndex((place) => answers[place] === true);
  const firstNo = places.findIndex((place) => answers[place] === false);
  if (firstNo !== -1 && lastYes > firstNo) {
    const [nothing, something] = [places[firstNo]!, places[lastYes]!];
    return { next: nothing, contradiction: { nothing, something } };
  }
  const [low, high] = [lastYes + 1, firstNo === -1 ? places.length : firstNo];
  if (low < high) return { next: places[Math.floor((low + high - 1) / 2)]! };
  const before = places[lastYes];
  const at = places[firstNo];
  return { lost: { ...(before === undefined ? {} : { before }), ...(at === undefined ? {} : { at }) } };
}
