// Neighbours brought together by levels alone: forty made-up vehicles, against the best that any delay and polarity can do there.
import { describe, expect, it } from 'vitest';
import { crossoverSum } from './crossoverSum.ts';
import { filterAt } from '../crossovers/crossoverResponse.ts';
import type { Filter } from '../crossovers/filters.ts';
import { seededRandom } from '../numerics/random.ts';
import {
  alignNeighbours,
  meanLossDb,
  neighbourPhaseDeg,
  togetherDb,
  type NeighbourSetting,
  type NeighbourTone,
  type NeighbourTrial,
} from './alignNeighbours.ts';

const STEP_SECOND = 1 / 48_000;
const FAMILIES = [
  { family: 'linkwitz-riley', order: 4 },
  { family: 'butterworth', order: 2 },
  { family: 'butterworth', order: 3 },
  { family: 'linkwitz-riley', order: 2 },
] as const;

interface Vehicle {
  tones: NeighbourTone[];
  bothDb: (setting: NeighbourSetting, noise: boolean) => number[];
}

/** A vehicle with ways, polarity, filters and a cabin that bends levels and phases from tone to tone. */
function vehicle(index: number): Vehicle {
  const random = seededRandom(`neighbours ${index}`);
  const between = (low: number, high: number): number => low + (high - low) * random.uniform();
  const cornerHz = between(55, 110);
  const { family, order } = FAMILIES[index % FAMILIES.length]!;
  const low: Filter = { kind: 'lowpass', family, order, cornerHz };
  const high: Filter = { kind: 'highpass', family, order, cornerHz };
  const later = between(-0.006, 0.006);
  const isSwapped = random.uniform() < 0.3;
  const [lowerDb, upperDb] = [between(82, 90), between(82, 90)];
  const tones = [cornerHz / Math.SQRT2, cornerHz, cornerHz * Math.SQRT2].map((hertz) => {
    const [a, b] = [filterAt(low, hertz), filterAt(high, hertz)];
    return { hertz, lowerDb: lowerDb + a.db + between(-2, 2), upperDb: upperDb + b.db + between(-2, 2), filterPhaseDeg: b.deg - a.deg };
  });
  const cabinDeg = tones.map(() => between(-15, 15));
  return {
    tones,
    bothDb: (setting, noise) =>
      tones.map((tone, i) => {
        const phase = neighbourPhaseDeg(tone, later, isSwapped, setting) + cabinDeg[i]!;
        const db = togetherDb(tone.lowerDb, tone.upperDb, phase);
        return noise ? Math.round(10 * (db + between(-0.3, 0.3))) / 10 : db;
      }),
  };
}

/** The best mean of all settings that the processor has. */
function bestOf({ tones, bothDb }: Vehicle): number {
  let best = -Infinity;
  for (const isReversed of [false, true])
    for (let delay = -0.012; delay <= 0.012; delay += 0.000_02)
      best = Math.max(best, meanLossDb(tones, bothDb({ delaySecond: delay, isReversed }, false)));
  return best;
}

describe('forty vehicles', () => {
  const ends = Array.from({ length: 40 }, (_, index) => {
    const car = vehicle(index);
    const trials: NeighbourTrial[] = [];
    let setting: NeighbourSetting = { delaySecond: 0, isReversed: false };
    for (let trial = 0; trial < 6; trial += 1) {
      trials.push({ setting, bothDb: car.bothDb(setting, true) });
      const { best } = alignNeighbours(car.tones, trials, { stepSecond: STEP_SECOND });
      if (best.isReversed === setting.isReversed && Math.abs(best.delaySecond - setting.delaySecond) < 2 * STEP_SECOND) break;
      setting = best;
    }
    // The better one is kept.
    const kept = trials.reduce((a, b) => (meanLossDb(car.tones, b.bothDb) > meanLossDb(car.tones, a.bothDb) ? b : a));
    return { index, trials: trials.length, missDb: bestOf(car) - meanLossDb(car.tones, car.bothDb(kept.setting, false)) };
  });
  it('end within half a decibel of the best sum', () => {
    expect(ends.filter(({ missDb }) => missDb > 0.5)).toEqual([]);
  });
  it('after few trials', () => {
    expect(ends.reduce((sum, { trials }) => sum + trials, 0) / ends.length).toBeLessThan(4.5);
  });
});

describe('the model', () => {
  it('adds as the filters of a crossover do', () => {
    // Second order, Linkwitz-Riley: a null at the corner, and with one reversed level with the drive all over (textbook).
    const ways = (reversed: boolean) => [
      { filters: [{ kind: 'lowpass' as const, family: 'linkwitz-riley' as const, order: 2, cornerHz: 80 }] },
      { filters: [{ kind: 'highpass' as const, family: 'linkwitz-riley' as const, order: 2, cornerHz: 80 }], reversed },
    ];
    const tone = { hertz: 80, lowerDb: -6.02, upperDb: -6.02, filterPhaseDeg: 180 };
    for (const isReversed of [false, true]) {
      const phase = neighbourPhaseDeg(tone, 0, false, { delaySecond: 0, isReversed });
      const sum = crossoverSum({ ways: ways(isReversed), frequenciesHz: [80] }).magnitudeDb[0]!;
      expect(Math.max(-50, togetherDb(tone.lowerDb, tone.upperDb, phase))).toBeCloseTo(Math.max(-50, sum), 1);
    }
  });
  it('by hand: two of one level at 90 degrees make 3.01 dB more than one, at 0 degrees 6.02', () => {
    expect(togetherDb(80, 80, 90)).toBeCloseTo(83.01, 2);
    expect(togetherDb(80, 80, 0)).toBeCloseTo(86.02, 2);
  });
  it('leaves what is together as it is', () => {
    const tones = [60, 80, 110].map((hertz) => ({ hertz, lowerDb: 84, upperDb: 84, filterPhaseDeg: 0 }));
    const present = { delaySecond: 0.001, isReversed: false };
    const { best, bestLossDb } = alignNeighbours(tones, [{ setting: present, bothDb: [90, 90, 90] }], { stepSecond: STEP_SECOND });
    expect(best.isReversed).toBe(false);
    expect(Math.abs(best.delaySecond - present.delaySecond)).toBeLessThan(0.0006);
    expect(bestLossDb).toBeGreaterThan(-0.5);
  });
});
