import {
  crossoverFit,
  LEAST_FIT_POINTS,
  type CrossoverFit,
  type CrossoverFitInput,
  type FittedFilter,
} from '../crossovers/crossoverFit.ts';
import type { Filter } from '../crossovers/filters.ts';
import { othersTake, reads } from '../crossovers/proofPoints.ts';
import { voltageFactor } from '../levels/decibels.ts';
import type { ActiveFilter, Chain, Channel } from './chain.ts';
import { isLineTrace, isToneReading, type LineTrace, type ProvedSetting, type ToneReading, type TuneSettings } from './records.ts';
import { newest, type FilterProof, type ProofPoint, type RunRecords } from './state.ts';
import { filtersOf, type ProvedFilters } from './voices.ts';

/** Beyond this the other filters' own errors show. */
const MOST_OTHER_DB = 12;
/** Points of a sweep lower than this are mostly noise. */
const SWEEP_DEPTH_DB = 40;
/** One point of four: twelfths of an octave become thirds. */
const SWEEP_THINNING = 4;

type Measured = Pick<RunRecords, 'readings' | 'traces'>;

/** The proof of every filter of a channel that anything was measured of, or that wants it. */
export function channelProofs(channel: Channel, { meter }: Pick<TuneSettings, 'meter'>, records: Measured): FilterProof[] {
  const filters = filtersOf(channel);
  const measured = filters.map((filter) => gathered(filter, records));
  // Twice: what the first round finds of one filter is taken off the voltages of the next.
  let working = new Map<string, Filter>(filters.map((filter) => [filter.id, filter]));
  let proofs: FilterProof[] = [];
  for (let round = 0; round < 2; round += 1) {
    const from = working;
    proofs = measured.map((each) => {
      const others = filters.filter(({ id }) => id !== each.filter.id).map(({ id }) => from.get(id)!);
      return fitted(each, others, meter);
    });
    working = new Map(proofs.map((proof) => [proof.filter.id, foundFilter(proof) ?? proof.filter]));
    if (filters.length === 1) break;
  }
  return proofs;
}

/** What measuring found of every filter of a chain. */
export function provedFilters(chain: Chain, settings: Pick<TuneSettings, 'meter'>, records: Measured): ProvedFilters {
  const proved = new Map<string, Filter>();
  for (const channel of chain.channels) {
    if (channel.filters === undefined || channel.filters.length === 0) continue;
    for (const proof of channelProofs(channel, settings, records)) {
      const found = foundFilter(proof);
      if (found !== undefined) proved.set(proof.filter.id, found);
    }
  }
  return proved;
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
  readings: ToneReading[];
  sweep?: LineTrace;
  outdated?: Filter;
}

const isSetting = (then: ProvedSetting | undefined, now: Filter): then is ProvedSetting =>
  then !== undefined && then.kind === now.kind && then.family === now.family && then.order === now.order && then.cornerHz === now.cornerHz;

/** The newest series of voltages, or a sweep that was captured after it. */
function gathered(filter: ActiveFilter, { readings, traces }: Measured): Gathered {
  const own = readings
    .filter(isToneReading)
    .filter((r) => r.kind === 'filter-voltage' && r.stepId === `crossover:${filter.id}` && r.voidedReason === undefined);
  const sweeps = traces
    .filter(isLineTrace)
    .filter((t) => t.stepId === `crossover:${filter.id}` && t.voidedReason === undefined && t.conditions.sweep !== undefined);
  const valid = own.filter(({ conditions }) => isSetting(conditions.filter, filter));
  const sweep = newest(sweeps, ({ conditions }) => isSetting(conditions.filter, filter));
  const series = Math.max(1, ...valid.map(({ conditions }) => conditions.filter?.series ?? 1), sweep?.conditions.filter?.series ?? 1);
  const inSeries = valid.filter(({ conditions }) => conditions.filter?.series === series);
  const last = newest(inSeries, () => true);
  const isSweepNewer = sweep?.conditions.filter?.series === series && (last === undefined || sweep.takenAt > last.takenAt);
  const before = valid.length === 0 && sweep === undefined ? newest([...own, ...sweeps], () => true)?.conditions.filter : undefined;
  return {
    filter,
    series,
    readings: isSweepNewer ? [] : inSeries,
    ...(isSweepNewer ? { sweep } : {}),
    ...(before === undefined ? {} : { outdated: before }),
  };
}

function fitted(
  { filter, series, readings, sweep, outdated }: Gathered,
  others: readonly Filter[],
  meter: TuneSettings['meter'],
): FilterProof {
  const shared = { filter, series, ...(outdated === undefined ? {} : { outdated }) };
  const response = sweep?.analysis.channels[sweep.channelIndex]?.response;
  if (response?.kind === 'no-sweep') return { ...shared, from: 'sweep', points: [], fitPoints: [], failedSweep: response.reason };
  const points = response === undefined ? pointsOf(readings, others, meter) : sweepPoints(response.points, others);
  const fitPoints = points
    .filter(({ leftOut }) => leftOut === undefined)
    .map(({ frequencyHz, voltageRms }) => ({ frequencyHz, voltageRms: voltageRms * voltageFactor(othersTake(others, frequencyHz)) }));
  const fit = fitPoints.length < LEAST_FIT_POINTS ? undefined : keptFit({ kind: filter.kind, points: fitPoints });
  return { ...shared, from: response === undefined ? 'voltages' : 'sweep', points, fitPoints, ...(fit === undefined ? {} : { fit }) };
}

/** The newest voltage of each frequency, in the order of frequency. */
function pointsOf(readings: readonly ToneReading[], others: readonly Filter[], meter: TuneSettings['meter']): ProofPoint[] {
  const last = newest(readings, () => true);
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
            : othersTake(others, frequencyHz) > MOST_OTHER_DB
              ? 'other-filter'
              : undefined;
    return [{ frequencyHz, voltageRms: reading.value, readingId: reading.id, ...(leftOut === undefined ? {} : { leftOut }) }];
  });
}

function sweepPoints(points: readonly { hertz: number; db: number }[], others: readonly Filter[]): ProofPoint[] {
  const top = Math.max(...points.map(({ db }) => db));
  return points
    .filter(({ db, hertz }, i) => i % SWEEP_THINNING === 0 && db > top - SWEEP_DEPTH_DB && othersTake(others, hertz) <= MOST_OTHER_DB)
    .map(({ hertz, db }) => ({ frequencyHz: hertz, voltageRms: voltageFactor(db) }));
}

/** A fit takes some milliseconds, and the same points are looked at again and again while others are typed. */
const KEPT_FITS = new Map<string, CrossoverFit>();
const MOST_KEPT = 200;

function keptFit(input: CrossoverFitInput): CrossoverFit {
  const key = JSON.stringify(input);
  const kept = KEPT_FITS.get(key);
  if (kept !== undefined) return kept;
  if (KEPT_FITS.size >= MOST_KEPT) KEPT_FITS.clear();
  const fit = crossoverFit(input);
  KEPT_FITS.set(key, fit);
  return fit;
}
