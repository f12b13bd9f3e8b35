import { voltageFactor, voltageRatioDb } from '../levels/decibels.ts';
import { solveLinear } from '../numerics/solveLinear.ts';

/** A row of a volume table with its voltage. */
export interface MeasuredStep {
  step: number;
  voltageRms: number;
}

/** Up to here the question is where a source begins to give way; beyond, how far somebody lets it. */
export const USUAL_COMPRESSION_DB = 0.5;

/**
 * Index of the first step whose voltage falls behind what the steps before it lead to expect; -1 where none does.
 *
 * @param compressionDb - so far behind is compression; more than the usual half a decibel is allowed in full
 */
export function compressedFrom(steps: readonly MeasuredStep[], compressionDb: number): number {
  const resolution = 10 ** -Math.max(0, ...steps.map(({ voltageRms }) => decimalsOf(voltageRms)));
  const points = steps.map(({ step, voltageRms }) => ({
    step,
    db: voltageRatioDb(voltageRms, 1),
    offDb: readingOffDb(voltageRms, resolution),
  }));
  const clean: LawPoint[] = [];
  let law: VolumeLaw | undefined;
  let begun = -1;
  for (const [i, point] of points.entries()) {
    if (law === undefined) {
      clean.push(point);
      if (clean.length >= MIN_POINTS) law = volumeLaw(clean);
      continue;
    }
    const { db, offDb } = law.at(point.step);
    const short = db - point.db;
    const doubt = SURE * Math.hypot(offDb, point.offDb);
    if (short <= Math.max(MIN_SHORT_DB, doubt)) {
      // As before, or nearly: what fell behind was the meter, not the source.
      for (const passed of points.slice(begun === -1 ? i : begun, i + 1)) clean.push(passed);
      begun = -1;
      law = volumeLaw(clean);
      continue;
    }
    if (begun === -1) begun = i;
    if (short > Math.max(compressionDb, doubt)) {
      return compressionDb > USUAL_COMPRESSION_DB ? i : Math.min(begun, railOf(points).overFrom);
    }
  }
  return creepsUnder(points, compressionDb);
}

/** What becomes of a level over the rail, both in decibels from it: clipped as a sine is, or held to a part of its growth. */
const LIMITERS: readonly ((overDb: number) => number)[] = [
  clippedDb,
  ...[0, 0.15, 0.3, 0.45].map((part) => (overDb: number) => part * overDb),
];
/** A sine this far over its rail has 1 % of distortion, by the Fourier series of a clipped sine. */
const FREE_DB = 0.25;
const RAIL_GRID_DB = 0.05;
/** Nobody goes on further than this over a rail. */
const MAX_OVER_DB = 30;

interface Rail {
  /** index of the first step over it; beyond the table where there is none */
  overFrom: number;
  /** sum of squares of what it leaves unexplained, each against how far off a step may be */
  misfit: number;
  /** what the last step lacks */
  shortDb: number;
  /** what each step would have without it */
  expectedDb: readonly number[];
}

/**
 * The rail that explains the whole table best: steps just over it fall behind by less than a step of the volume is even to,
 * and only the ones further up tell where it is.
 */
function railOf(points: readonly LawPoint[]): Rail {
  const highest = Math.max(...points.map(({ db }) => db));
  const lowest = points[Math.min(points.length - 1, MIN_POINTS)]!.db;
  let best: Rail = { overFrom: points.length, misfit: Infinity, shortDb: 0, expectedDb: [] };
  // Most rails leave the same steps below as the one before, and the law of those is the same.
  let lawsOf = -1;
  let expectedBy: number[][] = [];
  for (let rail = highest; rail > Math.max(lowest - 1, highest - MAX_OVER_DB); rail -= RAIL_GRID_DB) {
    const below = points.filter(({ db }) => db <= rail - FREE_DB);
    if (below.length < MIN_POINTS + 1) break;
    if (below.length !== lawsOf) {
      lawsOf = below.length;
      expectedBy = SCALES.map((scale) => {
        const law = volumeLaw(below, scale);
        return points.map(({ step }) => law.dbAt(step));
      });
    }
    for (const expected of expectedBy) {
      const overFrom = expected.findIndex((db) => db > rail + FREE_DB);
      if (overFrom === -1) continue;
      for (const limited of LIMITERS) {
        const misfit = misfitOf(points, (i) => (expected[i]! <= rail ? expected[i]! : rail + limited(expected[i]! - rail)));
        if (misfit < best.misfit) best = { overFrom, misfit, shortDb: expected.at(-1)! - points.at(-1)!.db, expectedDb: expected };
      }
    }
  }
  return best;
}

const misfitOf = (points: readonly LawPoint[], expectedDb: (index: number) => number): number =>
  points.reduce((sum, { db, offDb }, i) => sum + ((db - expectedDb(i)) / offDb) ** 2, 0);

/** So much better must a rail explain the table than a bent law alone: a chance of one in a million, by the chi-squared table. */
const MUCH_BETTER = 28;

/** Fine steps creep into the rail, and a law follows them: told by the whole table, or not at all (-1). */
function creepsUnder(points: readonly LawPoint[], compressionDb: number): number {
  if (points.length <= MIN_POINTS + 1) return -1;
  const rail = railOf(points);
  const without = Math.min(
    ...SCALES.map((scale) => {
      const law = volumeLaw(points, scale);
      return misfitOf(points, (i) => law.dbAt(points[i]!.step));
    }),
  );
  if (without - rail.misfit <= MUCH_BETTER || rail.shortDb <= compressionDb) return -1;
  return compressionDb > USUAL_COMPRESSION_DB ? points.findIndex(({ db }, i) => rail.expectedDb[i]! - db > compressionDb) : rail.overFrom;
}

/** RMS of a clipped sine against the rail's own, in decibels: integral of its square, over the part below the rail and the flat one. */
function clippedDb(overDb: number): number {
  const drive = voltageFactor(overDb);
  const angle = Math.asin(1 / drive);
  const square = (2 / Math.PI) * (drive ** 2 * (angle / 2 - Math.sin(2 * angle) / 4) + (Math.PI / 2 - angle));
  return 10 * Math.log10(2 * square);
}

/** From so many steps on a volume control's law can be carried on, and a step held against it. */
const MIN_POINTS = 2;
/** A step this little behind is none: volume controls are no more even than that. */
const MIN_SHORT_DB = 0.06;
/** So many standard deviations make a difference. */
const SURE = 3;
/** Steps of volume controls are even to about so much; how fast they bend, in decibels per step squared. Common practice, no source. */
const STEP_OFF_DB = 0.025;
const BEND_DB = 0.04;

interface LawPoint {
  step: number;
  db: number;
  /** standard deviation */
  offDb: number;
}

interface VolumeLaw {
  /** the level that a step is expected to have, and how far off that may be */
  at: (step: number) => { db: number; offDb: number };
  /** the level alone, which is found sooner */
  dbAt: (step: number) => number;
}

/** What a reading's last digit may be worth; its place is told from the table itself. */
const readingOffDb = (volt: number, resolution: number): number => Math.hypot(STEP_OFF_DB, voltageRatioDb(volt + resolution, volt));

const decimalsOf = (value: number): number => Math.min(9, value.toString().split('.')[1]?.length ?? 0);

/** What a control is even in: decibels for most, volts for some. */
type StepScale = (step: number) => number;
const EVEN_DECIBELS: StepScale = (step) => step;
const EVEN_VOLTS: StepScale = (step) => 20 * Math.log10(Math.max(1, step));
const SCALES: readonly StepScale[] = [EVEN_DECIBELS, EVEN_VOLTS];

/**
 * The law of a volume control from steps that are clean: level, growth and a bend, of which little is expected.
 *
 * @see C. M. Bishop, "Pattern Recognition and Machine Learning" (2006), section 3.3: Bayesian linear regression
 */
function volumeLaw(points: readonly LawPoint[], scale: StepScale = EVEN_DECIBELS): VolumeLaw {
  const origin = scale(points.at(-1)!.step);
  const row = (step: number): number[] => [1, scale(step) - origin, (scale(step) - origin) ** 2];
  const matrix = [
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 1 / BEND_DB ** 2],
  ];
  const right = [0, 0, 0];
  for (const { step, db, offDb } of points) {
    const x = row(step);
    for (let i = 0; i < 3; i += 1) {
      right[i]! += (x[i]! * db) / offDb ** 2;
      for (let j = 0; j < 3; j += 1) matrix[i]![j]! += (x[i]! * x[j]!) / offDb ** 2;
    }
  }
  // It overwrites what it is given, and finds a solution for two points or more.
  const solved = (b: readonly number[]): number[] =>
    solveLinear(
      matrix.map((line) => [...line]),
      [...b],
    )!;
  const fit = solved(right);
  const dot = (x: readonly number[], a: readonly number[]): number => x.reduce((sum, value, i) => sum + value * a[i]!, 0);
  return {
    at: (step) => {
      const x = row(step);
      return { db: dot(x, fit), offDb: Math.sqrt(dot(x, solved(x))) };
    },
    dbAt: (step) => dot(row(step), fit),
  };
}
