import { voltageRatioDb } from '../levels/decibels.ts';

/** A handheld meter's AC and ohms ranges as its manual states them. */
export interface Meter {
  /** basic accuracy: percent of the reading … */
  percent: number;
  /** … plus this many counts of the last digit shown */
  digits: number;
  /** highest count of its display, 1999 or 5999; 1999 where nothing is said */
  counts?: number;
  /** the smallest step that it shows on AC volts: 0.1 where its lowest range is 200.0 V; 0.001 where nothing is said */
  finestVolt?: number;
  /** highest frequency at which that holds */
  highestHz: number;
  /** lowest one, where the manual names it */
  lowestHz?: number;
  trueRms: boolean;
  /** its leads together, probes touched, on the ohms range */
  leadOhm?: number;
  /** accuracy on the ohms range: percent of the reading, and ohms */
  ohmPercent?: number;
  ohmDigitsOhm?: number;
}

/** Three and a half digits, and millivolts: what a plain handheld meter shows. Common practice, no source. */
export const USUAL_COUNTS = 1999;
export const USUAL_FINEST_VOLT = 0.001;

/**
 * Place value of the last digit that a meter shows of a voltage, on the range that it takes for it: volts.
 *
 * The digits that somebody leaves out when typing are not the meter's.
 *
 * @example meterStep(17.3, { counts: 1999 }) // 0.01, on the range up to 19.99
 */
export function meterStep(
  volt: number,
  { counts = USUAL_COUNTS, finestVolt = USUAL_FINEST_VOLT }: Pick<Meter, 'counts' | 'finestVolt'>,
): number {
  let step = finestVolt;
  // Ranges are ten times apart: the first whose display holds the figure.
  while (Math.abs(volt) > counts * step * (1 + 1e-9)) step *= 10;
  return step;
}

/**
 * How far off a reading may be, in the reading's unit.
 *
 * @param resolution - place value of the last digit shown: 0.1 for "14.2"
 * @see accuracy statement "± (percent of reading + digits)", as in every handheld meter's manual
 * @example meterUncertainty(14.2, 0.1, { percent: 1, digits: 3, highestHz: 1000, trueRms: true }) // 0.442
 */
export function meterUncertainty(value: number, resolution: number, { percent, digits }: Pick<Meter, 'percent' | 'digits'>): number {
  return (Math.abs(value) * percent) / 100 + digits * resolution;
}

export interface GainAdvice {
  /** too-coarse: digits that the meter shows were left out, and without them it cannot be said */
  verdict: 'on-target' | 'up' | 'down' | 'too-coarse';
  /** reading against target, positive where the reading is higher */
  differenceDb: number;
  /** what the meter's accuracy is worth at this reading */
  uncertaintyDb: number;
  /** true where the figures differ by more than the tolerance, but by no more than the meter can tell apart */
  withinMeterOnly: boolean;
}

/**
 * Holds a voltage reading against its target.
 *
 * On target is a difference within the tolerance or within the meter's own accuracy: a smaller one cannot be seen with this meter.
 * A figure typed with fewer digits than the meter shows may stand for anything that rounds to it: it is judged where all of that
 * gets the same verdict, and else asked for again.
 *
 * @param measuredVolt - above 0
 * @param typedStep - place value of the last digit typed: 1 for "17"
 * @param toleranceDb - the house's tolerance
 * @example judgeGain(17, 1, 17.3, 0.2, meter).verdict // 'too-coarse': it may be 16.5 V
 */
export function judgeGain(measuredVolt: number, typedStep: number, targetVolt: number, toleranceDb: number, meter: Meter): GainAdvice {
  const shown = meterStep(measuredVolt, meter);
  const at = (volt: number): GainAdvice => verdictAt(volt, shown, targetVolt, toleranceDb, meter);
  const advice = at(measuredVolt);
  if (typedStep <= shown * (1 + 1e-9)) return advice;
  const ends = [measuredVolt - typedStep / 2, measuredVolt + typedStep / 2];
  const isSure = ends.every((volt) => volt > 0 && at(volt).verdict === advice.verdict);
  return isSure ? advice : { ...advice, verdict: 'too-coarse', withinMeterOnly: false };
}

function verdictAt(measuredVolt: number, shown: number, targetVolt: number, toleranceDb: number, meter: Meter): GainAdvice {
  const differenceDb = voltageRatioDb(measuredVolt, targetVolt);
  const uncertaintyDb = voltageRatioDb(measuredVolt + meterUncertainty(measuredVolt, shown, meter), measuredVolt);
  const distance = Math.abs(differenceDb);
  // One part in a million of slack, so that a reading exactly at the edge is inside whatever the rounding.
  const within = (limit: number): boolean => distance <= limit + 1e-6;
  if (within(Math.max(toleranceDb, uncertaintyDb))) {
    return { verdict: 'on-target', differenceDb, uncertaintyDb, withinMeterOnly: !within(toleranceDb) };
  }
  return { verdict: differenceDb < 0 ? 'up' : 'down', differenceDb, uncertaintyDb, withinMeterOnly: false };
}

/** Sweep of a usual gain knob, in turns. Common practice, no source: stops at about 7 and 5 o'clock. */
const KNOB_TURNS = 0.75;

/**
 * How far to turn a gain knob for a change in level, in turns, if the knob is even in decibels over its input range.
 *
 * @param inputMinVolt - most sensitive end of the input range, @param inputMaxVolt - least sensitive end
 */
export function knobTurns(changeDb: number, inputMinVolt: number, inputMaxVolt: number): number {
  return (changeDb / voltageRatioDb(inputMaxVolt, inputMinVolt)) * KNOB_TURNS;
}

/** A part of a turn in words: "about an eighth of a turn". */
export function turnsInWords(turns: number): string {
  const size = Math.abs(turns);
  if (size < 1 / 24) return 'a very small turn';
  const words: readonly [number, string][] = [
    [1 / 16, 'about a sixteenth of a turn'],
    [1 / 8, 'about an eighth of a turn'],
    [1 / 4, 'about a quarter of a turn'],
    [3 / 8, 'about three eighths of a turn'],
    [1 / 2, 'about half a turn'],
  ];
  const nearest = words.reduce((best, entry) => (Math.abs(entry[0] - size) < Math.abs(best[0] - size) ? entry : best));
  return size > 0.6 ? 'more than half a turn' : nearest[1];
}

export interface FiguresCompared {
  /** second against first */
  differenceDb: number;
  /** what both accuracies together can make of equal voltages */
  uncertaintyDb: number;
  same: boolean;
  /** true where digits that were left out decide it */
  isUnclear: boolean;
}

/** One voltage as a meter showed it. */
export interface ShownFigure {
  value: number;
  /** place value of the last digit typed */
  resolution: number;
  meter: Pick<Meter, 'percent' | 'digits' | 'counts' | 'finestVolt'>;
}

/**
 * Whether two figures differ by more than their meters can tell apart.
 *
 * Two figures of one meter share its percentage, which cancels: pass `sameMeter`, and its digits alone count.
 *
 * @param first - above 0, @param second - above 0
 * @example compareFigures({ value: 4, resolution: 0.01, meter }, { value: 3.98, resolution: 0.01, meter }, true).same // true with 3 digits
 */
export function compareFigures(first: ShownFigure, second: ShownFigure, sameMeter: boolean): FiguresCompared {
  const off = ({ value, meter }: ShownFigure): number =>
    meterUncertainty(value, meterStep(value, meter), sameMeter ? { percent: 0, digits: meter.digits } : meter);
  const differenceDb = voltageRatioDb(second.value, first.value);
  const rounded = ({ value, resolution, meter }: ShownFigure): number =>
    resolution > meterStep(value, meter) * (1 + 1e-9) ? resolution / 2 : 0;
  const room = off(first) + off(second);
  const rounding = rounded(first) + rounded(second);
  const apart = Math.abs(second.value - first.value);
  const uncertaintyDb = voltageRatioDb(first.value + room, first.value);
  const fits = (volt: number): boolean => volt <= room + 1e-9;
  return { differenceDb, uncertaintyDb, same: fits(apart), isUnclear: fits(apart + rounding) !== fits(Math.max(0, apart - rounding)) };
}
