import type { FindingOf } from '../findings.ts';
import { dcBand, TYPICAL_DC_RATIO, type OhmBand } from './coilResistance.ts';
import type { OhmmeterAccuracy } from './meterDiagnosis.ts';

/** What one coil's reading may be found to be. */
export type CoilFinding = { [C in 'coil-open' | 'coil-shorted' | 'coil-sound' | 'coil-other']: FindingOf<C> }[
  | 'coil-open'
  | 'coil-shorted'
  | 'coil-sound'
  | 'coil-other'];

export interface CoilJudgement {
  verdict: 'sound' | 'other' | 'open' | 'shorted';
  /** leads taken off */
  coilOhm: number;
  expectedOhm: OhmBand;
  finding: CoilFinding;
}

/** Nominal impedances of coils that shops have. Common practice, no source. */
export const USUAL_OHM: readonly number[] = [1, 1.5, 2, 3, 4, 6, 8, 16];

/** So many times its nominal impedance, or this little of it, is no coil any more. */
const OPEN_FACTOR = 10;
const SHORT_PART = 0.2;

/**
 * One coil on the ohmmeter: sound for its nominal impedance, another coil than was written down, open, or shorted.
 *
 * @param meterOhm - as read, leads and all
 * @param dcOhm - its own winding, where that is known
 */
export function judgeCoil(
  meterOhm: number,
  { nominalOhm, dcOhm }: { nominalOhm: number; dcOhm?: number },
  leadOhm: number,
  accuracy: Required<OhmmeterAccuracy>,
): CoilJudgement {
  const coilOhm = Math.max(0, meterOhm - leadOhm);
  const slack = (coilOhm * accuracy.meterPercent) / 100 + accuracy.meterDigitsOhm;
  const fits = ({ low, high }: OhmBand): boolean => coilOhm >= low - slack && coilOhm <= high + slack;
  const expectedOhm = dcBand(dcOhm === undefined ? { nominalOhm } : { nominalOhm, dcOhm });
  const figures = { coilOhm, expectedOhm };
  if (coilOhm > OPEN_FACTOR * nominalOhm) {
    return {
      ...figures,
      verdict: 'open',
      finding: {
        code: 'coil-open',
        grade: 'stop',
        figures: { coilOhm },
      },
    };
  }
  if (coilOhm < SHORT_PART * nominalOhm) {
    return {
      ...figures,
      verdict: 'shorted',
      finding: {
        code: 'coil-shorted',
        grade: 'stop',
        figures: { coilOhm },
      },
    };
  }
  if (fits(expectedOhm)) {
    return {
      ...figures,
      verdict: 'sound',
      finding: {
        code: 'coil-sound',
        grade: 'good',
        figures: { coilOhm, nominalOhm },
      },
    };
  }
  const likely = USUAL_OHM.filter((ohm) => fits(dcBand({ nominalOhm: ohm }))).sort(
    (a, b) => Math.abs(coilOhm / (TYPICAL_DC_RATIO * a) - 1) - Math.abs(coilOhm / (TYPICAL_DC_RATIO * b) - 1),
  )[0];
  return {
    ...figures,
    verdict: 'other',
    finding: {
      code: 'coil-other',
      grade: 'attention',
      figures: {
        coilOhm,
        nominalOhm,
        ...(likely === undefined ? {} : { likelyOhm: likely }),
        low: expectedOhm.low,
        high: expectedOhm.high,
      },
    },
  };
}
