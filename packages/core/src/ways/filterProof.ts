import { crossoverFit, MIN_FIT_POINTS, type CrossoverFit, type CrossoverFitInput, type FittedFilter } from '../crossovers/crossoverFit.ts';
import type { Filter } from '../crossovers/filters.ts';
import { otherFiltersLossDb, reads } from '../crossovers/proofPoints.ts';
import type { Meter } from '../gain/meter.ts';
import type { ActiveFilter, Channel } from '../job/chain.ts';
import { filtersOf } from '../job/channelFilters.ts';
import type { ProvedSetting } from '../job/conditions.ts';
import { byTime, newest, type LineTrace, type LoadReading } from '../job/records.ts';
import { voltageFactor, voltageRatioDb } from '../levels/decibels.ts';
import type { ProvedFilters } from './driverGroups.ts';

/** One voltage of a proof, or why it does not count. */
export interface ProofPoint {
  frequencyHz: number;
  /** as read, the other filters of the channel not taken off */
  voltageRms: number;
  readingId?: string;
  leftOut?: 'meter' | 'other-filter' | 'nothing' | 'other-level';
}

/** What was measured of one filter since its dial was last touched. */
export interface FilterProof {
  filter: ActiveFilter;
  series: number;
  from: 'voltages' | 'sweep';
  points: ProofPoint[];
  /** of the points that count, the other filters taken off */
  fit?: CrossoverFit;
  fitPoints: CrossoverFitInput['points'];
  /** the voltages that there are were read at another setting */
  outdated?: Filter;
  /** a capture without a sweep in it */
  failedSweep?: string;
}

/** What was measured of one filter and counts: its voltages, and the captures of its sweep. */
export interface FilterMeasured {
  readings: readonly LoadReading[];
  traces: readonly LineTrace[];
}

/** Beyond this the other filters' own errors show. */
const MAX_OTHER_DB = 12;
/** Points of a sweep lower than this are mostly noise. */
const SWEEP_DEPTH_DB = 40;
/** One point of four: twelfths of an octave become thirds. */
const SWEEP_THINNING = 4;

/**
 * The proof of every filter of a channel that anything was measured of, or that wants it.
 *
 * @param shapeDb - what the source itself does to a tone at a volume, in dB: no filter's, and taken off
 */
export function channelProofs(
  channel: Channel,
  meter: Meter,
  measuredOf: (filterId: string) => FilterMeasured,
  shapeDb: (hertz: number, volume: number) => number = () => 0,
): FilterProof[] {
  const filters = filtersOf(channel);
  const measured = filters.map((filter) => gathered(filter, measuredOf(filter.id)));
  // Twice: what the first round finds of one filter is taken off the voltages of the next.
  let working = new Map<string, Filter>(filters.map((filter) => [filter.id, filter]));
  let proofs: FilterProof[] = [];
  for (let round = 0; round < 2; round += 1) {
    const from = working;
    proofs = measured.map((each) => {
      const others = filters.filter(({ id }) => id !== each.filter.id).map(({ id }) => from.get(id)!);
      return fitted(each, others, meter, shapeDb);
    });
    working = new Map(proofs.map((proof) => [proof.filter.id, foundFilter(proof) ?? proof.filter]));
    if (filters.length === 1) break;
  }
  return proofs;
}

/** What measuring found, filter by filter. */
export function provedBy(proofs: readonly FilterProof[]): ProvedFilters {
  return new Map(
    proofs.flatMap((proof): [string, Filter][] => {
      const found = foundFilter(proof);
      return found === undefined ? [] : [[proof.filter.id, found]];
    }),
  );
}

/** The filter that the voltages speak for; the one of the intended alignment where they cannot tell several apart. */
export function foundFilter({ filter, fit }: FilterProof): Filter | undefined {
  if (fit === undefined || fit.verdict === 'not-a-filter') return undefined;
  const { family, order, cornerHz } = likeliest(filter, fit);
  return { kind: filter.kind, family, order, cornerHz };
}

export function likeliest(filter: Filter, fit: Exclude<CrossoverFit, { verdict: 'not-a-filter' }>): FittedFilter {
  const candidates: FittedFilter[] = [fit, ...fit.alternatives];
  return candidates.find(({ family, order }) => family === filter.family && order === filter.order) ?? fit;
}

interface Gathered {
  filter: ActiveFilter;
  series: number;
  readings: LoadReading[];
  sweep?: LineTrace;
  outdated?: Filter;
}

const isSetting = (then: ProvedSetting | undefined, now: Filter): then is ProvedSetting =>
  then !== undefined && then.kind === now.kind && then.family === now.family && then.order === now.order && then.cornerHz === now.cornerHz;

/** The newest series of voltages, or a sweep that was captured after it. */
function gathered(filter: ActiveFilter, { readings: own, traces }: FilterMeasured): Gathered {
  const sweeps = traces.filter(({ conditions }) => conditions.sweep !== undefined);
  const valid = own.filter(({ conditions }) => isSetting(conditions.filter, filter));
  const sweep = newest(sweeps, ({ conditions }) => isSetting(conditions.filter, filter));
  const series = Math.max(1, ...valid.map(({ conditions }) => conditions.filter?.series ?? 1), sweep?.conditions.filter?.series ?? 1);
  const inSeries = sinceMended(valid.filter(({ conditions }) => conditions.filter?.series === series));
  const last = newest(inSeries);
  const isSweepNewer = sweep?.conditions.filter?.series === series && (last === undefined || sweep.takenAt > last.takenAt);
  const before = valid.length === 0 && sweep === undefined ? newest([...own, ...sweeps])?.conditions.filter : undefined;
  return {
    filter,
    series,
    readings: isSweepNewer ? [] : inSeries,
    ...(isSweepNewer ? { sweep } : {}),
    ...(before === undefined ? {} : { outdated: before }),
  };
}

/** A few millivolts at every tone are hiss and hum: no filter and no gain gives that. Common practice, no source. */
const DEAD_VOLT = 0.01;
const DEAD_POINTS = 3;

/** Whether no signal comes through at all. */
export const isDead = ({ points, from }: Pick<FilterProof, 'points' | 'from'>): boolean =>
  from === 'voltages' && points.length >= DEAD_POINTS && points.every(({ voltageRms }) => voltageRms <= DEAD_VOLT);

/** Readings since a dead stage was mended: the first real voltage after a dead row begins it anew. One wrong figure among others is only replaced. */
function sinceMended(readings: readonly LoadReading[]): LoadReading[] {
  const rows = [...readings].sort(byTime);
  const alive = rows.findIndex(({ value }) => value > DEAD_VOLT);
  return alive >= DEAD_POINTS ? rows.slice(alive) : rows;
}

function fitted(
  { filter, series, readings, sweep, outdated }: Gathered,
  others: readonly Filter[],
  meter: Meter,
  shapeDb: (hertz: number, volume: number) => number,
): FilterProof {
  const shared = { filter, series, ...(outdated === undefined ? {} : { outdated }) };
  const response = sweep?.analysis.channels[sweep.channelIndex]?.response;
  if (response?.kind === 'no-sweep') return { ...shared, from: 'sweep', points: [], fitPoints: [], failedSweep: response.reason };
  const points = response === undefined ? pointsOf(readings, others, meter) : sweepPoints(response.points, others);
  const volume = (sweep ?? newest(readings))?.conditions.sourceVolume ?? 0;
  const fitPoints = points
    .filter(({ leftOut }) => leftOut === undefined)
    .map(({ frequencyHz, voltageRms }) => ({
      frequencyHz,
      voltageRms: voltageRms * voltageFactor(otherFiltersLossDb(others, frequencyHz) - shapeDb(frequencyHz, volume)),
    }));
  const fit = fitPoints.length < MIN_FIT_POINTS ? undefined : keptFit({ kind: filter.kind, points: fitPoints });
  return { ...shared, from: response === undefined ? 'voltages' : 'sweep', points, fitPoints, ...(fit === undefined ? {} : { fit }) };
}

/** The newest voltage of each frequency, in the order of frequency. */
function pointsOf(readings: readonly LoadReading[], others: readonly Filter[], meter: Meter): ProofPoint[] {
  const last = newest(readings);
  const frequencies = [...new Set(readings.map(({ conditions }) => conditions.toneHz))].sort((a, b) => a - b);
  return frequencies.flatMap((frequencyHz): ProofPoint[] => {
    const reading = newest(readings, ({ conditions }) => conditions.toneHz === frequencyHz);
    if (reading === undefined) return [];
    const { toneLevelDbfs, sourceVolume } = reading.conditions;
    const leftOut =
      toneLevelDbfs !== last?.conditions.toneLevelDbfs || sourceVolume !== last.conditions.sourceVolume
        ? 'other-level'
        : !reads(meter, frequencyHz)
          ? 'meter'
          : reading.value <= 0
            ? 'nothing'
            : otherFiltersLossDb(others, frequencyHz) > MAX_OTHER_DB
              ? 'other-filter'
              : undefined;
    return [{ frequencyHz, voltageRms: reading.value, readingId: reading.id, ...(leftOut === undefined ? {} : { leftOut }) }];
  });
}

function sweepPoints(points: readonly { hertz: number; db: number }[], others: readonly Filter[]): ProofPoint[] {
  const top = Math.max(...points.map(({ db }) => db));
  return points
    .filter(
      ({ db, hertz }, i) => i % SWEEP_THINNING === 0 && db > top - SWEEP_DEPTH_DB && otherFiltersLossDb(others, hertz) <= MAX_OTHER_DB,
    )
    .map(({ hertz, db }) => ({ frequencyHz: hertz, voltageRms: voltageFactor(db) }));
}

/** A fit takes some milliseconds, and the same points are looked at again and again while others are typed. */
const KEPT_FITS = new Map<string, CrossoverFit>();
const MAX_KEPT = 200;

function keptFit(input: CrossoverFitInput): CrossoverFit {
  const key = JSON.stringify(input);
  const kept = KEPT_FITS.get(key);
  if (kept !== undefined) return kept;
  if (KEPT_FITS.size >= MAX_KEPT) KEPT_FITS.clear();
  const fit = crossoverFit(input);
  KEPT_FITS.set(key, fit);
  return fit;
}

/** The voltages that count, in decibels against the passband: the fit's where there is one, else the highest that was read. */
export function proofLevels({ fit, fitPoints }: FilterProof): { hertz: number; db: number }[] {
  const passbandVolt =
    fit === undefined || fit.verdict === 'not-a-filter'
      ? Math.max(...fitPoints.map(({ voltageRms }) => voltageRms), 1e-9)
      : fit.passbandVoltage;
  return fitPoints.map(({ frequencyHz, voltageRms }) => ({ hertz: frequencyHz, db: voltageRatioDb(voltageRms, passbandVolt) }));
}
