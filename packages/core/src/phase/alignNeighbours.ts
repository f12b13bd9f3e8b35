import { voltageFactor } from '../levels/decibels.ts';

/** How two neighbours stand to each other: what a processor and two wires can change. */
export interface NeighbourSetting {
  /** delay of the lower one less that of the upper one */
  delaySecond: number;
  isReversed: boolean;
}

/** Three levels at one tone, in dB of one reference, and what the filters do to the phase there. */
export interface NeighbourTone {
  hertz: number;
  lowerDb: number;
  upperDb: number;
  /** of the upper one against the lower one by the filters alone, in degrees, without polarity and delay */
  filterPhaseDeg: number;
}

/** What both together measured, tone by tone, under one setting. */
export interface NeighbourTrial {
  setting: NeighbourSetting;
  bothDb: readonly number[];
}

export interface NeighbourAlignment {
  /** how much later the upper one arrives than the lower one when nothing is set, in seconds, as far as the levels tell */
  laterSecond: number;
  /** half of the range in which nine tenths of the likelihood lie */
  laterOffSecond: number;
  /** they push against each other when nothing is reversed */
  isSwapped: boolean;
  best: NeighbourSetting;
  /** what `best` should make of the tones on average, against being in phase; 0 or below, in dB */
  bestLossDb: number;
}

/** Levels read off a sound meter. Common practice, no source: steps of 0.1 dB, and a needle that wanders. */
const LEVEL_OFF_DB = 0.6;
/** A null is as deep as the cabin lets it be: the deeper, the less its depth says. */
const NULL_OFF_PART = 0.15;
/** Nothing in a vehicle is further apart, processing included. */
const MAX_LATER_SECOND = 0.012;
const LATER_STEP_SECOND = 0.000_05;
/** Wide before anything was measured: a vehicle is a few metres long. */
const LATER_PRIOR_SECOND = 0.004;
/** Drivers whose polarity was looked at are seldom reversed. */
const SWAPPED_PRIOR = 0.25;
/** Hypotheses this much less likely than the best one are let go. */
const MIN_LIKELY = 1e-4;
/** Ways this much apart are of one kind of answer, not of another turn of the wave. */
const SAME_SIDE_SECOND = 0.0005;
/** Settings that differ by less than this in what they are expected to make are alike: then the one nearer to what is set. */
const ALIKE_DB = 0.05;

interface Hypothesis {
  laterSecond: number;
  isSwapped: boolean;
  weight: number;
}

/** What two levels come to at a phase, in dB: |A + B|² = |A|² + |B|² + 2 |A| |B| cos φ (law of cosines). */
export function togetherDb(lowerDb: number, upperDb: number, phaseDeg: number): number {
  const top = Math.max(lowerDb, upperDb);
  const [a, b] = [voltageFactor(lowerDb - top), voltageFactor(upperDb - top)];
  const square = a ** 2 + b ** 2 + 2 * a * b * Math.cos((phaseDeg * Math.PI) / 180);
  return top + 10 * Math.log10(Math.max(square, 1e-6));
}

/** Phase of the upper one against the lower one, in degrees: filters, polarity, and the way that is left after what is set. */
export const neighbourPhaseDeg = (
  { hertz, filterPhaseDeg }: Pick<NeighbourTone, 'hertz' | 'filterPhaseDeg'>,
  laterSecond: number,
  isSwapped: boolean,
  { delaySecond, isReversed }: NeighbourSetting,
): number => filterPhaseDeg + (isSwapped !== isReversed ? 180 : 0) - 360 * hertz * (laterSecond - delaySecond);

const inPhaseDb = ({ lowerDb, upperDb }: NeighbourTone): number => togetherDb(lowerDb, upperDb, 0);

/** What both lose against being in phase, on average over the tones, in dB; 0 or below but for the meter's error. */
export const meanLossDb = (tones: readonly NeighbourTone[], bothDb: readonly number[]): number =>
  tones.reduce((sum, tone, i) => sum + bothDb[i]! - inPhaseDb(tone), 0) / tones.length;

/**
 * Which delay and polarity bring two neighbours together, from three levels at a few tones and every setting that was tried.
 *
 * Levels tell a phase's size and not its sign; three tones and what the filters do between them tell most of the rest. Every delay and
 * polarity that may be in the way is weighed by how well it explains all that was measured (Bayes' rule, Gaussian errors), and the setting
 * is taken that is expected to make the most. What is left open is settled by the next trial.
 *
 * @param tones - the levels of each alone; they stay while delay and polarity change
 * @param trials - at least one, each with a level for every tone
 * @param can - finest step and longest delay of the processor, in seconds
 * @see C. M. Bishop, "Pattern Recognition and Machine Learning" (2006), section 1.2.3
 */
export function alignNeighbours(
  tones: readonly NeighbourTone[],
  trials: readonly NeighbourTrial[],
  { stepSecond, longestSecond = 0.02 }: { stepSecond: number; longestSecond?: number },
): NeighbourAlignment {
  const all = hypotheses(tones, trials);
  const top = all.reduce((best, each) => (each.weight > best.weight ? each : best));
  // Between two sides that explain the levels alike the middle is the best of neither: one is tried, and the next trial tells.
  const likely = all.filter(
    ({ laterSecond, isSwapped }) => isSwapped === top.isSwapped && Math.abs(laterSecond - top.laterSecond) <= SAME_SIDE_SECOND,
  );
  const weight = likely.reduce((sum, each) => sum + each.weight, 0);
  const present = trials.at(-1)!.setting;
  const expected = (setting: NeighbourSetting): number =>
    likely.reduce(
      (sum, each) =>
        sum +
        (each.weight / weight) *
          meanLossDb(
            tones,
            tones.map((tone) => togetherDb(tone.lowerDb, tone.upperDb, neighbourPhaseDeg(tone, each.laterSecond, each.isSwapped, setting))),
          ),
      0,
    );
  const most = Math.min(longestSecond, MAX_LATER_SECOND);
  const coarse = Math.max(stepSecond, most / 48);
  let best = { setting: present, lossDb: expected(present) };
  const look = (delaySecond: number, isReversed: boolean): void => {
    if (Math.abs(delaySecond) > most + 1e-12) return;
    const setting = { delaySecond, isReversed };
    const lossDb = expected(setting);
    const isNearer = Math.abs(delaySecond - present.delaySecond) < Math.abs(best.setting.delaySecond - present.delaySecond);
    if (lossDb > best.lossDb + ALIKE_DB || (lossDb > best.lossDb - ALIKE_DB / 5 && isNearer)) best = { setting, lossDb };
  };
  for (const isReversed of [false, true]) for (let delay = -most; delay <= most + 1e-12; delay += coarse) look(delay, isReversed);
  for (let step = coarse / 2; step >= stepSecond / 2; step /= 2) {
    const around = best.setting;
    look(around.delaySecond - step, around.isReversed);
    look(around.delaySecond + step, around.isReversed);
  }
  const delaySecond = Math.round(best.setting.delaySecond / stepSecond) * stepSecond;
  const setting = { ...best.setting, delaySecond };
  return {
    laterSecond: top.laterSecond,
    laterOffSecond: spreadOf(all, top),
    isSwapped: top.isSwapped,
    best: setting,
    bestLossDb: Math.min(0, expected(setting)),
  };
}

/** Every way in which the two may stand to each other, by how well it explains what was measured; weights add up to 1. */
function hypotheses(tones: readonly NeighbourTone[], trials: readonly NeighbourTrial[]): Hypothesis[] {
  const all: (Hypothesis & { log: number })[] = [];
  for (const isSwapped of [false, true]) {
    for (let later = -MAX_LATER_SECOND; later <= MAX_LATER_SECOND; later += LATER_STEP_SECOND) {
      let log = -((later / LATER_PRIOR_SECOND) ** 2) / 2 + Math.log(isSwapped ? SWAPPED_PRIOR : 1 - SWAPPED_PRIOR);
      for (const { setting, bothDb } of trials) {
        tones.forEach((tone, i) => {
          const would = togetherDb(tone.lowerDb, tone.upperDb, neighbourPhaseDeg(tone, later, isSwapped, setting));
          const depth = inPhaseDb(tone) - Math.max(would, bothDb[i]!);
          const off = Math.hypot(LEVEL_OFF_DB, NULL_OFF_PART * Math.max(0, depth));
          log -= ((would - bothDb[i]!) / off) ** 2 / 2;
        });
      }
      all.push({ laterSecond: later, isSwapped, weight: 0, log });
    }
  }
  const most = Math.max(...all.map(({ log }) => log));
  const kept = all.map(({ log, ...each }) => ({ ...each, weight: Math.exp(log - most) })).filter(({ weight }) => weight > MIN_LIKELY);
  const sum = kept.reduce((total, { weight }) => total + weight, 0);
  return kept.map((each) => ({ ...each, weight: each.weight / sum }));
}

/** Half of the range of delays, around the likeliest, that holds nine tenths of the weight. */
function spreadOf(likely: readonly Hypothesis[], { laterSecond }: Hypothesis): number {
  const byDistance = likely
    .map((each) => ({ off: Math.abs(each.laterSecond - laterSecond), weight: each.weight }))
    .sort((a, b) => a.off - b.off);
  let held = 0;
  for (const { off, weight } of byDistance) {
    held += weight;
    if (held >= 0.9) return off;
  }
  return byDistance.at(-1)?.off ?? 0;
}
