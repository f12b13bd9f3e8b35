import { checkNumbers, CoreError, type Fault } from '../coreError.ts';
import { voltageFactor } from '../levels/decibels.ts';
import { formatQuantity, plainFigure } from '../units/formatQuantity.ts';

/** What an amplifier is rated to make into one load, in one mode. */
export interface LoadRating {
  loadOhm: number;
  powerWatt: number;
}

export interface PowerLimitInput {
  loadOhm: number;
  /** of one mode, in any order; none where nothing is known */
  ratings?: readonly LoadRating[];
  /** what the drivers and their wiring take together */
  driversWatt?: number;
  /** at the amplifier's own terminals while the tone plays */
  supply?: { voltage: number; ratedAtVoltage: number; regulated: boolean };
  /** sum of the amplifier's own fuses */
  fuseAmpere?: number;
  /** at which fuse and current are counted, 13.8 V where nothing is said */
  supplyVoltage?: number;
  /** power out over power in, 0.7 where nothing is said */
  efficiency?: number;
  /** kept below the lowest limit, in dB */
  headroomDb?: number;
}

export type LimitedBy = 'rating' | 'supply' | 'drivers' | 'fuse-rule';

export interface Limit {
  by: LimitedBy;
  powerWatt: number;
  basis: 'rated' | 'interpolated' | 'same-voltage' | 'scaled' | 'given' | 'guess';
}

export interface PowerLimit {
  /** the lowest first */
  limits: Limit[];
  /** the lowest limit, less the headroom; left out where there is none */
  powerWatt?: number;
  /** into the load, RMS */
  voltageRms?: number;
  limitedBy?: LimitedBy;
  /** what the fuses carry, and what the power above asks for */
  fuse?: { powerWatt: number; currentAmpere?: number; verdict?: 'carries' | 'short' };
  notes: string[];
}

/** Rows within half a percent of a load are rows of that load. */
const ROW_SLACK = 0.005;
/** Watts for an ampere of fuse: a guess for where nothing else is known. Common practice, no source. */
const WATT_PER_FUSE_AMPERE = 10;
/** A charging system that works, and an amplifier of the usual kind. Common practice, no source. */
export const USUAL_SUPPLY = { voltage: 13.8, efficiency: 0.7 } as const;

/**
 * What a channel may be set to, and what limits it.
 *
 * Between two rated loads the amplifier is taken as a source with an output resistance that holds both rows: then the reciprocal of
 * its voltage runs straight in the reciprocal of the load (V = E R / (R + r)). Above the highest rated load it keeps that row's voltage.
 * An unregulated supply scales the power with the square of its voltage.
 *
 * @throws {CoreError} `INPUT_INVALID` for figures out of bounds, and for two rows of one load with different powers, at the later one
 */
export function powerLimit(input: PowerLimitInput): PowerLimit {
  check(input);
  const { loadOhm, ratings = [], driversWatt, supply, fuseAmpere, headroomDb = 0 } = input;
  const { supplyVoltage = USUAL_SUPPLY.voltage, efficiency = USUAL_SUPPLY.efficiency } = input;
  const notes: string[] = [];
  const rating = ratingAt(ratings, loadOhm);
  if (rating === undefined && ratings.length > 0) {
    const lowest = Math.min(...ratings.map((row) => row.loadOhm));
    notes.push(`Below ${formatQuantity(lowest, 'ohm')}, the lowest load that is rated, nothing is known of this amplifier.`);
  }
  const limits: Limit[] = rating === undefined ? [] : [rating];
  if (rating !== undefined && supply?.regulated === false) {
    const powerWatt = rating.powerWatt * (supply.voltage / supply.ratedAtVoltage) ** 2;
    if (powerWatt < rating.powerWatt) limits.push({ by: 'supply', powerWatt, basis: 'scaled' });
  }
  if (driversWatt !== undefined) limits.push({ by: 'drivers', powerWatt: driversWatt, basis: 'given' });
  if (ratings.length === 0 && fuseAmpere !== undefined) {
    limits.push({ by: 'fuse-rule', powerWatt: WATT_PER_FUSE_AMPERE * fuseAmpere, basis: 'guess' });
    notes.push(`No rating is known: ${WATT_PER_FUSE_AMPERE} W for each ampere of fuse is a guess, and no more.`);
  }
  // Sorting keeps equal ones in their order.
  limits.sort((a, b) => a.powerWatt - b.powerWatt);
  const lowest = limits[0];
  const fusePower = fuseAmpere === undefined ? undefined : fuseAmpere * supplyVoltage * efficiency;
  if (lowest === undefined) {
    notes.push('No power limit known: enter the amplifier’s rating into this load, its fuses, or the drivers’ rating.');
    return { limits, ...(fusePower === undefined ? {} : { fuse: { powerWatt: fusePower } }), notes };
  }
  const powerWatt = lowest.powerWatt * voltageFactor(-headroomDb) ** 2;
  const answer = { limits, powerWatt, voltageRms: Math.sqrt(powerWatt * loadOhm), limitedBy: lowest.by };
  if (fuseAmpere === undefined || fusePower === undefined) return { ...answer, notes };
  const currentAmpere = powerWatt / (supplyVoltage * efficiency);
  const verdict = currentAmpere > fuseAmpere ? 'short' : 'carries';
  if (verdict === 'short') {
    notes.push(
      `For ${formatQuantity(powerWatt, 'W')} the amplifier draws ${plainFigure(currentAmpere)} A at ${plainFigure(supplyVoltage)} V and ${Math.round(efficiency * 100)} %; its fuses carry ${plainFigure(fuseAmpere)} A.`,
    );
  }
  return { ...answer, fuse: { powerWatt: fusePower, currentAmpere, verdict }, notes };
}

/** What the plate says of a load, or lets follow; undefined below its lowest row. */
export function ratingAt(ratings: readonly LoadRating[], loadOhm: number): Limit | undefined {
  const rows = [...ratings].sort((a, b) => a.loadOhm - b.loadOhm);
  const off = (row: LoadRating): number => Math.abs(row.loadOhm / loadOhm - 1);
  const near = rows.filter((row) => off(row) <= ROW_SLACK).sort((a, b) => off(a) - off(b))[0];
  if (near !== undefined) return { by: 'rating', powerWatt: near.powerWatt, basis: 'rated' };
  const below = rows.findLast((row) => row.loadOhm < loadOhm);
  if (below === undefined) return undefined;
  const above = rows.find((row) => row.loadOhm > loadOhm);
  if (above === undefined) return { by: 'rating', powerWatt: (below.powerWatt * below.loadOhm) / loadOhm, basis: 'same-voltage' };
  const inverseVolt = (row: LoadRating): number => 1 / Math.sqrt(row.powerWatt * row.loadOhm);
  const share = (1 / loadOhm - 1 / below.loadOhm) / (1 / above.loadOhm - 1 / below.loadOhm);
  const voltage = 1 / (inverseVolt(below) + share * (inverseVolt(above) - inverseVolt(below)));
  return { by: 'rating', powerWatt: voltage ** 2 / loadOhm, basis: 'interpolated' };
}

function check({ ratings = [], supply, ...input }: PowerLimitInput): void {
  checkNumbers(input as Omit<PowerLimitInput, 'ratings' | 'supply'>, {
    loadOhm: { name: 'load', unit: 'ohm', above: 0 },
    driversWatt: { name: 'what the drivers take', unit: 'W', above: 0 },
    fuseAmpere: { name: 'fuses', unit: 'A', above: 0 },
    supplyVoltage: { name: 'supply voltage', unit: 'V', above: 0 },
    efficiency: { name: 'efficiency', above: 0, atMost: 1 },
    headroomDb: { name: 'headroom', unit: 'dB', atLeast: 0 },
  });
  const faults: Fault[] = ratings.flatMap((row, i) => {
    const twin = ratings.slice(0, i).find((other) => other.loadOhm === row.loadOhm && other.powerWatt !== row.powerWatt);
    if (twin === undefined) return [];
    const message = `two powers for one load: ${formatQuantity(twin.powerWatt, 'W')} and ${formatQuantity(row.powerWatt, 'W')} into ${formatQuantity(row.loadOhm, 'ohm')}`;
    return [{ pointer: `/ratings/${i}`, message }];
  });
  for (const [i, row] of ratings.entries())
    for (const [field, value] of Object.entries(row))
      if (!(Number.isFinite(value) && value > 0))
        faults.push({ pointer: `/ratings/${i}/${field}`, message: 'load and power must be above 0' });
  if (supply !== undefined && !(supply.voltage > 0))
    faults.push({ pointer: '/supply/voltage', message: 'supply voltage must be above 0 V' });
  if (supply !== undefined && !(supply.ratedAtVoltage > 0))
    faults.push({ pointer: '/supply/ratedAtVoltage', message: 'voltage of the rating must be above 0 V' });
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);
}
