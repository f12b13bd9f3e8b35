import type { SourceOutput } from './sourceControls.ts';

/** One row of a volume table that was read. */
export interface ReadStep {
  step: number;
  voltageRms: number;
  /** read more than once, and alike */
  isRepeated: boolean;
}

/** A figure that cannot stand in its row. */
export interface OddStep {
  step: number;
  voltageRms: number;
  /** the same figures with the point elsewhere, where that fits the row */
  likelyVolt?: number;
  /** read again and alike: no slip of the finger, and still beyond what an output gives */
  isRepeated: boolean;
}

/** No step of a volume control changes the level by more: 12 dB. Common practice, no source. */
const MOST_STEP_RATIO = 4;
/** Standing out from both neighbours by so much is no volume control's doing. */
const OUTLIER_RATIO = 2.5;
/** A volume that is turned up does not lower the level; a meter wanders by less than this. */
const LEAST_STEP_RATIO = 0.8;
/** The rails of a bridged output on 14.4 V pass 10 V RMS, with a converter some half more. Common practice, no source. */
const MOST_SPEAKER_VOLT = 16;
/** Beyond the highest preamp outputs there are, or three times what is claimed. Common practice, no source. */
const MOST_PREAMP_VOLT = 12;
const MOST_OF_CLAIM = 3;
const SLIPS = [10, 100, 1000];

/**
 * The first figure of a volume table that its neighbours, or what an output can give, deny.
 *
 * @param steps - rising by step
 * @param claimVolt - claimed of a preamp output
 */
export function oddStep(steps: readonly ReadStep[], output: SourceOutput, claimVolt?: number): OddStep | undefined {
  const most = output === 'speakers' ? MOST_SPEAKER_VOLT : Math.max(MOST_PREAMP_VOLT, MOST_OF_CLAIM * (claimVolt ?? 0));
  const at = steps.findIndex((row, i) => row.voltageRms > most || (!row.isRepeated && isOutOfRow(steps, i)));
  const found = steps[at];
  if (found === undefined) return undefined;
  const likelyVolt = SLIPS.flatMap((by) => [found.voltageRms / by, found.voltageRms * by]).find((volt) => {
    const mended = steps.map((row, i) => (i === at ? { ...row, voltageRms: volt } : row));
    return volt <= most && !isOutOfRow(mended, at);
  });
  return {
    step: found.step,
    voltageRms: found.voltageRms,
    isRepeated: found.isRepeated,
    ...(likelyVolt === undefined || steps.length < 2 ? {} : { likelyVolt }),
  };
}

function isOutOfRow(steps: readonly ReadStep[], i: number): boolean {
  const { step, voltageRms } = steps[i]!;
  const [before, after] = [steps[i - 1], steps[i + 1]];
  if (before !== undefined && after !== undefined) {
    const isTooHigh = after.voltageRms < LEAST_STEP_RATIO * voltageRms && after.voltageRms >= before.voltageRms;
    const isTooLow = voltageRms < LEAST_STEP_RATIO * before.voltageRms && after.voltageRms >= before.voltageRms;
    const isFarOut = voltageRms > OUTLIER_RATIO * Math.max(before.voltageRms, after.voltageRms);
    return isTooHigh || isTooLow || isFarOut || voltageRms * OUTLIER_RATIO < Math.min(before.voltageRms, after.voltageRms);
  }
  // At the end of a row the neighbour on one side alone tells.
  if (before === undefined || i < 2) return false;
  const ratio = voltageRms / before.voltageRms;
  return ratio > MOST_STEP_RATIO ** (step - before.step) || ratio < LEAST_STEP_RATIO;
}
