import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { crossoverSum, type SummedWay } from './crossoverSum.ts';
import { delays, speedOfSound } from './delays.ts';
import { polarityByEar, type EarAnswer, type EarDriver, type KnobSetting } from './polarityByEar.ts';
import { relativePhase } from './relativePhase.ts';

describe('phase from three levels', () => {
  it('comes back from the levels that a phase gives', () => {
    const db = fc.double({ min: 60, max: 100, noNaN: true });
    fc.assert(
      fc.property(
        db,
        fc.double({ min: -12, max: 12, noNaN: true }),
        fc.double({ min: 2, max: 178, noNaN: true }),
        (levelADb, apart, deg) => {
          const levelBDb = levelADb + apart;
          const [a, b] = [10 ** (levelADb / 20), 10 ** (levelBDb / 20)];
          const both = Math.sqrt(a * a + b * b + 2 * a * b * Math.cos((deg * Math.PI) / 180));
          const found = relativePhase({ levelADb, levelBDb, levelBothDb: 20 * Math.log10(both) });
          expect(found.possible).toBe(true);
          expect(found.phaseDeg!).toBeCloseTo(deg, 5);
          expect(found.sumAgainstInPhaseDb).toBeLessThanOrEqual(0);
        },
      ),
      { seed: 4620 },
    );
  });
  it.each([
    // Equal levels in phase are 6.02 dB up, at 120 degrees as loud as one of them.
    [80, 80, 86.0206, 0],
    [80, 80, 80, 120],
    [80, 80, 86.4, 0],
    [80, 74, 73.9, 180],
  ])('%d and %d dB, together %d: %d degrees', (levelADb, levelBDb, levelBothDb, deg) => {
    expect(relativePhase({ levelADb, levelBDb, levelBothDb }).phaseDeg!).toBeCloseTo(deg, 0);
  });
  it.each([
    [80, 80, 87, 'louder than the two can be'],
    [80, 70, 75, 'quieter than the two can make it'],
  ])('%d and %d dB are never %d together', (levelADb, levelBDb, levelBothDb, words) => {
    const found = relativePhase({ levelADb, levelBDb, levelBothDb });
    expect(found).toMatchObject({ possible: false, advice: expect.stringContaining(words) as string });
    expect(found.phaseDeg).toBeUndefined();
  });
});

describe('delays', () => {
  it('bring all to the farthest', () => {
    // 343.2 m/s at 20 °C, the handbook figure: a metre is 2.91 ms.
    expect(speedOfSound(20)).toBeCloseTo(343.2, 1);
    const { delaysSecond } = delays({ distancesMetre: { near: 0.5, far: 1.5 } });
    expect(delaysSecond.far).toBe(0);
    expect(delaysSecond.near! * 1000).toBeCloseTo(2.914, 3);
  });
  it('refuse what is no distance, at its driver', () => {
    expect(() => delays({ distancesMetre: {} })).toThrow('one driver or more');
    expect(() => delays({ distancesMetre: { a: -1 } })).toThrow('a: distance');
    expect(() => delays({ distancesMetre: { a: 1 }, temperatureCelsius: -300 })).toThrow('temperature');
  });
});

describe('the sum of a crossover', () => {
  const way = (kind: 'lowpass' | 'highpass', order: number, changes: Partial<SummedWay> = {}): SummedWay => ({
    filters: [{ kind, family: 'linkwitz-riley', order, cornerHz: 100 }],
    ...changes,
  });
  const HERTZ = [30, 80, 100, 125, 400];
  // S. H. Linkwitz, "Active Crossover Networks for Noncoincident Drivers", JAES 24 (1976): flat, with one of second order reversed.
  it.each([
    [2, true],
    [4, false],
    [8, false],
  ])('of Linkwitz-Riley filters of order %d is flat', (order, reversed) => {
    const { magnitudeDb, againstInPhaseDb } = crossoverSum({
      ways: [way('lowpass', order), way('highpass', order, { reversed })],
      frequenciesHz: HERTZ,
    });
    for (const db of magnitudeDb) expect(db).toBeCloseTo(0, 9);
    expect(againstInPhaseDb[2]).toBeCloseTo(0, 9);
  });
  it('comes to nothing at the corner of second order in like polarity', () => {
    expect(crossoverSum({ ways: [way('lowpass', 2), way('highpass', 2)], frequenciesHz: [100] })).toEqual({
      magnitudeDb: [-300],
      phaseDeg: [0],
      againstInPhaseDb: [-300],
    });
  });
  it('turns back with a delay of all ways by as much', () => {
    const late = 0.0004;
    const [plain, delayed] = [0, late].map((delaySecond) =>
      crossoverSum({ ways: [way('lowpass', 4, { delaySecond }), way('highpass', 4, { delaySecond })], frequenciesHz: HERTZ }),
    );
    HERTZ.forEach((hertz, i) => {
      expect(delayed!.magnitudeDb[i]).toBeCloseTo(plain!.magnitudeDb[i]!, 9);
      const turn = (((plain!.phaseDeg[i]! - delayed!.phaseDeg[i]! - 360 * hertz * late) % 360) + 540) % 360;
      expect(turn).toBeCloseTo(180, 6);
    });
  });
  it('names the filter that is none', () => {
    const wrong: SummedWay = { filters: [{ kind: 'lowpass', family: 'linkwitz-riley', order: 3, cornerHz: 100 }] };
    expect(() => crossoverSum({ ways: [wrong, way('highpass', 4)], frequenciesHz: [100] })).toThrow();
  });
});

describe('polarity by ear', () => {
  const DRIVERS: EarDriver[] = (['front', 'rear'] as const).flatMap((row) =>
    (['left', 'right'] as const).map((side): EarDriver => ({ name: `${row} ${side}`, side, row })),
  );
  /** Somebody who hears a car in which these are reversed, and answers truly. */
  const hears = (drivers: readonly EarDriver[], reversed: ReadonlySet<string>, { balance, fader }: KnobSetting): number =>
    Math.abs(
      drivers
        .filter(({ side, row }) => (balance === 'centre' || side === 'centre' || side === balance) && (fader === 'centre' || row === fader))
        .reduce((sum, { name }) => sum + (reversed.has(name) ? -1 : 1), 0),
    );
  function play(drivers: readonly EarDriver[], reversed: ReadonlySet<string>) {
    const answers: EarAnswer[] = [];
    for (;;) {
      const state = polarityByEar({ drivers, answers });
      if (state.next === undefined) return { ...state, asked: answers.length };
      const { first, second } = state.next;
      const gap = hears(drivers, reversed, first) - hears(drivers, reversed, second);
      answers.push({ first, second, fuller: gap > 0 ? 'first' : gap < 0 ? 'second' : 'same' });
    }
  }
  it('finds the one that is reversed among four, in few questions, whichever it is', () => {
    for (const { name } of DRIVERS) {
      const { candidates, asked } = play(DRIVERS, new Set([name]));
      expect(candidates.map(({ reversed }) => reversed)).toContainEqual([name]);
      expect(asked).toBeLessThanOrEqual(6);
    }
  });
  it('never loses the truth, whatever is reversed', () => {
    fc.assert(
      fc.property(fc.subarray(DRIVERS.map(({ name }) => name)), (names) => {
        const { verdict, candidates } = play(DRIVERS, new Set(names));
        expect(verdict).not.toBe('contradiction');
        const others = DRIVERS.map(({ name }) => name).filter((name) => !names.includes(name));
        expect(candidates.some(({ reversed }) => [names, others].some((set) => set.join() === reversed.join()))).toBe(true);
      }),
      { seed: 4620 },
    );
  });
  it('says when answers contradict each other, and names the knobs in its questions', () => {
    const middle: KnobSetting = { balance: 'centre', fader: 'centre' };
    const left: KnobSetting = { balance: 'left', fader: 'front' };
    const fuller = (which: EarAnswer['fuller']): EarAnswer => ({ first: middle, second: left, fuller: which });
    expect(polarityByEar({ drivers: DRIVERS, answers: [fuller('first'), fuller('second')] })).toEqual({
      verdict: 'contradiction',
      candidates: [],
    });
    expect(polarityByEar({ drivers: DRIVERS, answers: [] }).next!.words).toMatch(/balance (left|right|centre), fader (front|rear|centre)/);
  });
  it.each([
    [[DRIVERS[0]!], 'two to 8'],
    [[DRIVERS[0]!, DRIVERS[0]!], 'two drivers are named'],
  ])('refuses drivers that it cannot tell apart', (drivers, words) => {
    expect(() => polarityByEar({ drivers, answers: [] })).toThrow(words);
  });
});
