import { levelAt, octavePoints, type LevelCurve } from '../../../response/curve.ts';

/** A stretch of a response that stands out of what was wanted. */
export interface ResponseFeature {
  kind: 'hump' | 'dip';
  /** where it stands out most, and by how much; below 0 for a dip */
  hertz: number;
  offDb: number;
  fromHz: number;
  toHz: number;
  /** between the places, there */
  spreadDb: number;
}

const STANDS_OUT_DB = 3;
/** What is even lies within so much, from its highest to its lowest. */
export const EVEN_WITHIN_DB = 3;
/** A shorter stretch than this is a crossing, not a band. */
const MIN_OCTAVES = 0.5;
const POINTS_PER_OCTAVE = 12;

/** Humps and dips of an average against its target, the largest first. */
export function responseFeatures(
  average: LevelCurve & { spreadDb: readonly number[] },
  target: LevelCurve,
  { fromHz, toHz }: { fromHz: number; toHz: number },
): ResponseFeature[] {
  const points = octavePoints(fromHz, toHz, POINTS_PER_OCTAVE).filter(
    (hertz) => hertz >= average.frequenciesHz[0]! && hertz <= average.frequenciesHz.at(-1)!,
  );
  const off = points.map((hertz) => levelAt(average, hertz) - levelAt(target, hertz));
  const spread: LevelCurve = { frequenciesHz: average.frequenciesHz, levelDb: [...average.spreadDb] };
  const found: ResponseFeature[] = [];
  for (let begin = 0; begin < points.length;) {
    const sign = Math.sign(off[begin]!);
    let end = begin;
    while (end + 1 < points.length && Math.sign(off[end + 1]!) === sign) end += 1;
    let most = begin;
    for (let k = begin; k <= end; k += 1) if (Math.abs(off[k]!) > Math.abs(off[most]!)) most = k;
    if (Math.abs(off[most]!) >= STANDS_OUT_DB) {
      found.push({
        kind: sign > 0 ? 'hump' : 'dip',
        hertz: points[most]!,
        offDb: off[most]!,
        fromHz: points[begin]!,
        toHz: points[end]!,
        spreadDb: levelAt(spread, points[most]!),
      });
    }
    begin = end + 1;
  }
  return found.sort((a, b) => Math.abs(b.offDb) - Math.abs(a.offDb));
}

/** The widest band in which a response keeps its distance from what is wanted; undefined where there is none worth naming. */
export function evenStretch(
  average: LevelCurve,
  target: LevelCurve,
  { fromHz, toHz }: { fromHz: number; toHz: number },
): { fromHz: number; toHz: number } | undefined {
  const points = octavePoints(fromHz, toHz, POINTS_PER_OCTAVE).filter(
    (hertz) => hertz >= average.frequenciesHz[0]! && hertz <= average.frequenciesHz.at(-1)!,
  );
  const off = points.map((hertz) => levelAt(average, hertz) - levelAt(target, hertz));
  let best = { begin: 0, end: 0 };
  for (let begin = 0; begin < points.length; begin += 1) {
    let [low, high] = [off[begin]!, off[begin]!];
    let end = begin;
    for (; end + 1 < points.length; end += 1) {
      [low, high] = [Math.min(low, off[end + 1]!), Math.max(high, off[end + 1]!)];
      if (high - low > EVEN_WITHIN_DB) break;
    }
    if (end - begin > best.end - best.begin) best = { begin, end };
  }
  return best.end - best.begin < MIN_OCTAVES * POINTS_PER_OCTAVE ? undefined : { fromHz: points[best.begin]!, toHz: points[best.end]! };
}
