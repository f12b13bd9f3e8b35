import { ordersOf } from '../../../crossovers/filters.ts';
import type { ActiveFilter } from '../../../job/chain.ts';
import { degreesOf } from '../../../numerics/complex.ts';
import { neighbourPhaseDeg, togetherDb, type NeighbourSetting } from '../../../phase/alignNeighbours.ts';
import { formatQuantity } from '../../../units/formatQuantity.ts';
import { groupName, groupAt, groupDb, type AlikeGroups, type ProvedFilters } from '../../../ways/driverGroups.ts';
import { provedNow } from '../../frame/channels.ts';
import type { Situation } from '../../frame/situation.ts';
import { USUAL_DELAY_STEP_SECOND } from '../delay/kind.ts';
import { neighbourSettingWords, type MeetingFigures } from './judge.ts';
import { asWired, type MeetingSubject } from './subject.ts';

/** One thing that could be changed where two ways meet. */
export interface NeighbourTry {
  what: 'polarity' | 'delay' | 'corner' | 'slope';
  words: string;
  /** what both together should gain on average over the tones, in dB */
  gainDb: number;
  /** where delay and polarity alone do it */
  setting?: NeighbourSetting;
}

const MAX_SECOND = 0.012;
const SCAN_SECOND = 0.000_1;
/** Corners are tried this far to either side; more is another crossover. Common practice, no source. */
const CORNER_FACTOR = 2 ** (1 / 3);
/** Slopes that gear has. */
const ORDERS: readonly number[] = [2, 4];
/** Less is not worth a hand on the processor. */
const WORTH_DB = 0.2;

/**
 * What could be tried where two ways meet, in the order in which it costs least: polarity, delay, corner, slope; each alone, with what the
 * filters of the chain predict of it. The levels that were measured are carried on by the filters, the way between the two is the one that
 * the levels told; without levels both are taken for equally loud.
 *
 * @returns only what promises something
 */
export function neighbourTries(
  step: MeetingSubject,
  now: Situation,
  figures: Pick<MeetingFigures, 'tones' | 'alignment' | 'setting'>,
): NeighbourTry[] {
  const proved = provedNow(now);
  const ways: Ways = { lower: asWired(step.lower), upper: asWired(step.upper), proved };
  const { laterSecond = 0, isSwapped = false } = figures.alignment ?? {};
  const meanDb = (others: Ways, setting: NeighbourSetting, mostDb = Infinity): number =>
    step.tones.reduce((sum, { hertz }, k) => {
      const tone = figures.tones[k];
      const lowerDb = (tone?.lowerDb ?? groupDb(ways.lower, hertz, proved)) + levelChange(ways, others, 'lower', hertz);
      const upperDb = (tone?.upperDb ?? groupDb(ways.upper, hertz, proved)) + levelChange(ways, others, 'upper', hertz);
      const phase = neighbourPhaseDeg({ hertz, filterPhaseDeg: filterPhase(others, hertz) }, laterSecond, isSwapped, setting);
      return sum + Math.min(mostDb, togetherDb(lowerDb, upperDb, phase)) / step.tones.length;
    }, 0);
  const { setting } = figures;
  const presentDb = meanDb(ways, setting);
  // Ways that overlap are louder where they do: only what a gap or a phase takes away is to be won by another corner or slope, no hump.
  const levelDb = Math.max(passbandDb(ways, 'lower', step, figures), passbandDb(ways, 'upper', step, figures));
  const filledDb = (others: Ways): number => meanDb(others, setting, levelDb) - meanDb(ways, setting, levelDb);
  const names = { lower: groupName(step.lower), upper: groupName(step.upper) };
  const bestDelay = (isReversed: boolean): NeighbourSetting => {
    const { stepSecond = USUAL_DELAY_STEP_SECOND } = now.chain.listening ?? {};
    let best = { ...setting, isReversed };
    let bestDb = meanDb(ways, best);
    for (let second = -MAX_SECOND; second <= MAX_SECOND; second += SCAN_SECOND) {
      const tried = { delaySecond: Math.round(second / stepSecond) * stepSecond, isReversed };
      const db = meanDb(ways, tried);
      // Of settings that do alike the one nearest to what is set.
      const isNearer = Math.abs(tried.delaySecond - setting.delaySecond) < Math.abs(best.delaySecond - setting.delaySecond);
      if (db > bestDb + 0.05 || (db > bestDb - 0.05 && isNearer && best !== setting)) [best, bestDb] = [tried, Math.max(db, bestDb)];
    }
    return best;
  };
  const turned = { ...setting, isReversed: !setting.isReversed };
  const delayed = bestDelay(setting.isReversed);
  const tries: NeighbourTry[] = [
    { what: 'polarity', words: neighbourSettingWords(turned, names), gainDb: meanDb(ways, turned) - presentDb, setting: turned },
    { what: 'delay', words: neighbourSettingWords(delayed, names), gainDb: meanDb(ways, delayed) - presentDb, setting: delayed },
    ...bestOf(
      cornerChanges(ways, names).map((each) => ({ ...each, gainDb: filledDb(each.ways) })),
      'corner',
    ),
    ...bestOf(
      slopeChanges(ways).map((each) => ({ ...each, gainDb: filledDb(each.ways) })),
      'slope',
    ),
  ];
  return tries.filter(({ gainDb }) => gainDb >= WORTH_DB);
}

/** What one way alone makes where its filters take nothing, as far as it was measured. */
function passbandDb(ways: Ways, which: 'lower' | 'upper', step: MeetingSubject, { tones }: Pick<MeetingFigures, 'tones'>): number {
  const known = step.tones.flatMap(({ hertz }, k) => {
    const db = tones[k]?.[which === 'lower' ? 'lowerDb' : 'upperDb'];
    return db === undefined ? [] : [db - groupDb(ways[which], hertz, ways.proved)];
  });
  return known.length === 0 ? 0 : known.reduce((sum, db) => sum + db, 0) / known.length;
}

interface Ways {
  lower: AlikeGroups;
  upper: AlikeGroups;
  proved: ProvedFilters;
}
interface Change {
  words: string;
  ways: Ways;
}

const bestOf = (changes: readonly (Change & { gainDb: number })[], what: 'corner' | 'slope'): NeighbourTry[] => {
  const best = changes.reduce<(Change & { gainDb: number }) | undefined>(
    (a, b) => (a === undefined || b.gainDb > a.gainDb ? b : a),
    undefined,
  );
  return best === undefined ? [] : [{ what, words: best.words, gainDb: best.gainDb }];
};

const filterPhase = ({ lower, upper, proved }: Ways, hertz: number): number =>
  degreesOf(groupAt(upper, hertz, proved)) - degreesOf(groupAt(lower, hertz, proved));

const levelChange = (from: Ways, to: Ways, which: 'lower' | 'upper', hertz: number): number =>
  groupDb(to[which], hertz, to.proved) - groupDb(from[which], hertz, from.proved);

/** The filters that part the two: the low-pass of the lower one, the high-pass of the upper one. */
const partingFilter = (ways: Ways, which: 'lower' | 'upper'): ActiveFilter | undefined =>
  ways[which].filters.find(({ kind }) => kind === (which === 'lower' ? 'lowpass' : 'highpass'));

/** With one filter set otherwise: what measuring found of the old setting says nothing of the new one. */
function withFilter(ways: Ways, which: 'lower' | 'upper', change: Partial<Pick<ActiveFilter, 'cornerHz' | 'order'>>): Ways {
  const old = partingFilter(ways, which);
  if (old === undefined) return ways;
  const filters = ways[which].filters.map((filter) => (filter.id === old.id ? { ...filter, ...change } : filter));
  return { ...ways, [which]: { ...ways[which], filters }, proved: new Map([...ways.proved].filter(([id]) => id !== old.id)) };
}

function cornerChanges(ways: Ways, names: { lower: string; upper: string }): Change[] {
  return (['lower', 'upper'] as const).flatMap((which) => {
    const filter = partingFilter(ways, which);
    if (filter === undefined) return [];
    return [1 / CORNER_FACTOR, CORNER_FACTOR].map((factor) => {
      const cornerHz = Number((filter.cornerHz * factor).toPrecision(2));
      return {
        words: `the ${which === 'lower' ? 'low-pass' : 'high-pass'} of ${names[which]} at ${formatQuantity(cornerHz, 'Hz')}`,
        ways: withFilter(ways, which, { cornerHz }),
      };
    });
  });
}

/** Both slopes together: two of different steepness turn the phase apart. */
function slopeChanges(ways: Ways): Change[] {
  const [low, high] = [partingFilter(ways, 'lower'), partingFilter(ways, 'upper')];
  if (low === undefined || high === undefined) return [];
  return ORDERS.filter((order) => order !== low.order || order !== high.order)
    .filter((order) => ordersOf(low.family).includes(order) && ordersOf(high.family).includes(order))
    .map((order) => ({
      words: `both slopes at ${6 * order} dB an octave`,
      ways: withFilter(withFilter(ways, 'lower', { order }), 'upper', { order }),
    }));
}
