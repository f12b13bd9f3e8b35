import { checkNumbers } from '../coreError.ts';
import { voltageFactor, voltageRatioDb } from '../levels/decibels.ts';

export interface RelativePhaseInput {
  /** each alone, then both: same tone, microphone and settings unmoved; in dB of any reference */
  levelADb: number;
  levelBDb: number;
  levelBothDb: number;
}

export interface RelativePhase {
  /** 0 to 180; left out where the levels contradict each other */
  phaseDeg?: number;
  possible: boolean;
  /** both against what they would be in phase, never above 0 */
  sumAgainstInPhaseDb: number;
  advice: string;
}

/** What levels read off by eye may be off by, and still mean 0 or 180 degrees. */
const SLACK_DB = 0.5;

/**
 * Phase between two sources from three levels.
 *
 * |A + B|² = |A|² + |B|² + 2 |A| |B| cos φ (law of cosines). Which of the two is ahead cannot be told from levels.
 */
export function relativePhase(input: RelativePhaseInput): RelativePhase {
  const level = (name: string) => ({ name, unit: 'dB', atLeast: -300, atMost: 300 });
  checkNumbers(input, { levelADb: level('level of A'), levelBDb: level('level of B'), levelBothDb: level('level of both') });
  const { levelADb, levelBDb, levelBothDb } = input;
  // Against the louder one, so that no figure runs over.
  const top = Math.max(levelADb, levelBDb);
  const [a, b, both] = [levelADb, levelBDb, levelBothDb].map((db) => voltageFactor(db - top)) as [number, number, number];
  const sumAgainstInPhaseDb = Math.min(0, voltageRatioDb(both, a + b));
  const least = Math.abs(a - b);
  const isTooLoud = voltageRatioDb(both, a + b) > SLACK_DB;
  const isTooQuiet = least > 0 && voltageRatioDb(both, least) < -SLACK_DB;
  if (isTooLoud || isTooQuiet) {
    return {
      possible: false,
      sumAgainstInPhaseDb,
      advice: isTooLoud
        ? 'Both together are louder than the two can be: a level, the volume or the microphone changed in between. Measure all three again.'
        : 'Both together are quieter than the two can make it: a level, the volume or the microphone changed in between. Measure all three again.',
    };
  }
  const cosine = Math.max(-1, Math.min(1, (both ** 2 - a ** 2 - b ** 2) / (2 * a * b)));
  const phaseDeg = (Math.acos(cosine) * 180) / Math.PI;
  return { phaseDeg, possible: true, sumAgainstInPhaseDb, advice: adviceOn(phaseDeg) };
}

function adviceOn(phaseDeg: number): string {
  if (phaseDeg <= 30) return 'They work together: leave it.';
  if (phaseDeg <= 90) return 'They add, with something lost: a small delay of the nearer one may win the rest.';
  if (phaseDeg < 150) return 'They work against each other: try one of them reversed, then a delay, and keep what measures louder.';
  return 'They cancel: one of them is reversed, or half a wave late. Change plus and minus over on one, and measure again.';
}
