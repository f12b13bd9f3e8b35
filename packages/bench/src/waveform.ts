/** A voltage over time, in volts. */
export type Waveform = (second: number) => number;

/** RMS of one cycle, in volts. */
export function waveformRms(waveform: Waveform, toneHz: number): number {
  const points = 2000;
  let sum = 0;
  for (let i = 0; i < points; i += 1) sum += waveform(i / (points * toneHz)) ** 2;
  return Math.sqrt(sum / points);
}
