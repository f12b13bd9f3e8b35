/** What one share of digital full scale is worth in volts, for one input as it was set then. */
export interface Calibration {
  /** peak voltage of digital full scale */
  fullScaleVolt: number;
  label: string;
  sampleRateHz: number;
}

/** @param rms - of the samples, as a share of full scale; @param volt - RMS that a meter reads of the same tone */
export function calibrationOf(volt: number, rms: number, input: { label: string; sampleRateHz: number }): Calibration | undefined {
  return rms > 0 && volt > 0 ? { fullScaleVolt: volt / rms, label: input.label, sampleRateHz: input.sampleRateHz } : undefined;
}

/** Why a calibration no longer holds for an input; undefined where it does. */
export function calibrationDoubt(calibration: Calibration, input: { label: string; sampleRateHz: number }): string | undefined {
  if (calibration.label !== input.label) return `Calibrated for “${calibration.label}”: calibrate this input too.`;
  if (calibration.sampleRateHz !== input.sampleRateHz)
    return `Calibrated at ${calibration.sampleRateHz} Hz, and the input now runs at ${input.sampleRateHz} Hz: calibrate again.`;
  return undefined;
}

export function readCalibration(text: string): Calibration | undefined {
  try {
    const value = JSON.parse(text) as Partial<Calibration>;
    return typeof value.fullScaleVolt === 'number' && typeof value.label === 'string' && typeof value.sampleRateHz === 'number'
      ? (value as Calibration)
      : undefined;
  } catch {
    return undefined;
  }
}
