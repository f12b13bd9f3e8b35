import { checkNumbers } from '../coreError.ts';
import { voltageFactor } from '../levels/decibels.ts';

export interface TargetVoltageInput {
  powerWatt: number;
  loadOhm: number;
  /** recorded level of the tone, 0 = a full-scale sine */
  toneLevelDbfs?: number;
  /** how much hotter than "no overlap" the gain is set, for quiet recordings */
  overlapDb?: number;
  /** how far below the rating full scale is kept */
  headroomDb?: number;
}

export interface TargetVoltage {
  /** RMS voltage of a full-scale tone at the rating, less the headroom */
  fullScaleVoltage: number;
  /** RMS voltage to set with this tone; never above `fullScaleVoltage` */
  settingVoltage: number;
  /** overlap as applied: a tone at −3 dBFS leaves room for 3 dB at most */
  overlapDb: number;
  powerAtSettingWatt: number;
}

/**
 * The voltage that the meter should read at the amplifier's terminals.
 *
 * @throws {CoreError} `INPUT_INVALID` for a power or load not above 0, a tone above 0 dBFS, a negative overlap or headroom
 * @see P = V² / R, so V = sqrt(P R); a level of L dB is a voltage factor of 10^(L / 20)
 * @example targetVoltage({ powerWatt: 100, loadOhm: 4 }).settingVoltage // 20
 */
export function targetVoltage(input: TargetVoltageInput): TargetVoltage {
  checkNumbers(input, {
    powerWatt: { name: 'power', unit: 'W', above: 0 },
    loadOhm: { name: 'load', unit: 'ohm', above: 0 },
    toneLevelDbfs: { name: 'recorded level of the tone', unit: 'dBFS', atMost: 0, atLeast: -120 },
    overlapDb: { name: 'gain overlap', unit: 'dB', atLeast: 0, atMost: 120 },
    headroomDb: { name: 'headroom', unit: 'dB', atLeast: 0, atMost: 120 },
  });
  const { powerWatt, loadOhm, toneLevelDbfs = 0, overlapDb = 0, headroomDb = 0 } = input;
  const fullScaleVoltage = Math.sqrt(powerWatt) * Math.sqrt(loadOhm) * voltageFactor(-headroomDb);
  // Zero minus, not minus: −0 dB is no figure to show.
  const appliedOverlapDb = Math.min(overlapDb, 0 - toneLevelDbfs);
  const settingVoltage = fullScaleVoltage * voltageFactor(toneLevelDbfs + appliedOverlapDb);
  return {
    fullScaleVoltage,
    settingVoltage,
    overlapDb: appliedOverlapDb,
    powerAtSettingWatt: settingVoltage ** 2 / loadOhm,
  };
}
