import { levelAt, octavePoints, type LevelCurve } from './curve.ts';

/** A narrow dip where two paths cancel: what an equaliser adds there is cancelled too. */
export interface Null {
  fromHz: number;
  toHz: number;
  bottomHz: number;
}

const SHOULDER_OCTAVES = 1 / 6;
const DEPTH_DB = 6;
const POINTS_PER_OCTAVE = 96;

/**
 * The nulls of a response within a range: dips whose bottom lies more than 6 dB below the response a sixth of an octave to either side.
 * A null reaches from shoulder to shoulder, within the range.
 */
export function nullsOf(response: LevelCurve, fromHz: number, toHz: number): Null[] {
  const [first, last] = [response.frequenciesHz[0]!, response.frequenciesHz.at(-1)!];
  const frequencies = [
    ...new Set([
      ...octavePoints(fromHz, toHz, POINTS_PER_OCTAVE),
      ...response.frequenciesHz.filter((hertz) => hertz >= fromHz && hertz <= toHz),
    ]),
  ].sort((a, b) => a - b);
  const levels = frequencies.map((hertz) => levelAt(response, hertz));
  const nulls: Null[] = [];
  frequencies.forEach((hertz, i) => {
    const level = levels[i]!;
    const isBottom = level <= (levels[i - 1] ?? Infinity) && level <= (levels[i + 1] ?? Infinity);
    const [below, above] = [hertz / 2 ** SHOULDER_OCTAVES, hertz * 2 ** SHOULDER_OCTAVES];
    if (!isBottom || below < first || above > last) return;
    const shoulder = Math.min(levelAt(response, below), levelAt(response, above));
    if (!(shoulder - level > DEPTH_DB)) return;
    const found = { fromHz: below, toHz: above, bottomHz: hertz };
    const previous = nulls.at(-1);
    // Two bottoms side by side are one null; the deeper one is its bottom.
    if (previous !== undefined && previous.toHz >= hertz) {
      if (level < levelAt(response, previous.bottomHz)) nulls[nulls.length - 1] = found;
    } else nulls.push(found);
  });
  return nulls.map((found) => ({ ...found, fromHz: Math.max(fromHz, found.fromHz), toHz: Math.min(toHz, found.toHz) }));
}
