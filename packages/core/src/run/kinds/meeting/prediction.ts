import { degreesOf } from '../../../numerics/complex.ts';
import { neighbourPhaseDeg, togetherDb, type NeighbourSetting } from '../../../phase/alignNeighbours.ts';
import { groupAt, groupDb } from '../../../ways/driverGroups.ts';
import { provedNow } from '../../frame/channels.ts';
import type { Situation } from '../../frame/situation.ts';
import type { MeetingFigures } from './judge.ts';
import { asWired, type MeetingSubject } from './subject.ts';

/** Two neighbours over frequency, in dB of the sound meter; all of one length. */
export interface MeetingCurves {
  hertz: number[];
  lowerDb: number[];
  upperDb: number[];
  /** as they should add with a setting */
  sumDb: number[];
  /** as they would if they were in phase everywhere */
  inPhaseDb: number[];
}

const POINTS = 121;
const OCTAVES = 2;

/**
 * What two neighbours should make of each other around their crossover: the levels that were measured, carried on by the filters; the
 * phase of the filters, and the way between the two as far as the levels told it.
 *
 * @param setting - the one that is looked at, tried or not
 */
export function meetingCurves(
  step: MeetingSubject,
  now: Situation,
  { tones, alignment }: Pick<MeetingFigures, 'tones' | 'alignment'>,
  setting: NeighbourSetting,
): MeetingCurves {
  const proved = provedNow(now);
  const [lower, upper] = [asWired(step.lower), asWired(step.upper)];
  // Where one was measured at several tones, the cabin is in it: the mean of what the filters do not explain.
  const offset = (name: 'lowerDb' | 'upperDb', group: typeof lower): number => {
    const known = tones.flatMap(({ hertz, [name]: db }) => (db === undefined ? [] : [db - groupDb(group, hertz, proved)]));
    return known.length === 0 ? 0 : known.reduce((sum, db) => sum + db, 0) / known.length;
  };
  const [lowerOffset, upperOffset] = [offset('lowerDb', lower), offset('upperDb', upper)];
  const { laterSecond = 0, isSwapped = false } = alignment ?? {};
  const hertz = Array.from({ length: POINTS }, (_, k) => step.cornerHz * 2 ** (OCTAVES * ((2 * k) / (POINTS - 1) - 1)));
  const lowerDb = hertz.map((each) => lowerOffset + groupDb(lower, each, proved));
  const upperDb = hertz.map((each) => upperOffset + groupDb(upper, each, proved));
  const phases = hertz.map((each) =>
    neighbourPhaseDeg(
      { hertz: each, filterPhaseDeg: degreesOf(groupAt(upper, each, proved)) - degreesOf(groupAt(lower, each, proved)) },
      laterSecond,
      isSwapped,
      setting,
    ),
  );
  return {
    hertz,
    lowerDb,
    upperDb,
    sumDb: hertz.map((_, k) => togetherDb(lowerDb[k]!, upperDb[k]!, phases[k]!)),
    inPhaseDb: hertz.map((_, k) => togetherDb(lowerDb[k]!, upperDb[k]!, 0)),
  };
}
