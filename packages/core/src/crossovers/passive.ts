import { checkNumbers, CoreError } from '../coreError.ts';
import { divide, plus, times, type Complex, levelDbOf } from '../numerics/complex.ts';
import type { FilterKind } from './filters.ts';

/** Parts between the amplifier and a driver. One alone is first order (6 dB per octave), both are second order. */
export interface PassiveParts {
  kind: FilterKind;
  /** in series with the driver for a high-pass, across it for a low-pass */
  capacitanceFarad?: number;
  /** across the driver for a high-pass, in series with it for a low-pass */
  inductanceHenry?: number;
}

/** What the parts work into: the nominal impedance alone, or the coil's resistance with its inductance. */
export interface DriverImpedance {
  resistanceOhm: number;
  inductanceHenry?: number;
}

/** 1 or 2; 0 where the part in series is missing: then nothing is filtered. */
export function passiveOrder({ kind, capacitanceFarad, inductanceHenry }: PassiveParts): 0 | 1 | 2 {
  const [inSeries, across] = kind === 'highpass' ? [capacitanceFarad, inductanceHenry] : [inductanceHenry, capacitanceFarad];
  if (inSeries === undefined) return 0;
  return across === undefined ? 1 : 2;
}

/** Impedance of a driver's coil at a frequency. Resonance and eddy losses are left out. */
export function driverImpedanceAt({ resistanceOhm, inductanceHenry = 0 }: DriverImpedance, hertz: number): Complex {
  return { re: resistanceOhm, im: 2 * Math.PI * hertz * inductanceHenry };
}

/**
 * Voltage at the driver over the voltage at the amplifier.
 *
 * @see voltage divider of complex impedances (AC circuit theory)
 */
export function passiveAt(parts: PassiveParts, driver: DriverImpedance, hertz: number): Complex {
  const { inSeries, atDriver } = branches(parts, driver, hertz);
  return divide(atDriver, plus(inSeries, atDriver));
}

/** What the amplifier sees of the parts and the driver behind them. */
export function passiveImpedanceAt(parts: PassiveParts, driver: DriverImpedance, hertz: number): Complex {
  const { inSeries, atDriver } = branches(parts, driver, hertz);
  return plus(inSeries, atDriver);
}

const NOTHING: Complex = { re: 0, im: 0 };

function branches(parts: PassiveParts, driver: DriverImpedance, hertz: number): { inSeries: Complex; atDriver: Complex } {
  const omega = 2 * Math.PI * hertz;
  const { kind, capacitanceFarad, inductanceHenry } = parts;
  const ofCapacitor = capacitanceFarad === undefined ? undefined : { re: 0, im: -1 / (omega * capacitanceFarad) };
  const ofInductor = inductanceHenry === undefined ? undefined : { re: 0, im: omega * inductanceHenry };
  const [inSeries, across] = kind === 'highpass' ? [ofCapacitor, ofInductor] : [ofInductor, ofCapacitor];
  const coil = driverImpedanceAt(driver, hertz);
  return {
    inSeries: inSeries ?? NOTHING,
    atDriver: across === undefined ? coil : divide(times(across, coil), plus(across, coil)),
  };
}

export type PassiveAlignment = 'butterworth' | 'linkwitz-riley' | 'bessel';

/** Damping of a second-order section: H = 1 / (1 + s / (Q ω) + s² / ω²), with ω times the corner. */
const SECTIONS: Record<PassiveAlignment, { q: number; scale: number }> = {
  butterworth: { q: Math.SQRT1_2, scale: 1 },
  'linkwitz-riley': { q: 0.5, scale: 1 },
  // s² + 3 s + 3, brought to −3.01 dB at the corner.
  bessel: { q: 1 / Math.sqrt(3), scale: Math.sqrt((1 + Math.sqrt(5)) / 2) },
};

export interface TwoWayInput {
  order: 1 | 2;
  /** of a second-order network; a first-order one is Butterworth */
  alignment?: PassiveAlignment;
  cornerHz: number;
  /** of the woofer, behind the low-pass */
  lowerOhm: number;
  /** of the tweeter, behind the high-pass */
  upperOhm: number;
}

export interface TwoWay {
  lowpass: PassiveParts;
  highpass: PassiveParts;
  /** whether one of the drivers has to be connected the other way round: the two are half a turn apart at the corner */
  isReversed: boolean;
}

/**
 * Parts of a two-way network into resistive loads.
 *
 * @throws {CoreError} `INPUT_INVALID` for an order other than 1 or 2, a corner or load not above 0
 * @see low-pass L C section into R: L = R / (Q ω), C = Q / (R ω); for the high-pass C = 1 / (R ω) × Q, L = R / (Q ω), ω moved the other way
 * @example twoWayParts({ order: 1, cornerHz: 3000, lowerOhm: 4, upperOhm: 4 }).highpass.capacitanceFarad // 13.3e-6
 */
export function twoWayParts(input: TwoWayInput): TwoWay {
  checkNumbers<Record<string, unknown>>(
    { ...input },
    {
      cornerHz: { name: 'corner', unit: 'Hz', above: 0 },
      lowerOhm: { name: 'impedance of the lower driver', unit: 'ohm', above: 0 },
      upperOhm: { name: 'impedance of the upper driver', unit: 'ohm', above: 0 },
    },
  );
  const { order, alignment = 'butterworth', cornerHz, lowerOhm, upperOhm } = input;
  const omega = 2 * Math.PI * cornerHz;
  if (order === 1) {
    return {
      lowpass: { kind: 'lowpass', inductanceHenry: lowerOhm / omega },
      highpass: { kind: 'highpass', capacitanceFarad: 1 / (omega * upperOhm) },
      isReversed: false,
    };
  }
  if ((order as number) !== 2)
    throw new CoreError('INPUT_INVALID', [{ pointer: '/order', message: 'a passive network here has order 1 or 2' }]);
  const { q, scale } = SECTIONS[alignment];
  const [low, high] = [omega * scale, omega / scale];
  return {
    lowpass: { kind: 'lowpass', inductanceHenry: lowerOhm / (q * low), capacitanceFarad: q / (lowerOhm * low) },
    highpass: { kind: 'highpass', capacitanceFarad: q / (upperOhm * high), inductanceHenry: upperOhm / (q * high) },
    isReversed: true,
  };
}

/**
 * Where a response has come down by 3.01 dB against its passband, which is taken where the parts no longer matter.
 *
 * @returns hertz; undefined where that happens nowhere between 1 Hz and 1 MHz
 */
export function passiveCornerHz(parts: PassiveParts, driver: DriverImpedance): number | undefined {
  if (passiveOrder(parts) === 0) return undefined;
  const down = (logHertz: number): boolean => {
    const { re, im } = passiveAt(parts, driver, Math.exp(logHertz));
    return re ** 2 + im ** 2 < 0.5;
  };
  const isHigh = parts.kind === 'highpass';
  // From inside the passband outward, so that a coil's own inductance or a peak is not taken for the corner.
  const steps = 600;
  const [from, to] = [0, Math.log(1e6)];
  const at = (i: number): number => (isHigh ? to - ((to - from) * i) / steps : from + ((to - from) * i) / steps);
  for (let i = 1; i <= steps; i += 1) {
    if (!down(at(i)) || down(at(i - 1))) continue;
    let [inside, outside] = [at(i - 1), at(i)];
    for (let k = 0; k < 50; k += 1) {
      const middle = (inside + outside) / 2;
      if (down(middle)) outside = middle;
      else inside = middle;
    }
    return Math.exp((inside + outside) / 2);
  }
  return undefined;
}

/** Level at the driver against the amplifier's terminals, in decibels. @param hertz - above 0 */
export const passiveDb = (parts: PassiveParts, driver: DriverImpedance, hertz: number): number =>
  levelDbOf(passiveAt(parts, driver, hertz));

/**
 * The parts that would make a printed corner and slope with a driver: what a bought network does, as far as its label tells.
 *
 * @param driverOhm - nominal, above 0
 * @throws {CoreError} as `twoWayParts`
 */
export function partsAsPrinted(kind: FilterKind, cornerHz: number, order: 1 | 2, driverOhm: number): PassiveParts {
  const { lowpass, highpass } = twoWayParts({ order, cornerHz, lowerOhm: driverOhm, upperOhm: driverOhm });
  return kind === 'lowpass' ? lowpass : highpass;
}

/** Where capacitors of unknown value in front of tweeters mostly lie, in hertz. Common practice, no source. */
const USUAL_TWEETER_CORNER_HZ = 4000;

/** What is taken for a capacitor that nobody can read. */
export const unknownCapacitor = (driverOhm: number): PassiveParts => partsAsPrinted('highpass', USUAL_TWEETER_CORNER_HZ, 1, driverOhm);
