import type { Fault } from '../coreError.ts';

/** A response as points: between them it runs straight in dB over log frequency, outside of them it says nothing. */
export interface LevelCurve {
  /** rising, two or more */
  frequenciesHz: readonly number[];
  levelDb: readonly number[];
}

/** What is wrong with a curve, by pointer. */
export function curveFaults({ frequenciesHz, levelDb }: LevelCurve, pointer: string): Fault[] {
  if (frequenciesHz.length < 2) return [{ pointer: `${pointer}/frequenciesHz`, message: 'a curve has two points or more' }];
  if (frequenciesHz.length !== levelDb.length)
    return [
      { pointer: `${pointer}/levelDb`, message: `${frequenciesHz.length} frequencies and ${levelDb.length} levels: one level for each` },
    ];
  const at = frequenciesHz.findIndex((hertz, i) => !(hertz > (frequenciesHz[i - 1] ?? 0)));
  if (at !== -1) return [{ pointer: `${pointer}/frequenciesHz/${at}`, message: 'frequencies must rise, from above 0 Hz' }];
  const level = levelDb.findIndex((db) => !Number.isFinite(db));
  return level === -1 ? [] : [{ pointer: `${pointer}/levelDb/${level}`, message: 'level must be a number' }];
}

/** A frequency that only rounding puts outside of a curve lies on its end. */
export const EDGE = 1e-9;

/** Level of a curve at a frequency within it. */
export function levelAt({ frequenciesHz, levelDb }: LevelCurve, hertz: number): number {
  const k = segmentAt(frequenciesHz, hertz);
  const [low, high] = [frequenciesHz[k]!, frequenciesHz[k + 1]!];
  const share = Math.max(0, Math.min(1, Math.log(hertz / low) / Math.log(high / low)));
  return levelDb[k]! + share * (levelDb[k + 1]! - levelDb[k]!);
}

/** What points say at a frequency, straight in dB over log frequency between them and level beyond their ends; 0 where there are none. */
export function pointsLevelDb(points: readonly { hertz: number; db: number }[] | undefined, hertz: number): number {
  if (points === undefined || points.length === 0) return 0;
  let below: (typeof points)[number] | undefined;
  let above: (typeof points)[number] | undefined;
  for (const point of points) {
    if (point.hertz <= hertz && (below === undefined || point.hertz > below.hertz)) below = point;
    if (point.hertz >= hertz && (above === undefined || point.hertz < above.hertz)) above = point;
  }
  if (below === undefined || above === undefined) return (below ?? above)!.db;
  if (below.hertz === above.hertz) return below.db;
  return below.db + ((above.db - below.db) * Math.log(hertz / below.hertz)) / Math.log(above.hertz / below.hertz);
}

/** The segment that a frequency lies in, by bisection. */
function segmentAt(frequenciesHz: readonly number[], hertz: number): number {
  let [low, high] = [0, frequenciesHz.length - 1];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (frequenciesHz[middle]! <= hertz) low = middle;
    else high = middle;
  }
  return low;
}

/** The power of a stretch over log frequency that runs straight in dB, integrated: from level a to level b over a width. */
function powerOver(fromDb: number, toDb: number, width: number): number {
  const [from, to] = [10 ** (fromDb / 10), 10 ** (toDb / 10)];
  const slope = (Math.LN10 / 10) * (toDb - fromDb);
  return Math.abs(slope) < 1e-6 ? (width * (from + to)) / 2 : (width * (to - from)) / slope;
}

/**
 * Mean power over a fraction of an octave centred on a frequency, flat in log frequency and cut at the ends of the curve, as a level.
 *
 * Exact for a curve that runs straight in dB: no grid is laid over it.
 */
export function smoothedLevels(curve: LevelCurve, fraction: number): (hertz: number) => number {
  if (fraction === 0) return (hertz) => levelAt(curve, hertz);
  const { frequenciesHz, levelDb } = curve;
  const logs = frequenciesHz.map(Math.log2);
  const upTo = [0];
  for (let i = 1; i < logs.length; i += 1) upTo.push(upTo[i - 1]! + powerOver(levelDb[i - 1]!, levelDb[i]!, logs[i]! - logs[i - 1]!));
  const integral = (log: number): number => {
    const k = segmentAt(logs, log);
    const width = log - logs[k]!;
    if (width <= 0) return upTo[k]!;
    const share = width / (logs[k + 1]! - logs[k]!);
    return upTo[k]! + powerOver(levelDb[k]!, levelDb[k]! + share * (levelDb[k + 1]! - levelDb[k]!), width);
  };
  return (hertz) => {
    const centre = Math.log2(hertz);
    const [low, high] = [Math.max(logs[0]!, centre - 0.5 / fraction), Math.min(logs.at(-1)!, centre + 0.5 / fraction)];
    return high <= low ? levelAt(curve, hertz) : 10 * Math.log10((integral(high) - integral(low)) / (high - low));
  };
}

/** Points an even number to the octave, none above the end; rounding forgiven. */
export function octavePoints(fromHz: number, toHz: number, pointsPerOctave: number): number[] {
  const count = Math.floor(pointsPerOctave * Math.log2(toHz / fromHz) + EDGE) + 1;
  return Array.from({ length: count }, (_, k) => fromHz * 2 ** (k / pointsPerOctave));
}
