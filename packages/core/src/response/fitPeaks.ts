import { leastSquares, type LeastSquaresProblem } from '../numerics/leastSquares.ts';
import { seededRandom, type Random } from '../numerics/random.ts';
import { octavePoints } from './curve.ts';
import type { GraphicEqualiser, ParametricEqualiser } from './equalisers.ts';
import type { Null } from './nulls.ts';
import { addPeak, peakGrid, peakSlope, peakSum, type PeakGrid } from './peakLevels.ts';

/** A peak of an equaliser, without its kind. */
export interface Peak {
  frequencyHz: number;
  gainDb: number;
  q: number;
}

export interface PeakTask {
  /** rising frequencies over the range, and how far the response lies above the target at each, in dB */
  points: readonly number[];
  difference: readonly number[];
  nulls: readonly Null[];
  fromHz: number;
  toHz: number;
  equaliser: ParametricEqualiser | GraphicEqualiser;
  limits: { maxBoostDb: number; maxCutDb: number; gainStepDb: number; sampleRateHz: number; minQ: number; maxQ: number };
}

const COARSE_PER_OCTAVE = 16;
const FINE_PER_OCTAVE = 48;
/** A wide range is looked at with so many points at most: what is finer than the narrowest band says nothing new. */
const FINE_POINTS = 200;
const MIN_FINE = 20;
/** So many of the rough finds are followed on the fine grid, and so many of those put on the steps. */
const FINE_STARTS = 4;
const SETTLED = 2;
/** Beyond so many unknowns each start costs much, and the grown ones are mostly best. */
const MANY_UNKNOWNS = 20;
/** Kept off a limit while the bands move, so that rounding to the steps does not pass it. */
const LIMIT_MARGIN_DB = 0.02;
/** A null may be raised this much more than its surroundings ask for; the contract's bound is 1 dB. */
const NULL_SPARE_DB = 0.5;
/** A step on the equaliser that wins less than this share is not worth its search. */
const MIN_GAIN = 1e-4;
/** By which an unknown is moved to see what follows. */
const SLOPE_STEP = 1e-5;
/** Residuals of a passed limit weigh this much against the whole difference. */
const LIMIT_WEIGHT = 3;

/** The peaks that leave the smallest difference, on the equaliser's steps and within its limits. */
export function bestPeaks(task: PeakTask): Peak[] {
  const desk = deskOf(task);
  const room = desk.bounds.some(([low, high], k) => desk.isGain(k) && high > low);
  if (!room || task.difference.every((db) => Math.abs(db) < task.limits.gainStepDb / 2)) return desk.idle();
  const coarse = gridOf(task, COARSE_PER_OCTAVE);
  const octaves = Math.log2(task.toHz / task.fromHz);
  const fine = gridOf(task, Math.max(MIN_FINE, Math.min(FINE_PER_OCTAVE, FINE_POINTS / octaves)));
  const [rough, exact] = [problemOf(task, desk, coarse), problemOf(task, desk, fine)];
  const starts = startsOf(task, desk, coarse, rough);
  const found = starts.map((start) => leastSquares(rough, start, 25)).sort((a, b) => a.cost - b.cost);
  const distinct = found
    .filter(({ cost }, i) => i === 0 || cost > found[i - 1]!.cost * 1.001)
    .slice(0, desk.bounds.length > MANY_UNKNOWNS ? 2 : FINE_STARTS);
  const exactly = distinct.map(({ unknowns }) => leastSquares(exact, unknowns, 40)).sort((a, b) => a.cost - b.cost);
  const settled = exactly
    .slice(0, desk.bounds.length > MANY_UNKNOWNS ? 1 : SETTLED)
    .map(({ unknowns }) => settle(task, desk, fine, exact, unknowns));
  return withinLimits(task, desk, settled.reduce((best, next) => (next.cost < best.cost ? next : best)).peaks);
}

// ---- what may move

/** The knobs of an equaliser as a row of unknowns: of a graphic one its gains, of a parametric one frequencies, gains and Qs. */
interface Desk {
  bounds: (readonly [low: number, high: number])[];
  isGain(k: number): boolean;
  /** a peak for every band that may move */
  peaks(unknowns: ArrayLike<number>): Peak[];
  /** one of them */
  peak(unknowns: ArrayLike<number>, band: number): Peak;
  /** the unknowns that belong to a band */
  knobsOf(band: number): number[];
  unknownsOf(peaks: readonly Peak[]): number[];
  /** with what does not move, such as a graphic one's centres outside of the range */
  finished(peaks: readonly Peak[]): Peak[];
  idle(): Peak[];
  /** one peak on the equaliser's steps */
  onSteps(peak: Peak): Peak;
  /** neighbours of a peak, a step away */
  besides(peak: Peak, reach: number): Peak[];
}

function deskOf({ equaliser, fromHz, toHz, limits }: PeakTask): Desk {
  const { gainStepDb, minQ: usualMinQ, maxQ: usualMaxQ } = limits;
  const [lowestGain, highestGain] = [
    -Math.floor(limits.maxCutDb / gainStepDb + 1e-9) * gainStepDb,
    Math.floor(limits.maxBoostDb / gainStepDb + 1e-9) * gainStepDb,
  ];
  const gainOnStep = (db: number): number => clean(Math.round(Math.max(lowestGain, Math.min(highestGain, db)) / gainStepDb) * gainStepDb);
  const gainsBeside = (peak: Peak, reach: number): Peak[] =>
    [-reach, reach].map((by) => ({ ...peak, gainDb: gainOnStep(peak.gainDb + by * gainStepDb) }));
  if (equaliser.kind === 'graphic') {
    const { centresHz, q } = equaliser;
    const inRange = (hertz: number): boolean => hertz >= fromHz && hertz <= toHz;
    const moving = centresHz.filter(inRange);
    const peak = (gains: ArrayLike<number>, band: number): Peak => ({ frequencyHz: moving[band]!, gainDb: gains[band]!, q });
    return {
      bounds: moving.map(() => [lowestGain, highestGain]),
      isGain: () => true,
      peak,
      peaks: (gains) => moving.map((_, band) => peak(gains, band)),
      knobsOf: (band) => [band],
      unknownsOf: (peaks) => peaks.map(({ gainDb }) => gainDb),
      finished: (peaks) =>
        centresHz.map((frequencyHz) => ({ frequencyHz, gainDb: peaks.find((peak) => peak.frequencyHz === frequencyHz)?.gainDb ?? 0, q })),
      idle: () => centresHz.map((frequencyHz) => ({ frequencyHz, gainDb: 0, q })),
      onSteps: (peak) => ({ ...peak, gainDb: gainOnStep(peak.gainDb) }),
      besides: gainsBeside,
    };
  }
  const { bands, minQ = usualMinQ, maxQ = usualMaxQ, frequencyStepHz, qStep } = equaliser;
  const bandBounds: (readonly [number, number])[] = [
    [Math.log2(fromHz), Math.log2(toHz)],
    [lowestGain, highestGain],
    [Math.log2(minQ), Math.log2(maxQ)],
  ];
  const frequencyOnStep = stepper(fromHz, toHz, frequencyStepHz, (hertz) => Number(hertz.toPrecision(5)));
  const qOnStep = stepper(minQ, maxQ, qStep, (q) => Number(q.toPrecision(4)));
  const peak = (unknowns: ArrayLike<number>, band: number): Peak => ({
    frequencyHz: 2 ** unknowns[3 * band]!,
    gainDb: unknowns[3 * band + 1]!,
    q: 2 ** unknowns[3 * band + 2]!,
  });
  return {
    bounds: Array.from({ length: 3 * bands }, (_, k) => bandBounds[k % 3]!),
    isGain: (k) => k % 3 === 1,
    peak,
    peaks: (unknowns) => Array.from({ length: bands }, (_, band) => peak(unknowns, band)),
    knobsOf: (band) => [3 * band, 3 * band + 1, 3 * band + 2],
    unknownsOf: (peaks) => peaks.flatMap(({ frequencyHz, gainDb, q }) => [Math.log2(frequencyHz), gainDb, Math.log2(q)]),
    finished: (peaks) => peaks.filter(({ gainDb }) => gainDb !== 0).sort((a, b) => a.frequencyHz - b.frequencyHz),
    idle: () => [],
    onSteps: ({ frequencyHz, gainDb, q }) => ({ frequencyHz: frequencyOnStep(frequencyHz), gainDb: gainOnStep(gainDb), q: qOnStep(q) }),
    besides: (peak, reach) => [
      ...gainsBeside(peak, reach),
      ...[-reach, reach].flatMap((by) => [
        {
          ...peak,
          frequencyHz: frequencyOnStep(
            frequencyStepHz === undefined ? peak.frequencyHz * 1.005 ** by : peak.frequencyHz + by * frequencyStepHz,
          ),
        },
        { ...peak, q: qOnStep(qStep === undefined ? peak.q * 1.02 ** by : peak.q + by * qStep) },
      ]),
    ],
  };
}

/** Brings a value within bounds and onto a step; without a step it is only rounded to figures that can be read. */
function stepper(low: number, high: number, step: number | undefined, rounded: (value: number) => number): (value: number) => number {
  if (step === undefined) return (value) => Math.max(low, Math.min(high, rounded(value)));
  const [first, last] = [Math.ceil(low / step - 1e-9), Math.floor(high / step + 1e-9)];
  return (value) => clean(Math.max(first, Math.min(last, Math.round(value / step))) * step);
}

/** A multiple of a step without the noise of its last binary digits. */
const clean = (value: number): number => Number(value.toPrecision(12)) + 0;

// ---- what they are held against

interface FitGrid {
  /** the range's points, then those of the limits everywhere, then the bottoms of the nulls */
  grid: PeakGrid;
  frequenciesHz: number[];
  counts: { range: number; everywhere: number };
  difference: Float64Array;
  weight: Float64Array;
  nullMostDb: number[];
}

function gridOf({ points, difference, nulls, fromHz, toHz, limits }: PeakTask, perOctave: number): FitGrid {
  const range = [...octavePoints(fromHz, toHz, perOctave).filter((hertz) => hertz < toHz), toHz];
  const top = 0.4995 * limits.sampleRateHz;
  const outside = [...octavePoints(Math.min(8, fromHz / 4), fromHz, 6), ...(toHz < top ? octavePoints(toHz, top, 12) : []), top].filter(
    (hertz) => hertz < fromHz || hertz > toHz,
  );
  const everywhere = [...range.filter((_, i) => i % 2 === 0), ...outside];
  const at = interpolator(points, difference);
  const isNull = (hertz: number): boolean => nulls.some((dip) => hertz >= dip.fromHz && hertz <= dip.toHz);
  const weight = Float64Array.from(range, (hertz, i) => (isNull(hertz) ? 0 : i === 0 || i === range.length - 1 ? Math.SQRT1_2 : 1));
  const whole = Math.hypot(...weight) || 1;
  const frequenciesHz = [...range, ...everywhere, ...nulls.map(({ bottomHz }) => bottomHz)];
  return {
    grid: peakGrid(frequenciesHz, limits.sampleRateHz),
    frequenciesHz,
    counts: { range: range.length, everywhere: everywhere.length },
    difference: Float64Array.from(range, at),
    weight: weight.map((value) => value / whole),
    nullMostDb: nulls.map((dip) => NULL_SPARE_DB + askedBeside(dip, points, difference)),
  };
}

/** The most boost that what lies beside a null asks for, 0 dB at least. */
function askedBeside({ bottomHz }: Null, points: readonly number[], difference: readonly number[]): number {
  let most = 0;
  points.forEach((hertz, i) => {
    const octaves = Math.abs(Math.log2(hertz / bottomHz));
    if (octaves >= 0.2 && octaves <= 0.42) most = Math.max(most, -difference[i]!);
  });
  return most;
}

function interpolator(points: readonly number[], values: readonly number[]): (hertz: number) => number {
  let k = 0;
  return (hertz) => {
    if (points[k]! > hertz) k = 0;
    while (k < points.length - 2 && points[k + 1]! < hertz) k += 1;
    const share = Math.max(0, Math.min(1, Math.log(hertz / points[k]!) / Math.log(points[k + 1]! / points[k]!)));
    return values[k]! + share * (values[k + 1]! - values[k]!);
  };
}

function problemOf({ limits }: PeakTask, desk: Desk, fit: FitGrid): LeastSquaresProblem {
  const { grid, counts, difference, weight, nullMostDb } = fit;
  const { range, everywhere } = counts;
  const [most, least] = [limits.maxBoostDb - LIMIT_MARGIN_DB, -limits.maxCutDb + LIMIT_MARGIN_DB];
  return {
    bounds: desk.bounds,
    at: (unknowns, withSlopes) => {
      const peaks = desk.peaks(unknowns);
      const sum = peakSum(peaks, grid, limits.sampleRateHz);
      // Only what counts just now: a limit that is not passed pulls nowhere.
      const at = new Float64Array(sum.length);
      const pull = new Float64Array(sum.length);
      const residuals = new Float64Array(sum.length);
      let count = 0;
      // Plain loops and assignments: this runs some thousand times in a fit.
      const add = (row: number, pulled: number, rest: number): void => {
        at[count] = grid[row]!;
        pull[count] = pulled;
        residuals[count] = pulled * rest;
        count += 1;
      };
      for (let row = 0; row < range; row += 1) if (weight[row] !== 0) add(row, weight[row]!, difference[row]! + sum[row]!);
      for (let row = range; row < range + everywhere; row += 1) {
        const db = sum[row]!;
        if (db > most) add(row, LIMIT_WEIGHT, db - most);
        else if (db < least) add(row, LIMIT_WEIGHT, db - least);
      }
      nullMostDb.forEach((mostDb, i) => {
        const over = sum[range + everywhere + i]! - mostDb;
        if (over > 0) add(range + everywhere + i, LIMIT_WEIGHT, over);
      });
      return {
        residuals: residuals.subarray(0, count),
        slopes: withSlopes ? slopesAt(unknowns, peaks, at.subarray(0, count), pull) : [],
      };
    },
  };

  function slopesAt(unknowns: Float64Array, peaks: readonly Peak[], at: PeakGrid, pull: Float64Array): Float64Array[] {
    const slopes: Float64Array[] = [];
    const moved = Float64Array.from(unknowns);
    peaks.forEach((peak, band) => {
      for (const k of desk.knobsOf(band)) {
        // A band that does nothing does nothing elsewhere.
        if (peak.gainDb === 0 && !desk.isGain(k)) {
          slopes[k] = new Float64Array(at.length);
          continue;
        }
        moved[k]! += SLOPE_STEP;
        slopes[k] = peakSlope(at, peak, desk.peak(moved, band), SLOPE_STEP, limits.sampleRateHz, pull);
        moved[k] = unknowns[k]!;
      }
    });
    return slopes;
  }
}

// ---- where the search begins

/** Fewer starts where each costs more. */
const startCount = (bands: number): number => (bands <= 3 ? 24 : bands <= 6 ? 18 : bands <= 12 ? 4 : 2);

function startsOf({ equaliser, limits }: PeakTask, desk: Desk, fit: FitGrid, problem: LeastSquaresProblem): number[][] {
  const range = Array.from({ length: fit.counts.range }, (_, i) => i);
  const wanted = (i: number): number =>
    fit.weight[i] === 0 ? 0 : Math.max(-limits.maxCutDb, Math.min(limits.maxBoostDb, -fit.difference[i]!));
  if (equaliser.kind === 'graphic') {
    const at = interpolator(fit.frequenciesHz.slice(0, fit.counts.range), range.map(wanted));
    return [0.4, 0.8].map((share) => desk.peaks([]).map(({ frequencyHz }) => share * at(frequencyHz)));
  }
  const { bands, minQ = limits.minQ, maxQ = limits.maxQ } = equaliser;
  const random = seededRandom('equaliser');
  const grid = fit.grid.subarray(0, fit.counts.range);
  const place = (rest: Float64Array, pick: (sizes: number[]) => number, q: number): Peak => {
    const at = pick(Array.from(rest, Math.abs));
    return { frequencyHz: fit.frequenciesHz[at]!, gainDb: rest[at]!, q: Math.max(minQ, Math.min(maxQ, q)) };
  };
  const scattered = Array.from({ length: startCount(bands) }, () => {
    const rest = Float64Array.from(range, wanted);
    const peaks: Peak[] = [];
    for (let band = 0; band < bands; band += 1) {
      const peak = place(rest, (sizes) => drawn(sizes, random), 0.5 * 2 ** (4 * random.uniform()));
      peaks.push(peak);
      addPeak(rest, grid, peak, limits.sampleRateHz, -1);
    }
    return desk.unknownsOf(peaks);
  });
  return [...grown({ bands, desk, fit, problem, place, sampleRateHz: limits.sampleRateHz }), ...scattered];
}

/** Band after band where most is left, all moved together after each: the likeliest start, once with broad and once with narrow bands. */
function grown({
  bands,
  desk,
  fit,
  problem,
  place,
  sampleRateHz,
}: {
  bands: number;
  desk: Desk;
  fit: FitGrid;
  problem: LeastSquaresProblem;
  place: (rest: Float64Array, pick: (sizes: number[]) => number, q: number) => Peak;
  sampleRateHz: number;
}): number[][] {
  const range = fit.grid.subarray(0, fit.counts.range);
  return [1.2, 3.5].map((q) => {
    const idle = { frequencyHz: 2 ** ((desk.bounds[0]![0] + desk.bounds[0]![1]) / 2), gainDb: 0, q };
    let peaks: Peak[] = Array.from({ length: bands }, () => idle);
    for (let band = 0; band < bands; band += 1) {
      const sum = peakSum(peaks, range, sampleRateHz);
      const rest = sum.map((db, i) => (fit.weight[i] === 0 ? 0 : -(fit.difference[i]! + db)));
      const peak = place(rest, (sizes) => sizes.indexOf(Math.max(...sizes)), q);
      peaks = peaks.map((each, i) => (i === band ? peak : each));
      if (bands <= 12 || band % 4 === 3)
        peaks = desk.peaks(leastSquares(heldStill(problem, desk, band), desk.unknownsOf(peaks), 6).unknowns);
    }
    return desk.unknownsOf(peaks);
  });
}

/** Bands not yet placed stay as they are. */
function heldStill(problem: LeastSquaresProblem, desk: Desk, last: number): LeastSquaresProblem {
  const still = new Set(desk.bounds.map((_, k) => k).slice(desk.knobsOf(last).at(-1)! + 1));
  return {
    ...problem,
    bounds: problem.bounds.map(([low, high], k) => (!still.has(k) ? [low, high] : desk.isGain(k) ? [0, 0] : [low, high])),
  };
}

/** A place drawn by the square of its size. */
function drawn(sizes: readonly number[], random: Random): number {
  const total = sizes.reduce((sum, size) => sum + size ** 2, 0);
  let left = random.uniform() * total;
  const at = sizes.findIndex((size) => (left -= size ** 2) <= 0);
  return at === -1 ? sizes.length - 1 : at;
}

// ---- onto the steps

/** The place found, on the equaliser's steps: rounded, brought within the limits, then moved step by step while that helps. */
function settle(
  task: PeakTask,
  desk: Desk,
  fit: FitGrid,
  problem: LeastSquaresProblem,
  unknowns: Float64Array,
): { peaks: Peak[]; cost: number } {
  // Gains first: with them on their steps the rest is moved once more.
  const rounded = desk.unknownsOf(desk.peaks(unknowns).map((peak) => ({ ...peak, gainDb: desk.onSteps(peak).gainDb })));
  const held = { ...problem, bounds: problem.bounds.map((bound, k) => (desk.isGain(k) ? ([rounded[k]!, rounded[k]!] as const) : bound)) };
  let peaks = desk.peaks(leastSquares(held, rounded, 15).unknowns).map((peak) => desk.onSteps(peak));
  const { sampleRateHz } = task.limits;
  const score = scorer(task, fit);
  peaks = steppedBack(task, desk, peaks, fit.grid.subarray(0, fit.counts.range + fit.counts.everywhere));
  const levelsOf = (peak: Peak): Float64Array => {
    const levels = new Float64Array(fit.grid.length);
    addPeak(levels, fit.grid, peak, sampleRateHz);
    return levels;
  };
  let levels = peaks.map(levelsOf);
  let sum = peakSum(peaks, fit.grid, sampleRateHz);
  let cost = score(sum);
  const tryPeaks = (changes: readonly (readonly [number, Peak])[]): boolean => {
    const fresh = changes.map(([band, peak]) => [band, peak, levelsOf(peak)] as const);
    const next = Float64Array.from(sum);
    for (const [band, , own] of fresh) {
      const old = levels[band]!;
      for (let row = 0; row < next.length; row += 1) next[row]! += own[row]! - old[row]!;
    }
    const there = score(next);
    if (!(there < cost * (1 - MIN_GAIN))) return false;
    [sum, cost] = [next, there];
    peaks = peaks.map((peak, i) => fresh.find(([band]) => band === i)?.[1] ?? peak);
    levels = levels.map((own, i) => fresh.find(([band]) => band === i)?.[2] ?? own);
    return true;
  };
  for (let pass = 0; pass < 40; pass += 1) {
    let isMoved = false;
    for (let band = 0; band < peaks.length; band += 1) {
      for (const reach of [1, 3])
        for (let k = 0; k < desk.besides(peaks[band]!, reach).length; k += 1) {
          isMoved = tryPeaks([[band, desk.besides(peaks[band]!, reach)[k]!]]) || isMoved;
        }
      // What one band gives the next one may have to take.
      const next = band + 1;
      if (next < peaks.length && !isMoved)
        for (const [a, b] of [
          [0, 1],
          [1, 0],
          [0, 0],
          [1, 1],
        ] as const)
          isMoved =
            tryPeaks([
              [band, desk.besides(peaks[band]!, 1)[a]!],
              [next, desk.besides(peaks[next]!, 1)[b]!],
            ]) || isMoved;
    }
    if (!isMoved) break;
  }
  return { peaks, cost };
}

/** So near to a limit is at the limit: what a sum of rounded gains cannot be told from. */
const AT_LIMIT_DB = 1e-6;
const LIMIT_PER_OCTAVE = 96;

/** The last word on the limits: held against a far denser row of frequencies, and against doing nothing. */
function withinLimits(task: PeakTask, desk: Desk, peaks: readonly Peak[]): Peak[] {
  const { sampleRateHz } = task.limits;
  const top = 0.4999 * sampleRateHz;
  const lowest = Math.min(8, task.fromHz / 4);
  const frequenciesHz = [...octavePoints(lowest, top, LIMIT_PER_OCTAVE), ...peaks.map(({ frequencyHz }) => frequencyHz)];
  const kept = steppedBack(task, desk, peaks, peakGrid(frequenciesHz, sampleRateHz));
  const coarse = gridOf(task, COARSE_PER_OCTAVE);
  const { grid } = coarse;
  const score = scorer(task, coarse);
  const isWorth = score(peakSum(kept, grid, sampleRateHz)) < score(new Float64Array(grid.length));
  return isWorth ? desk.finished(kept) : desk.idle();
}

/** Takes gains back a step at a time, each where it passes a limit furthest, until none is passed: with all at 0 dB none is. */
function steppedBack({ limits }: PeakTask, desk: Desk, peaks: readonly Peak[], grid: PeakGrid): Peak[] {
  const { maxBoostDb, maxCutDb, gainStepDb, sampleRateHz } = limits;
  const moved = [...peaks];
  const sum = peakSum(moved, grid, sampleRateHz);
  const levels = moved.map((peak) => peakSum([peak], grid, sampleRateHz));
  for (;;) {
    let [row, over] = [-1, AT_LIMIT_DB];
    for (let i = 0; i < sum.length; i += 1) {
      const by = Math.max(sum[i]! - maxBoostDb, -maxCutDb - sum[i]!);
      if (by > over) [row, over] = [i, by];
    }
    if (row === -1) return moved;
    const sign = Math.sign(sum[row]!);
    let band = -1;
    for (let k = 0; k < moved.length; k += 1) if (band === -1 || sign * levels[k]![row]! > sign * levels[band]![row]!) band = k;
    const peak = moved[band]!;
    const less = desk.onSteps({ ...peak, gainDb: Math.abs(peak.gainDb) <= gainStepDb ? 0 : peak.gainDb - sign * gainStepDb });
    if (less.gainDb === peak.gainDb) return moved.map((each) => ({ ...each, gainDb: 0 }));
    const own = peakSum([less], grid, sampleRateHz);
    for (let i = 0; i < sum.length; i += 1) sum[i]! += own[i]! - levels[band]![i]!;
    [moved[band], levels[band]] = [less, own];
  }
}

/** The weighted square difference; no number where a limit is passed. */
function scorer({ limits }: PeakTask, { counts, difference, weight, nullMostDb }: FitGrid): (sum: Float64Array) => number {
  const { range, everywhere } = counts;
  const [most, least] = [limits.maxBoostDb + AT_LIMIT_DB, -limits.maxCutDb - AT_LIMIT_DB];
  return (sum) => {
    let [cost, overNull] = [0, 0];
    for (let row = 0; row < sum.length; row += 1) {
      const db = sum[row]!;
      if (row >= range + everywhere) overNull = Math.max(overNull, db - nullMostDb[row - range - everywhere]! - 0.3);
      else if (db > most || db < least) return Infinity;
      else if (row < range) cost += (weight[row]! * (difference[row]! + db)) ** 2;
    }
    return overNull > 0 ? cost + 1e3 * (1 + overNull) : cost;
  };
}
