import { CoreError } from '../coreError.ts';

export interface EarDriver {
  name: string;
  side: 'left' | 'right' | 'centre';
  row: 'front' | 'rear';
}

/** Where balance and fader stand. */
export interface KnobSetting {
  balance: 'left' | 'centre' | 'right';
  fader: 'front' | 'centre' | 'rear';
}

export interface EarAnswer {
  first: KnobSetting;
  second: KnobSetting;
  /** which of the two has the fuller bass */
  fuller: 'first' | 'second' | 'same';
}

export interface PolarityByEar {
  verdict: 'one' | 'several' | 'contradiction';
  /** sets of reversed drivers that fit all answers; a set and its complement sound alike, the smaller one is listed */
  candidates: { reversed: string[] }[];
  /** the comparison that splits them best; left out where none does */
  next?: { first: KnobSetting; second: KnobSetting; words: string };
}

const BALANCES = ['left', 'centre', 'right'] as const;
const FADERS = ['front', 'centre', 'rear'] as const;
const SETTINGS: readonly KnobSetting[] = BALANCES.flatMap((balance) => FADERS.map((fader) => ({ balance, fader })));
const MAX_DRIVERS = 8;
/** Sums this far apart are told apart by ear for sure. */
const PLAIN_FACTOR = 1.9;

/**
 * Which driver is reversed, from comparisons of the bass at two settings of balance and fader.
 *
 * In the bass a setting sounds as full as the sum of the drivers that it plays, a reversed one counted −1, whatever its sign.
 *
 * @throws {CoreError} `INPUT_INVALID` for one driver alone, more than eight, or two of one name
 */
export function polarityByEar({ drivers, answers }: { drivers: readonly EarDriver[]; answers: readonly EarAnswer[] }): PolarityByEar {
  check(drivers);
  const left = patternsOf(drivers.length, drivers).filter((pattern) => answers.every((answer) => fits(drivers, pattern, answer)));
  const candidates = left.map((pattern) => ({ reversed: drivers.filter((_, i) => isReversed(pattern, i)).map(({ name }) => name) }));
  if (candidates.length === 0) return { verdict: 'contradiction', candidates };
  if (candidates.length === 1) return { verdict: 'one', candidates };
  const next = bestComparison(drivers, left);
  return { verdict: 'several', candidates, ...(next === undefined ? {} : { next: { ...next, words: comparisonWords(next) } }) };
}

/** An ear slips: nobody is called odd, or sound, on fewer answers than this. */
const ENOUGH_ANSWERS = 2;

export interface EarCertainty {
  isSure: boolean;
  /** the comparison whose answer would bear out, or overthrow, what rests on the fewest answers; left out where none does */
  confirm?: { first: KnobSetting; second: KnobSetting; words: string };
}

/**
 * Whether one set of reversed drivers is borne out well enough to be named: each driver's part in it by two answers at least that could not
 * be so with this driver the other way round.
 *
 * @param reversed - the one candidate that `polarityByEar` left
 */
export function earCertainty(
  { drivers, answers }: { drivers: readonly EarDriver[]; answers: readonly EarAnswer[] },
  reversed: readonly string[],
): EarCertainty {
  const pattern = drivers.reduce((sum, { name }, i) => sum + (reversed.includes(name) ? 1 << i : 0), 0);
  const speakFor = drivers.map((_, i) => answers.filter((answer) => !fits(drivers, pattern ^ (1 << i), answer)).length);
  // Two drivers alone cannot be told which is which: one answer speaks for both.
  const least = Math.min(...speakFor);
  if (least >= ENOUGH_ANSWERS) return { isSure: true };
  const asked = (first: KnobSetting, second: KnobSetting): number =>
    answers.filter((answer) => isSameKnobs(answer.first, first) && isSameKnobs(answer.second, second)).length;
  const doubted = drivers.flatMap((_, i) => (speakFor[i] === least ? [pattern ^ (1 << i)] : []));
  let best: { first: KnobSetting; second: KnobSetting; score: number } | undefined;
  for (const [k, first] of SETTINGS.entries()) {
    for (const second of SETTINGS.slice(k + 1)) {
      const [a, b] = [fullness(drivers, pattern, first), fullness(drivers, pattern, second)];
      if (a !== b && Math.max(a, b) < PLAIN_FACTOR * Math.min(a, b)) continue;
      const told = doubted.filter(
        (other) => fullerOf(fullness(drivers, other, first), fullness(drivers, other, second)) !== fullerOf(a, b),
      ).length;
      // Another comparison is a better witness than the same once more.
      const score = told - asked(first, second) / 2;
      if (told > 0 && (best === undefined || score > best.score)) best = { first, second, score };
    }
  }
  if (best === undefined) return { isSure: false };
  const { first, second } = best;
  return { isSure: false, confirm: { first, second, words: comparisonWords({ first, second }) } };
}

/** What a perfect ear answers to a comparison, in a vehicle where these drivers are reversed. */
export function fullerBy(
  drivers: readonly EarDriver[],
  reversed: readonly string[],
  { first, second }: Pick<EarAnswer, 'first' | 'second'>,
): EarAnswer['fuller'] {
  const pattern = drivers.reduce((sum, { name }, i) => sum + (reversed.includes(name) ? 1 << i : 0), 0);
  return fullerOf(fullness(drivers, pattern, first), fullness(drivers, pattern, second));
}

const isSameKnobs = (one: KnobSetting, other: KnobSetting): boolean => one.balance === other.balance && one.fader === other.fader;

const fits = (drivers: readonly EarDriver[], pattern: Pattern, { first, second, fuller }: EarAnswer): boolean =>
  fullerOf(fullness(drivers, pattern, first), fullness(drivers, pattern, second)) === fuller;

/** A set of reversed drivers: bit i for driver i. */
type Pattern = number;
const isReversed = (pattern: Pattern, index: number): boolean => ((pattern >> index) & 1) === 1;

/** Every set up to its complement: the smaller one, of two equal ones the one without the first driver. The smallest come first. */
function patternsOf(count: number, drivers: readonly EarDriver[]): Pattern[] {
  const size = (pattern: Pattern): number => drivers.filter((_, i) => isReversed(pattern, i)).length;
  return Array.from({ length: 2 ** count }, (_, pattern) => pattern)
    .filter((pattern) => 2 * size(pattern) < count || (2 * size(pattern) === count && !isReversed(pattern, 0)))
    .sort((a, b) => size(a) - size(b));
}

const plays = ({ side, row }: EarDriver, { balance, fader }: KnobSetting): boolean =>
  (balance === 'centre' || side === 'centre' || side === balance) && (fader === 'centre' || row === fader);

function fullness(drivers: readonly EarDriver[], pattern: Pattern, setting: KnobSetting): number {
  const signs = drivers.map((driver, i) => (plays(driver, setting) ? (isReversed(pattern, i) ? -1 : 1) : 0));
  return Math.abs(signs.reduce<number>((sum, sign) => sum + sign, 0));
}

const fullerOf = (first: number, second: number): EarAnswer['fuller'] => (first > second ? 'first' : first < second ? 'second' : 'same');

/** Among comparisons whose outcome an ear tells for sure whichever candidate is true, the one whose largest group is the smallest. */
function bestComparison(
  drivers: readonly EarDriver[],
  patterns: readonly Pattern[],
): { first: KnobSetting; second: KnobSetting } | undefined {
  const heard = SETTINGS.filter((setting) => drivers.some((driver) => plays(driver, setting))).map((setting) => ({
    setting,
    levels: patterns.map((pattern) => fullness(drivers, pattern, setting)),
  }));
  let best: { first: KnobSetting; second: KnobSetting; largest: number } | undefined;
  for (const [i, first] of heard.entries()) {
    for (const second of heard.slice(i + 1)) {
      const groups = { first: 0, second: 0, same: 0 };
      const isPlain = first.levels.every((a, k) => {
        const b = second.levels[k]!;
        groups[fullerOf(a, b)] += 1;
        return a === b || Math.max(a, b) >= PLAIN_FACTOR * Math.min(a, b);
      });
      const largest = Math.max(...Object.values(groups));
      if (isPlain && largest < patterns.length && (best === undefined || largest < best.largest))
        best = { first: first.setting, second: second.setting, largest };
    }
  }
  return best;
}

function comparisonWords({ first, second }: { first: KnobSetting; second: KnobSetting }): string {
  const knobs = ({ balance, fader }: KnobSetting): string => `balance ${balance}, fader ${fader}`;
  return `Play music with bass, or a tone of 60 to 100 Hz. Listen with ${knobs(first)}, then with ${knobs(second)}: where is the bass fuller, or is it the same?`;
}

function check(drivers: readonly EarDriver[]): void {
  const faults = [
    ...(drivers.length < 2 || drivers.length > MAX_DRIVERS
      ? [{ pointer: '/drivers', message: `give two to ${MAX_DRIVERS} drivers, not ${drivers.length}` }]
      : []),
    ...drivers.flatMap(({ name }, i) =>
      drivers.findIndex((other) => other.name === name) < i
        ? [{ pointer: `/drivers/${i}/name`, message: `two drivers are named ${name}` }]
        : [],
    ),
  ];
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);
}
