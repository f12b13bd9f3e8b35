import { checkNumbers } from '../coreError.ts';

export interface CapacitorInput {
  driverOhm: number;
  cornerHz: number;
}

export interface Capacitor {
  capacitanceFarad: number;
  /** the E12 values just below and above, the nearer (as a ratio) first, and the corner that each gives */
  nearest: { capacitanceFarad: number; series: 'E12'; cornerHz: number }[];
}

/** @see IEC 60063: preferred number series E12 (memory) */
const E12 = [1, 1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 3.9, 4.7, 5.6, 6.8, 8.2];

/**
 * The series capacitor that protects a driver with 6 dB per octave.
 *
 * @throws {CoreError} `INPUT_INVALID` for a load or corner not above 0
 * @see first-order high-pass: at the corner the capacitor's reactance is the driver's resistance, C = 1 / (2π f R)
 * @example capacitor({ driverOhm: 4, cornerHz: 5000 }).capacitanceFarad // 7.96e-6
 */
export function capacitor(input: CapacitorInput): Capacitor {
  checkNumbers(input, {
    driverOhm: { name: 'driver impedance', unit: 'ohm', above: 0 },
    cornerHz: { name: 'corner', unit: 'Hz', above: 0 },
  });
  const { driverOhm, cornerHz } = input;
  const capacitanceFarad = 1 / (2 * Math.PI * cornerHz * driverOhm);
  const distance = (value: number): number => Math.abs(Math.log(value / capacitanceFarad));
  const nearest = neighbours(capacitanceFarad)
    .sort((a, b) => distance(a) - distance(b))
    .map((value) => ({ capacitanceFarad: value, series: 'E12' as const, cornerHz: cornerOf(value, driverOhm) }));
  return { capacitanceFarad, nearest };
}

/** The corner that a series capacitor gives with a driver. */
export const cornerOf = (capacitanceFarad: number, driverOhm: number): number => 1 / (2 * Math.PI * capacitanceFarad * driverOhm);

/** The E12 values on either side; one alone where the value itself is one. */
function neighbours(value: number): number[] {
  const decade = Math.floor(Math.log10(value));
  const steps = [decade - 1, decade, decade + 1].flatMap((power) => E12.map((digit) => Number(`${digit}e${power}`)));
  const same = steps.find((step) => Math.abs(step / value - 1) < 1e-9);
  if (same !== undefined) return [same];
  return [steps.findLast((step) => step < value)!, steps.find((step) => step > value)!];
}
