import { CoreError, type Fault } from '../coreError.ts';
import { curveFaults, EDGE, levelAt, octavePoints, type LevelCurve } from './curve.ts';
import type { EqualiserFilter } from './equaliserResponse.ts';
import type { GraphicEqualiser, ParametricEqualiser } from './equalisers.ts';
import { bestPeaks } from './fitPeaks.ts';
import { nullsOf, type Null } from './nulls.ts';
import { peakGrid, peakSum } from './peakLevels.ts';

export interface EqualiserFitInput {
  response: LevelCurve;
  /** left out: level, at the response's own mean */
  target?: LevelCurve;
  /** lays the target so much above the response’s own mean; below 0 more is cut and less is lifted */
  levelDb?: number;
  fromHz: number;
  toHz: number;
  equaliser: ParametricEqualiser | GraphicEqualiser;
  /** hold for each filter, and for all of them together at every frequency */
  maxBoostDb?: number;
  maxCutDb?: number;
  gainStepDb?: number;
  sampleRateHz?: number;
}

/** A stretch of the response that stays as it is, and why. */
export interface LeftStretch {
  fromHz: number;
  toHz: number;
  reason: 'null' | 'limit' | 'outside';
}

export interface EqualiserFit {
  filters: (EqualiserFilter & { kind: 'peak' })[];
  /** response, offset and filters together, at the response's frequencies */
  correctedDb: number[];
  /** what was added to the response to lay it on the target */
  offsetDb: number;
  /** RMS of the difference over the range, flat in log frequency */
  beforeDb: number;
  afterDb: number;
  left: LeftStretch[];
}

const USUAL = { maxBoostDb: 3, maxCutDb: 12, gainStepDb: 0.1, sampleRateHz: 48_000, minQ: 0.5, maxQ: 10 };
const DENSE_PER_OCTAVE = 192;
/** A stretch that stays further off the target than this is named. */
const LEFT_DB = 2;

/**
 * Filters that bring a response to a target, with the fewest decibels left over within the equaliser's limits.
 *
 * Nulls are neither filled nor counted: what is added there is cancelled too. All bands move together, from several starts.
 *
 * @throws {CoreError} `INPUT_INVALID` for curves that do not reach over the range, limits that cross, steps that leave no value
 */
export function equaliserFit(input: EqualiserFitInput): EqualiserFit {
  const { response, target, fromHz, toHz, equaliser, levelDb = 0 } = input;
  const limits = { ...USUAL, ...input };
  const { sampleRateHz } = limits;
  const faults = equaliserFitFaults(input);
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);
  const points = densePoints([response, ...(target === undefined ? [] : [target])], fromHz, toHz);
  const own = points.map((hertz) => levelAt(response, hertz));
  const level = meanOver(points, own);
  const wanted = points.map((hertz) => (target === undefined ? level : levelAt(target, hertz)));
  const offsetDb =
    target === undefined
      ? 0
      : meanOver(
          points,
          own.map((db, i) => wanted[i]! - db),
        );
  const difference = own.map((db, i) => db + offsetDb - levelDb - wanted[i]!);
  const nulls = nullsOf(response, fromHz, toHz);
  const filters = bestPeaks({ points, difference, nulls, fromHz, toHz, equaliser, limits });
  const sums = peakSum(filters, peakGrid(points, sampleRateHz), sampleRateHz);
  const after = difference.map((db, i) => db + sums[i]!);
  const everywhere = peakSum(filters, peakGrid(response.frequenciesHz, sampleRateHz), sampleRateHz);
  return {
    filters: filters.map((filter) => ({ kind: 'peak', ...filter })),
    correctedDb: response.levelDb.map((level, i) => level + offsetDb + everywhere[i]!),
    offsetDb,
    beforeDb: rmsOver(points, difference),
    afterDb: rmsOver(points, after),
    left: leftOf(response, points, after, nulls),
  };
}

/** Every point at which one of the curves bends, and a dense row between: what lies between two of them runs straight. */
function densePoints(curves: readonly LevelCurve[], fromHz: number, toHz: number): number[] {
  const bends = curves.flatMap(({ frequenciesHz }) => frequenciesHz.filter((hertz) => hertz > fromHz && hertz < toHz));
  return [...new Set([...octavePoints(fromHz, toHz, DENSE_PER_OCTAVE), ...bends, toHz])].sort((a, b) => a - b);
}

/** Mean flat in log frequency of what runs straight between points. */
function meanOver(points: readonly number[], values: readonly number[]): number {
  let [sum, width] = [0, 0];
  for (let i = 1; i < points.length; i += 1) {
    const octaves = Math.log2(points[i]! / points[i - 1]!);
    sum += (octaves * (values[i]! + values[i - 1]!)) / 2;
    width += octaves;
  }
  return sum / width;
}
const rmsOver = (points: readonly number[], values: readonly number[]): number =>
  Math.sqrt(
    meanOver(
      points,
      values.map((value) => value ** 2),
    ),
  );

function leftOf(response: LevelCurve, points: readonly number[], after: readonly number[], nulls: readonly Null[]): LeftStretch[] {
  const [fromHz, toHz] = [points[0]!, points.at(-1)!];
  const [first, last] = [response.frequenciesHz[0]!, response.frequenciesHz.at(-1)!];
  const limits: LeftStretch[] = [];
  let isOpen = false;
  points.forEach((hertz, i) => {
    const isOff = Math.abs(after[i]!) > LEFT_DB && !nulls.some((dip) => hertz >= dip.fromHz && hertz <= dip.toHz);
    if (isOff && isOpen) limits.at(-1)!.toHz = hertz;
    else if (isOff) limits.push({ fromHz: hertz, toHz: hertz, reason: 'limit' });
    isOpen = isOff;
  });
  return [
    ...(fromHz > first * (1 + EDGE) ? [{ fromHz: first, toHz: fromHz, reason: 'outside' as const }] : []),
    ...[...nulls.map((dip) => ({ fromHz: dip.fromHz, toHz: dip.toHz, reason: 'null' as const })), ...limits].sort(
      (a, b) => a.fromHz - b.fromHz,
    ),
    ...(last > toHz * (1 + EDGE) ? [{ fromHz: toHz, toHz: last, reason: 'outside' as const }] : []),
  ];
}

/** Everything that is wrong with it, each at its place; none where it can be fitted. */
export function equaliserFitFaults(input: EqualiserFitInput): Fault[] {
  const { response, target, fromHz, toHz, equaliser } = input;
  const { maxBoostDb, maxCutDb, gainStepDb, sampleRateHz } = { ...USUAL, ...input };
  const shape = [...curveFaults(response, '/response'), ...(target === undefined ? [] : curveFaults(target, '/target'))];
  const faults: Fault[] = [...shape];
  const say = (pointer: string, message: string): void => void faults.push({ pointer, message });
  if (!(sampleRateHz > 0)) say('/sampleRateHz', 'sample rate must be above 0 Hz');
  if (!(fromHz > 0)) say('/fromHz', 'the range must begin above 0 Hz');
  if (!(toHz > fromHz)) say('/toHz', 'the range must end above its beginning');
  if (!(maxBoostDb >= 0)) say('/maxBoostDb', 'the most boost must be 0 dB or more');
  if (!(maxCutDb >= 0)) say('/maxCutDb', 'the most cut must be 0 dB or more');
  if (!(gainStepDb > 0)) say('/gainStepDb', 'the step of the gains must be above 0 dB');
  const half = `half the sample rate, ${sampleRateHz / 2} Hz`;
  if (shape.length === 0) {
    for (const [curve, name] of [
      [response, 'response'],
      [target, 'target'],
    ] as const) {
      if (curve === undefined) continue;
      const high = curve.frequenciesHz.findIndex((hertz) => hertz >= sampleRateHz / 2);
      if (high !== -1) say(`/${name}/frequenciesHz/${high}`, `frequencies must lie below ${half}`);
      if (fromHz > 0 && fromHz < curve.frequenciesHz[0]! * (1 - EDGE)) say('/fromHz', `the ${name} begins at ${curve.frequenciesHz[0]} Hz`);
      if (toHz > curve.frequenciesHz.at(-1)! * (1 + EDGE)) say('/toHz', `the ${name} ends at ${curve.frequenciesHz.at(-1)} Hz`);
    }
  }
  if (toHz >= sampleRateHz / 2) say('/toHz', `the range must end below ${half}`);
  faults.push(...(equaliser.kind === 'graphic' ? graphicFaults(equaliser, sampleRateHz) : parametricFaults(equaliser, fromHz, toHz)));
  return faults;
}

function graphicFaults({ centresHz, q }: GraphicEqualiser, sampleRateHz: number): Fault[] {
  const faults: Fault[] = centresHz.length > 0 ? [] : [{ pointer: '/equaliser/centresHz', message: 'an equaliser has one centre or more' }];
  centresHz.forEach((hertz, i) => {
    const pointer = `/equaliser/centresHz/${i}`;
    if (!(hertz > 0 && hertz < sampleRateHz / 2))
      faults.push({ pointer, message: 'a centre must lie above 0 and below half the sample rate' });
    else if (centresHz.indexOf(hertz) !== i) faults.push({ pointer, message: `${hertz} Hz is named twice` });
  });
  return q > 0 ? faults : [...faults, { pointer: '/equaliser/q', message: 'Q must be above 0' }];
}

function parametricFaults(
  { bands, minQ = USUAL.minQ, maxQ = USUAL.maxQ, frequencyStepHz, qStep }: ParametricEqualiser,
  fromHz: number,
  toHz: number,
): Fault[] {
  const faults: Fault[] = [];
  const say = (pointer: string, message: string): void => void faults.push({ pointer: `/equaliser/${pointer}`, message });
  if (!(Number.isInteger(bands) && bands >= 1 && bands <= 32)) say('bands', 'an equaliser has 1 to 32 bands');
  if (!(minQ > 0)) say('minQ', 'Q must be above 0');
  if (!(maxQ >= minQ)) say('minQ', 'the lowest Q must not lie above the highest');
  if (frequencyStepHz !== undefined) {
    if (!(frequencyStepHz > 0)) say('frequencyStepHz', 'the step of the frequencies must be above 0 Hz');
    else if (toHz > fromHz && !holdsMultiple(fromHz, toHz, frequencyStepHz))
      say('frequencyStepHz', 'no multiple of this step lies in the range');
  }
  if (qStep !== undefined) {
    if (!(qStep > 0)) say('qStep', 'the step of the Qs must be above 0');
    else if (maxQ >= minQ && !holdsMultiple(minQ, maxQ, qStep))
      say('qStep', 'no multiple of this step lies between the lowest and the highest Q');
  }
  return faults;
}

const holdsMultiple = (low: number, high: number, step: number): boolean => Math.floor(high / step + EDGE) >= Math.ceil(low / step - EDGE);
