import { overdrive } from './overdrive.ts';
import { targetVoltage } from './targetVoltage.ts';

/** A gain set with a tone recorded at one level, and what that does to music. */
export interface LevelChoice {
  /** the tone is recorded so far below full scale, and read as if it were full scale */
  toneLevelDbfs: number;
  /** by which quiet recordings play louder, and by which hiss rises */
  overlapDb: number;
  /** figure that the meter should read, RMS */
  settingVoltage: number;
  /** of full-scale music: share of its loudest half-cycles that is cut flat, 0 to 1 */
  cutShare: number;
  /** of a full-scale tone, harmonics 2 to 10 */
  thdPercent: number;
  /** power that a full-scale tone carries more than the largest clean one, in dB */
  powerAgainstCleanDb: number;
}

/** The levels that practitioners set gains with. */
export const TRIAL_LEVELS_DBFS: readonly number[] = [0, -5, -10];

/**
 * One gain set with tones of several recorded levels, side by side.
 *
 * @param shiftDb - what filters and sag take off the figure to read, as at the gain's own target
 * @throws {CoreError} `INPUT_INVALID` for a power or a load that is not above 0
 */
export function levelTrial(
  { powerWatt, loadOhm, headroomDb = 0, shiftDb = 0 }: { powerWatt: number; loadOhm: number; headroomDb?: number; shiftDb?: number },
  levels: readonly number[] = TRIAL_LEVELS_DBFS,
): LevelChoice[] {
  return levels.map((toneLevelDbfs) => {
    const overlapDb = 0 - toneLevelDbfs;
    const { settingVoltage } = targetVoltage({ powerWatt, loadOhm, headroomDb, toneLevelDbfs, overlapDb });
    // Headroom is used up before anything is cut.
    const { flatFraction, thdPercent, powerAgainstCleanDb } = overdrive({ overdriveDb: Math.max(0, overlapDb - headroomDb) });
    return {
      toneLevelDbfs,
      overlapDb,
      settingVoltage: settingVoltage * 10 ** (shiftDb / 20),
      cutShare: flatFraction,
      thdPercent,
      powerAgainstCleanDb,
    };
  });
}
