/** Level of one voltage against another in decibels: 20 log10(voltage / reference); −Infinity for 0 V. */
export function voltageRatioDb(voltage: number, reference: number): number {
  return 20 * Math.log10(voltage / reference);
}

/** Factor by which a voltage changes for a change in decibels: 10^(dB / 20). */
export function voltageFactor(db: number): number {
  return 10 ** (db / 20);
}

/** Level of one power against another in decibels: 10 log10(power / reference). */
export function powerRatioDb(power: number, reference: number): number {
  return 10 * Math.log10(power / reference);
}
