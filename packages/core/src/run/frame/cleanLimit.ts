import { voltageFactor, voltageRatioDb } from '../../levels/decibels.ts';
import type { ChannelAnalysis } from '../../traces/analyseTrace.ts';
import { ONSET_STEP_DB } from './traceFinding.ts';

/** Of the house's limit: what only just begins to bend stays within it. */
const WITHIN_LIMIT = 0.7;

/** Just beginning to flatten, with distortion that the house still calls clean. */
export const isJustOnset = ({ clipping, thdPercent }: ChannelAnalysis, limitThdPercent: number): boolean =>
  clipping.verdict === 'onset' && (thdPercent ?? Infinity) <= WITHIN_LIMIT * limitThdPercent;

/** One look at a stage with a scope: how far it was driven, and whether it was clean there. */
export interface DrivenLook {
  /** what it was driven to, were there no rails; in whatever measure, the same for all looks */
  drive: number;
  isClean: boolean;
  /** where it was flat: by how much, in dB */
  overDb: number;
}

/** Clean and flat this near each other, what lies between is worth no further turn of a knob. */
const NEAR_DB = 0.65;
/** Driven further over than this a stage drags its supply down: its rails say less than there is. */
const DEEP_DB = 1.5;

/**
 * How far a stage may be driven by what was seen of it, oldest look first: what is seen nearer to the limit replaces an estimate from
 * afar, in both directions, and what lies between clean and deeply flat is halved until they are near. So it always ends.
 *
 * @returns undefined where nothing was flat, or it was clean as high since
 */
export function cleanLimit(looks: readonly DrivenLook[]): number | undefined {
  let flat: DrivenLook | undefined;
  let clean: number | undefined;
  for (const look of looks) {
    if (look.isClean) {
      if (flat !== undefined && look.drive >= flat.drive) flat = undefined;
      clean = Math.max(clean ?? 0, look.drive);
    } else {
      if (clean !== undefined && look.drive <= clean) clean = undefined;
      if (flat === undefined || look.drive <= flat.drive * voltageFactor(0.05)) flat = look;
    }
  }
  if (flat === undefined) return undefined;
  const estimate = flat.drive * voltageFactor(-Math.max(ONSET_STEP_DB, flat.overDb));
  if (clean === undefined || voltageRatioDb(estimate, clean) > ONSET_STEP_DB) return estimate;
  const gapDb = voltageRatioDb(flat.drive, clean);
  return gapDb <= NEAR_DB || flat.overDb < DEEP_DB ? clean : clean * voltageFactor(gapDb / 2);
}
