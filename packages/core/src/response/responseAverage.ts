import { CoreError, type Fault } from '../coreError.ts';
import { curveFaults, EDGE, octavePoints, smoothedLevels, type LevelCurve } from './curve.ts';

export interface ResponseAverageInput {
  /** one for each position of the microphone */
  curves: readonly (LevelCurve & { weight?: number })[];
  /** powers are averaged, or decibels; powers where nothing is said */
  method?: 'power' | 'decibel';
  /** over 1/n of an octave; 0 or nothing: none */
  smoothing?: number;
  fromHz: number;
  toHz: number;
  /** 48 where nothing is said */
  pointsPerOctave?: number;
}

export interface ResponseAverage {
  frequenciesHz: number[];
  levelDb: number[];
  /** highest less lowest curve, each smoothed alike; weights say nothing here */
  spreadDb: number[];
}

const USUAL_POINTS = 48;

/**
 * Several positions of the microphone as one curve, and how far they lie apart.
 *
 * Smoothing comes first and is the mean of the power, whichever way is averaged.
 *
 * @throws {CoreError} `INPUT_INVALID` for curves that do not rise, and for points that not every curve reaches
 */
export function responseAverage(input: ResponseAverageInput): ResponseAverage {
  const { curves, method = 'power', smoothing = 0, fromHz, toHz, pointsPerOctave = USUAL_POINTS } = input;
  const faults: Fault[] = curves.flatMap((curve, i) => [
    ...curveFaults(curve, `/curves/${i}`),
    ...(curve.weight === undefined || curve.weight > 0 ? [] : [{ pointer: `/curves/${i}/weight`, message: 'weight must be above 0' }]),
  ]);
  if (curves.length === 0) faults.push({ pointer: '/curves', message: 'give one curve or more' });
  if (!(fromHz > 0)) faults.push({ pointer: '/fromHz', message: 'the range must begin above 0 Hz' });
  if (!(toHz > fromHz)) faults.push({ pointer: '/toHz', message: 'the range must end above its beginning' });
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);

  const frequenciesHz = octavePoints(fromHz, toHz, pointsPerOctave);
  const begin = Math.max(...curves.map((curve) => curve.frequenciesHz[0]!));
  const end = Math.min(...curves.map((curve) => curve.frequenciesHz.at(-1)!));
  if (fromHz < begin * (1 - EDGE))
    faults.push({ pointer: '/fromHz', message: `not every curve reaches down to ${fromHz} Hz: the last one begins at ${begin} Hz` });
  if (frequenciesHz.at(-1)! > end * (1 + EDGE))
    faults.push({ pointer: '/toHz', message: `not every curve reaches up to ${toHz} Hz: the first one ends at ${end} Hz` });
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);

  const at = curves.map((curve) => smoothedLevels(curve, smoothing));
  const weights = curves.map(({ weight = 1 }) => weight);
  const whole = weights.reduce((sum, weight) => sum + weight, 0);
  const mean = (values: readonly number[]): number => values.reduce((sum, value, i) => sum + value * weights[i]!, 0) / whole;
  const points = frequenciesHz.map((hertz) => {
    const levels = at.map((level) => level(hertz));
    const levelDb = method === 'decibel' ? mean(levels) : 10 * Math.log10(mean(levels.map((db) => 10 ** (db / 10))));
    return { levelDb, spreadDb: Math.max(...levels) - Math.min(...levels) };
  });
  return { frequenciesHz, levelDb: points.map(({ levelDb }) => levelDb), spreadDb: points.map(({ spreadDb }) => spreadDb) };
}
