/** A band of resistances, in ohms. */
export interface OhmBand {
  low: number;
  high: number;
}

/** Typical DC resistance against nominal impedance, where nothing was measured. Common practice, no source. */
export const TYPICAL_DC_RATIO = 0.8;

/**
 * Between these parts of its nominal impedance lies a sound coil's DC resistance. Common practice, no source; in line with
 * IEC 60268-5, by which the impedance nowhere falls below 80 % of nominal: the coil's wire is the greater part of that minimum.
 */
export const DC_RATIO_BAND: OhmBand = { low: 0.65, high: 0.95 };

/** How far two coils of one make, or one coil cold and warm, lie from a measured figure. Common practice, no source. */
export const COIL_SPREAD = 0.05;

/** The DC resistance to expect of a coil: about the measured figure, or the usual part of nominal. Ohms. */
export function dcBand({ nominalOhm, dcOhm }: { nominalOhm: number; dcOhm?: number }): OhmBand {
  return dcOhm === undefined
    ? { low: nominalOhm * DC_RATIO_BAND.low, high: nominalOhm * DC_RATIO_BAND.high }
    : { low: dcOhm * (1 - COIL_SPREAD), high: dcOhm * (1 + COIL_SPREAD) };
}

/** The single figure to compute with: measured, or the typical part of nominal. Ohms. */
export function likelyDcOhm({ nominalOhm, dcOhm }: { nominalOhm: number; dcOhm?: number }): number {
  return dcOhm ?? nominalOhm * TYPICAL_DC_RATIO;
}
