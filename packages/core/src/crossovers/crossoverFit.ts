import { CoreError, type Fault } from '../coreError.ts';
import { voltageFactor } from '../levels/decibels.ts';
import { FILTER_FAMILIES, ordersOf, type FilterFamily, type FilterKind } from './filters.ts';
import { filterAt } from './crossoverResponse.ts';

export interface CrossoverFitInput {
  kind: FilterKind;
  points: { frequencyHz: number; voltageRms: number }[];
}

export interface FittedFilter {
  family: FilterFamily;
  order: number;
  slopeDbPerOctave: number;
  cornerHz: number;
  passbandVoltage: number;
  /** RMS of what the fit leaves */
  residualDb: number;
}

export type CrossoverFit =
  | (FittedFilter & {
      /** ambiguous: another filter explains the points as well as their noise lets tell */
      verdict: 'good' | 'ambiguous';
      /** the others that do, best first */
      alternatives: FittedFilter[];
    })
  | { verdict: 'not-a-filter'; reason: string; passbandVoltage: number; residualDb: number; alternatives: [] };

export const MIN_FIT_POINTS = 5;
/** Voltages that differ by less show no filter. */
const FLAT_DB = 1;
const WORST_RESIDUAL_DB = 1.5;
/** A careful reading is off by about so much: half a percent. */
const READING_DB = 0.045;
/** Twice the log of a likelihood ratio of twenty to one: less does not tell two fits apart. */
const TELLS_APART = 6;
const MAX_ALTERNATIVES = 6;

/**
 * Alignment, order and corner of a filter from voltages at several frequencies, by least squares in decibels.
 *
 * @throws {CoreError} `INPUT_INVALID` for fewer than five points, a frequency given twice, a frequency or voltage not above 0
 * @see maximum likelihood with equal relative errors; Wilks' theorem for telling two fits apart
 */
export function crossoverFit({ kind, points }: CrossoverFitInput): CrossoverFit {
  check(points);
  const measured = points.map(({ frequencyHz, voltageRms }) => ({ hertz: frequencyHz, db: 20 * Math.log10(voltageRms) }));
  const levels = measured.map(({ db }) => db);
  const fits = FILTER_FAMILIES.flatMap((family) => ordersOf(family).map((order) => bestCorner(kind, family, order, measured))).sort(
    (a, b) => a.residualDb - b.residualDb,
  );
  const best = fits[0]!;
  const spread = Math.max(...levels) - Math.min(...levels);
  if (spread < FLAT_DB) {
    const mean = levels.reduce((sum, db) => sum + db, 0) / levels.length;
    const residualDb = Math.sqrt(levels.reduce((sum, db) => sum + (db - mean) ** 2, 0) / levels.length);
    return {
      verdict: 'not-a-filter',
      reason: 'The voltage is the same at every frequency: the filter is off, or its corner is far from these frequencies.',
      passbandVoltage: voltageFactor(mean),
      residualDb,
      alternatives: [],
    };
  }
  if (best.residualDb > WORST_RESIDUAL_DB) {
    return {
      verdict: 'not-a-filter',
      reason: `No ${kind === 'highpass' ? 'high-pass' : 'low-pass'} follows these voltages: an equaliser or boost is on, or a figure is wrong.`,
      passbandVoltage: best.passbandVoltage,
      residualDb: best.residualDb,
      alternatives: [],
    };
  }
  const count = measured.length;
  const noise = Math.max(READING_DB, best.residualDb * Math.sqrt(count / (count - 2)));
  const alternatives = fits
    .slice(1)
    .filter(({ residualDb }) => (count * (residualDb ** 2 - best.residualDb ** 2)) / noise ** 2 < TELLS_APART)
    .slice(0, MAX_ALTERNATIVES);
  return { ...best, verdict: alternatives.length > 0 ? 'ambiguous' : 'good', alternatives };
}

interface Level {
  hertz: number;
  db: number;
}

const GRID = 48;
const GOLDEN = (Math.sqrt(5) - 1) / 2;

/** The corner that leaves least, from two octaves below the lowest to two above the highest frequency; the level follows from it. */
function bestCorner(kind: FilterKind, family: FilterFamily, order: number, levels: readonly Level[]): FittedFilter {
  const hertz = levels.map((level) => level.hertz);
  const [from, to] = [Math.log(Math.min(...hertz) / 4), Math.log(Math.max(...hertz) * 4)];
  const leaves = (logCorner: number): { passbandDb: number; residualDb: number } => {
    const cornerHz = Math.exp(logCorner);
    const gains = levels.map((level) => level.db - filterAt({ kind, family, order, cornerHz }, level.hertz).db);
    const passbandDb = gains.reduce((sum, db) => sum + db, 0) / gains.length;
    return { passbandDb, residualDb: Math.sqrt(gains.reduce((sum, db) => sum + (db - passbandDb) ** 2, 0) / gains.length) };
  };
  const step = (to - from) / GRID;
  let nearest = from;
  let least = Infinity;
  for (let i = 0; i <= GRID; i += 1) {
    const { residualDb } = leaves(from + i * step);
    if (residualDb < least) [least, nearest] = [residualDb, from + i * step];
  }
  let [low, high] = [nearest - step, nearest + step];
  for (let i = 0; i < 40; i += 1) {
    const [a, b] = [high - GOLDEN * (high - low), low + GOLDEN * (high - low)];
    if (leaves(a).residualDb < leaves(b).residualDb) high = b;
    else low = a;
  }
  const corner = (low + high) / 2;
  const { passbandDb, residualDb } = leaves(corner);
  return {
    family,
    order,
    slopeDbPerOctave: 6 * order,
    cornerHz: Math.exp(corner),
    passbandVoltage: voltageFactor(passbandDb),
    residualDb,
  };
}

function check(points: CrossoverFitInput['points']): void {
  const faults: Fault[] = points.flatMap(({ frequencyHz, voltageRms }, i): Fault[] => [
    ...(Number.isFinite(frequencyHz) && frequencyHz > 0
      ? []
      : [{ pointer: `/points/${i}/frequencyHz`, message: 'frequency must be above 0 Hz' }]),
    ...(Number.isFinite(voltageRms) && voltageRms > 0
      ? []
      : [{ pointer: `/points/${i}/voltageRms`, message: 'voltage must be above 0 V' }]),
  ]);
  const different = new Set(points.map(({ frequencyHz }) => frequencyHz)).size;
  if (different < MIN_FIT_POINTS) {
    faults.push({
      pointer: '/points',
      message: `a fit needs voltages at ${MIN_FIT_POINTS} different frequencies or more; these are ${different}`,
    });
  }
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);
}
