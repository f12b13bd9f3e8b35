import { levelAt } from '../../../response/curve.ts';
import type { FrequencyRange, PlaceCurve } from './curves.ts';

/** What a place's sweep has under it within a range. */
export interface PlaceQuality {
  place: string;
  /** how far the noise stays under what was heard, where it comes nearest */
  nearestNoise?: { hertz: number; underDb: number };
  /** thirds of an octave where noise comes so near that the level is partly its own */
  drowned: number[];
  mostDistortion?: { hertz: number; percent: number };
  driftPpm: number;
}

/** Noise that lies so far under adds a decibel to the level that is read: 10 log(1 + 10^-0.6). */
const DROWNED_DB = 6;

export function placeQuality(curve: PlaceCurve, { fromHz, toHz }: FrequencyRange): PlaceQuality | undefined {
  const { place, beside, frequenciesHz } = curve;
  if (beside === undefined) return undefined;
  const [from, to] = [Math.max(fromHz, frequenciesHz[0]!), Math.min(toHz, frequenciesHz.at(-1)!)];
  const isIn = (hertz: number): boolean => hertz >= from && hertz <= to;
  const unders = beside.noise.frequenciesHz.flatMap((hertz, k) =>
    isIn(hertz) ? [{ hertz, underDb: levelAt(curve, hertz) - beside.noise.levelDb[k]! }] : [],
  );
  const nearestNoise = unders.reduce<(typeof unders)[number] | undefined>(
    (least, each) => (least === undefined || each.underDb < least.underDb ? each : least),
    undefined,
  );
  const mostDistortion = beside.distortion
    .filter(({ hertz }) => isIn(hertz))
    .reduce<{ hertz: number; percent: number } | undefined>(
      (most, each) => (most === undefined || each.percent > most.percent ? each : most),
      undefined,
    );
  return {
    place,
    ...(nearestNoise === undefined ? {} : { nearestNoise }),
    drowned: unders.filter(({ underDb }) => underDb < DROWNED_DB).map(({ hertz }) => hertz),
    ...(mostDistortion === undefined ? {} : { mostDistortion }),
    driftPpm: beside.driftPpm,
  };
}
