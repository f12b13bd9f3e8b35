import type { Channel, CurvePoint, ResponseTarget } from '../../../job/chain.ts';
import { settingKey } from '../../../job/channelEqualiser.ts';
import type { AirConditions } from '../../../job/conditions.ts';
import type { TraceRecord, TuneSettings } from '../../../job/records.ts';
import { lastResult } from '../../../numerics/lastResult.ts';
import { levelAt, octavePoints, pointsLevelDb, type LevelCurve } from '../../../response/curve.ts';
import { responseAverage, type ResponseAverage } from '../../../response/responseAverage.ts';
import { channelGroups, groupDb } from '../../../ways/driverGroups.ts';
import type { ChannelNow } from '../../frame/channels.ts';
import { tracesAt, type Situation } from '../../frame/situation.ts';

/** One place of the microphone, by its newest recording. */
export interface PlaceCurve extends LevelCurve {
  place: string;
  /** of a sweep that was recorded here, by thirds of an octave: left out for a table, and for what an older version judged */
  beside?: {
    /** at the curve's own level */
    noise: LevelCurve;
    distortion: readonly { hertz: number; percent: number }[];
    driftPpm: number;
  };
}

/** What a channel's sweeps say, all through one setting of filters and equaliser. */
export interface MeasuredCurves {
  places: PlaceCurve[];
  /** over the places, mean of the power; left out where a range that all of them reach is missing */
  average?: ResponseAverage;
  /** measured through the filters of now, and no equaliser */
  isWithoutBands?: true;
}

/** A twelfth of an octave, as the sweeps are given. */
const POINTS_PER_OCTAVE = 12;
const LOWEST_HZ = 20;
const HIGHEST_HZ = 16_000;
/** What the filters take less than this off is played by the channel. */
const PLAYED_DB = 6;

const keptCurves = lastResult<{ present: MeasuredCurves; before: MeasuredCurves }>();

/** What was measured through the present setting, and through the one before it. */
export function curvesOf({ channel }: ChannelNow, now: Situation, id: string): { present: MeasuredCurves; before: MeasuredCurves } {
  const traces = tracesAt(now, id, 'air');
  const { calibration } = now.settings.microphone ?? {};
  return keptCurves(channel, id, [calibration, ...traces.map(({ id: traceId }) => traceId)], () => {
    const key = settingKey(channel);
    const keyOf = (trace: (typeof traces)[number]): string => trace.conditions.channelFilters ?? '';
    const newest = traces.findLast((trace) => keyOf(trace) === key)?.takenAt;
    // What was measured later through bands that were taken back again is no before.
    const last = traces.findLast((trace) => keyOf(trace) !== key && (newest === undefined || trace.takenAt < newest));
    return {
      present: measured(
        traces.filter((trace) => keyOf(trace) === key),
        rangeOf(channel),
        calibration,
      ),
      before:
        last === undefined
          ? { places: [] }
          : {
              ...measured(
                traces.filter((trace) => keyOf(trace) === keyOf(last)),
                rangeOf(channel),
                calibration,
              ),
              ...(keyOf(last) === settingKey({ ...channel, equaliser: [] }) ? { isWithoutBands: true as const } : {}),
            },
    };
  });
}

function measured(
  traces: readonly TraceRecord<AirConditions>[],
  range: FrequencyRange,
  calibration: readonly CurvePoint[] | undefined,
): MeasuredCurves {
  const byPlace = new Map<string, PlaceCurve>();
  for (const { analysis, conditions } of traces) {
    const labels = conditions.sweep?.labels ?? [conditions.position];
    for (const [k, { response, curve, clipping }] of analysis.channels.entries()) {
      // A recording that sits on its rails bends what it shows.
      const read = curve ?? (response?.kind === 'response' && clipping.verdict !== 'over-range' ? response.points : undefined);
      if (read === undefined) continue;
      const place = labels[k] ?? `${labels[0] ?? 'microphone'}, ${k + 1}`;
      const points = read.filter(({ db }) => Number.isFinite(db));
      // A table was made by a program that knows its own microphone.
      const shownDb = curve === undefined ? (hertz: number) => pointsLevelDb(calibration, hertz) : () => 0;
      byPlace.set(place, {
        place,
        frequenciesHz: points.map(({ hertz }) => hertz),
        levelDb: points.map(({ hertz, db }) => db - shownDb(hertz)),
        ...(response?.kind === 'response' && response.noise !== undefined
          ? {
              beside: {
                noise: {
                  frequenciesHz: response.noise.map(({ hertz }) => hertz),
                  levelDb: response.noise.map(({ hertz, db }) => db - shownDb(hertz)),
                },
                distortion: response.distortion ?? [],
                driftPpm: response.driftPpm ?? 0,
              },
            }
          : {}),
      });
    }
  }
  const places = [...byPlace.values()].filter(({ frequenciesHz }) => frequenciesHz.length > 1);
  if (places.length === 0) return { places };
  const fromHz = Math.max(LOWEST_HZ, ...places.map(({ frequenciesHz }) => frequenciesHz[0]!)) * 1.001;
  const toHz = Math.min(HIGHEST_HZ, ...places.map(({ frequenciesHz }) => frequenciesHz.at(-1)!)) * 0.999;
  return toHz <= 2 * fromHz ? { places } : averaged(places, { fromHz, toHz }, range);
}

/**
 * Every place at the level of the first one: a table of another program stands in decibels of its own, and a place that is louder as a whole
 * is no other response.
 */
function averaged(places: readonly PlaceCurve[], whole: FrequencyRange, range: FrequencyRange): MeasuredCurves {
  const [from, to] = [Math.max(whole.fromHz, range.fromHz), Math.min(whole.toHz, range.toHz)];
  const points = to > from ? octavePoints(from, to, POINTS_PER_OCTAVE) : [Math.sqrt(whole.fromHz * whole.toHz)];
  const meanDb = (curve: LevelCurve): number => points.reduce((sum, hertz) => sum + levelAt(curve, hertz), 0) / points.length;
  const first = meanDb(places[0]!);
  const alike = places.map((curve) => {
    const offDb = first - meanDb(curve);
    const moved = <C extends LevelCurve>(of: C): C => ({ ...of, levelDb: of.levelDb.map((db) => db + offDb) });
    const { beside } = curve;
    return { ...moved(curve), ...(beside === undefined ? {} : { beside: { ...beside, noise: moved(beside.noise) } }) };
  });
  return { places: alike, average: responseAverage({ curves: alike, ...whole, pointsPerOctave: POINTS_PER_OCTAVE }) };
}

/** Where nothing is said a target lies so far below the mean that cuts do most of the work. Common practice, no source. */
export const USUAL_TARGET_LEVEL_DB = -2;

export interface FrequencyRange {
  fromHz: number;
  toHz: number;
}

const keptRanges = new WeakMap<Channel, FrequencyRange>();

/** Where a channel plays by its filters, and the tuner's own range on top. */
export function rangeOf(channel: Channel): FrequencyRange {
  const known = keptRanges.get(channel) ?? workOutRange(channel);
  // Asked at every change of a tune, and follows from the channel alone.
  keptRanges.set(channel, known);
  return known;
}

function workOutRange(channel: Channel): FrequencyRange {
  const { fromHz, toHz } = channel.responseTarget ?? {};
  const widest = channel.band === 'bass' ? { from: 20, to: 200 } : { from: 40, to: 12_000 };
  const points = octavePoints(widest.from, widest.to, POINTS_PER_OCTAVE);
  const shape = filterShape(channel);
  const levels = points.map(shape);
  const top = Math.max(...levels);
  const played = points.filter((_, k) => levels[k]! >= top - PLAYED_DB);
  const [low, high] = [played[0] ?? widest.from, played.at(-1) ?? widest.to];
  return { fromHz: fromHz ?? round(low), toHz: toHz ?? round(high) };
}

const round = (hertz: number): number => Number(hertz.toPrecision(2));

/** What a channel's filters leave of every frequency, in dB below the most that they leave of any. */
function filterShape(channel: Channel): (hertz: number) => number {
  const groups = channelGroups({ ...channel, equaliser: [] });
  const raw = (hertz: number): number => Math.max(...groups.map((group) => groupDb(group, hertz)));
  const top = Math.max(...octavePoints(LOWEST_HZ, HIGHEST_HZ, POINTS_PER_OCTAVE).map(raw));
  return (hertz) => raw(hertz) - top;
}

/** What a wanted response adds to a level line at one frequency. */
export function targetShapeDb({ tiltDb = 0, shelfDb = 0, shelfHz = 80, points }: ResponseTarget, hertz: number, middleHz: number): number {
  // A gentle shelf: half of it at its corner, four fifths an octave below.
  const shelf = shelfDb / (1 + (hertz / shelfHz) ** 2);
  return tiltDb * Math.log2(hertz / middleHz) + shelf + pointsLevelDb(points, hertz);
}

/** What a channel's response is wanted to be: its own word, else the house's curve. */
export function wantedOf(
  { responseTarget }: Pick<Channel, 'responseTarget'>,
  { houseCurve }: Pick<TuneSettings, 'houseCurve'>,
): ResponseTarget {
  const { tiltDb, shelfDb, points } = responseTarget ?? {};
  const isSaid = tiltDb !== undefined || shelfDb !== undefined || points !== undefined;
  return isSaid || houseCurve === undefined ? (responseTarget ?? {}) : { ...responseTarget, points: houseCurve };
}

/**
 * Response, target and how far they lie apart over a range. The target lies at the response's own mean, moved as the tuner wishes, and
 * falls with the channel's own filters: what a crossover takes, no band gives back.
 */
export function againstTarget(
  curve: LevelCurve,
  channel: Channel,
  { fromHz, toHz }: FrequencyRange,
  target: ResponseTarget = channel.responseTarget ?? {},
): { target: LevelCurve; offDb: number } {
  const points = octavePoints(fromHz, toHz, POINTS_PER_OCTAVE).filter(
    (hertz) => hertz >= curve.frequenciesHz[0]! && hertz <= curve.frequenciesHz.at(-1)!,
  );
  const middle = Math.sqrt(fromHz * toHz);
  const filtered = filterShape(channel);
  const shapeAt = (hertz: number): number => targetShapeDb(target, hertz, middle) + filtered(hertz);
  const shape = points.map(shapeAt);
  const levels = points.map((hertz) => levelAt(curve, hertz));
  const meanDb = levels.reduce((sum, db, k) => sum + db - shape[k]!, 0) / Math.max(1, points.length);
  const square = levels.reduce((sum, db, k) => sum + (db - shape[k]! - meanDb) ** 2, 0) / Math.max(1, points.length);
  const moved = meanDb + (target.levelDb ?? USUAL_TARGET_LEVEL_DB);
  return {
    target: {
      frequenciesHz: curve.frequenciesHz,
      levelDb: curve.frequenciesHz.map((hertz) => moved + shapeAt(hertz)),
    },
    offDb: Math.sqrt(square),
  };
}
