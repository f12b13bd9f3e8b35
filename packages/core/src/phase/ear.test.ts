// Every single and double fault among two to eight drivers, heard by an ear that is right, and by one that is wrong one time in ten.
import { describe, expect, it } from 'vitest';
import { seededRandom } from '../numerics/random.ts';
import { earCertainty, polarityByEar, type EarAnswer, type EarDriver, type KnobSetting } from './polarityByEar.ts';

const seat = (row: EarDriver['row'], side: EarDriver['side'], of = ''): EarDriver => ({ name: `${row} ${side}${of}`, row, side });
const [fl, fr, rl, rr] = [seat('front', 'left'), seat('front', 'right'), seat('rear', 'left'), seat('rear', 'right')];
const LAYOUTS: readonly (readonly [words: string, drivers: EarDriver[]])[] = [
  ['two in front', [fl, fr]],
  ['two in front and a centre', [fl, fr, seat('front', 'centre')]],
  ['front and rear', [fl, fr, rl, rr]],
  ['front, centre and rear', [fl, fr, seat('front', 'centre'), rl, rr]],
  ['two a side in front, and rear', [fl, fr, seat('front', 'left', ' 2'), seat('front', 'right', ' 2'), rl, rr]],
  ['the same with a centre', [fl, fr, seat('front', 'left', ' 2'), seat('front', 'right', ' 2'), seat('front', 'centre'), rl, rr]],
  [
    'two a side, front and rear',
    [fl, fr, rl, rr, seat('front', 'left', ' 2'), seat('front', 'right', ' 2'), seat('rear', 'left', ' 2'), seat('rear', 'right', ' 2')],
  ],
];

/** Every one, every two, and none of a number of drivers. */
function faults(count: number): number[][] {
  const all: number[][] = [[]];
  for (let i = 0; i < count; i += 1) {
    all.push([i]);
    for (let k = i + 1; k < count; k += 1) all.push([i, k]);
  }
  return all;
}

const heard = (drivers: readonly EarDriver[], reversed: ReadonlySet<string>, { balance, fader }: KnobSetting): number =>
  Math.abs(
    drivers
      .filter(({ side, row }) => (balance === 'centre' || side === 'centre' || side === balance) && (fader === 'centre' || row === fader))
      .reduce((sum, { name }) => sum + (reversed.has(name) ? -1 : 1), 0),
  );

interface End {
  verdict: 'sure' | 'several' | 'contradiction' | 'unsure';
  named: string[];
  candidates: string[][];
  asked: number;
  answers: EarAnswer[];
}

/** Asks as the screen does: what splits best, then what bears out what is left. */
function listen(drivers: EarDriver[], reversed: ReadonlySet<string>, wrong: () => boolean): End {
  const answers: EarAnswer[] = [];
  for (;;) {
    const { verdict, candidates, next } = polarityByEar({ drivers, answers });
    const sets = candidates.map((each) => each.reversed);
    const end = { named: sets[0] ?? [], candidates: sets, asked: answers.length, answers };
    if (verdict === 'contradiction') return { ...end, verdict };
    const certainty = verdict === 'one' ? earCertainty({ drivers, answers }, sets[0]!) : undefined;
    if (certainty?.isSure === true) return { ...end, verdict: 'sure' };
    const question = next ?? certainty?.confirm;
    if (question === undefined || answers.length >= 24) return { ...end, verdict: verdict === 'several' ? 'several' : 'unsure' };
    const gap = heard(drivers, reversed, question.first) - heard(drivers, reversed, question.second);
    const truth = gap > 0 ? 'first' : gap < 0 ? 'second' : 'same';
    const lie = truth === 'same' ? 'first' : 'same';
    answers.push({ first: question.first, second: question.second, fuller: wrong() ? lie : truth });
  }
}

/** A set and its complement sound alike. */
const isTrue = (drivers: readonly EarDriver[], truth: ReadonlySet<string>, named: readonly string[]): boolean => {
  const others = drivers.filter(({ name }) => !truth.has(name)).map(({ name }) => name);
  return [[...truth], others].some((set) => [...set].sort().join() === [...named].sort().join());
};

describe.each(LAYOUTS)('%s', (_, drivers) => {
  const table = faults(drivers.length).map((indexes) => new Set(indexes.map((i) => drivers[i]!.name)));
  it('names every fault or says which it may be, none wrong', () => {
    for (const truth of table) {
      const { verdict, named, candidates, asked } = listen(drivers, truth, () => false);
      expect(verdict).not.toBe('contradiction');
      if (verdict === 'sure') expect(isTrue(drivers, truth, named)).toBe(true);
      else expect(candidates.some((set) => isTrue(drivers, truth, set))).toBe(true);
      if (drivers.length === 4) expect(asked).toBeLessThanOrEqual(8);
    }
  });
  it('with one wrong answer in ten contradicts, asks on, or names on two agreeing answers at least', () => {
    const random = seededRandom(`ear ${drivers.length}`);
    let wrong = 0;
    let runs = 0;
    for (let round = 0; round < 6; round += 1) {
      for (const truth of table) {
        runs += 1;
        const { verdict, named, answers } = listen(drivers, truth, () => random.uniform() < 0.1);
        if (verdict !== 'sure' || isTrue(drivers, truth, named)) continue;
        wrong += 1;
        // Only answers that agree could lead astray: as many as it takes to be sure.
        expect(answers.length).toBeGreaterThanOrEqual(2);
      }
    }
    expect(wrong / runs).toBeLessThan(0.12);
  });
});
