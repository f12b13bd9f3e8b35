import { checkNumbers, CoreError } from '../coreError.ts';
import { degreesOf, divide, plus, magnitude, type Complex } from '../numerics/complex.ts';

/** A driver by its small-signal figures, resonance and Qs in free air. */
export interface DriverModel {
  dcOhm: number;
  inductanceHenry?: number;
  resonanceHz: number;
  qMechanical: number;
  qElectrical: number;
}

/** complianceRatio: of the suspension over the air in the box */
export type Enclosure = { kind: 'sealed'; complianceRatio: number } | { kind: 'ported'; complianceRatio: number; tuningHz: number };

export interface ImpedanceInput {
  driver: DriverModel;
  /** left out: the driver in the open */
  enclosure?: Enclosure;
  frequenciesHz: readonly number[];
  nominalOhm?: number;
  voltageRms?: number;
}

export interface ImpedancePoint {
  frequencyHz: number;
  magnitudeOhm: number;
}

export interface ImpedanceCurve {
  magnitudeOhm: number[];
  /** positive where the current lags */
  phaseDeg: number[];
  /** lowest point from the lowest peak up to 1 kHz; left out where that peak lies above 1 kHz */
  minimum?: ImpedancePoint;
  /** of the magnitude, by frequency: one in the open or sealed, two ported */
  peaks: ImpedancePoint[];
  /** magnitude over nominal impedance */
  riseRatio?: number[];
  /** real power at voltageRms */
  powerWatt?: number[];
  /** RMS current at voltageRms */
  currentAmpere?: number[];
}

/** Up to here the lowest point is looked for: above, the coil's inductance alone lifts the curve. */
const MINIMUM_UP_TO_HZ = 1000;

/**
 * What a driver presents to the amplifier, in the open or in its enclosure.
 *
 * @throws {CoreError} `INPUT_INVALID` for figures out of bounds
 * @see R. H. Small, "Direct-Radiator Loudspeaker System Analysis", JAES 20 (1972), and "Closed-Box" and "Vented-Box Loudspeaker
 * Systems", JAES 20 and 21 (1972, 1973): the usual equivalent circuit, lossless box
 */
export function driverImpedance(input: ImpedanceInput): ImpedanceCurve {
  check(input);
  const { driver, enclosure, frequenciesHz, nominalOhm, voltageRms } = input;
  const at = (hertz: number): Complex => impedanceAt(driver, enclosure, hertz);
  const size = (hertz: number): number => magnitude(at(hertz));
  const all = frequenciesHz.map(at);
  const magnitudeOhm = all.map(magnitude);
  const peaks = peaksOf(driver, enclosure, size);
  const minimum = lowestFrom(peaks[0], enclosure, size);
  return {
    magnitudeOhm,
    phaseDeg: all.map(degreesOf),
    ...(minimum === undefined ? {} : { minimum }),
    peaks,
    ...(nominalOhm === undefined ? {} : { riseRatio: magnitudeOhm.map((ohm) => ohm / nominalOhm) }),
    ...(voltageRms === undefined
      ? {}
      : {
          powerWatt: all.map((z) => (voltageRms / magnitude(z)) ** 2 * z.re),
          currentAmpere: magnitudeOhm.map((ohm) => voltageRms / ohm),
        }),
  };
}

/** One point of the equivalent circuit. */
export function impedanceAt(driver: DriverModel, enclosure: Enclosure | undefined, hertz: number): Complex {
  const { dcOhm, inductanceHenry = 0 } = driver;
  const coil: Complex = { re: dcOhm, im: 2 * Math.PI * hertz * inductanceHenry };
  const motional = motionalAdmittance(driver, enclosure, hertz);
  return motional === undefined ? coil : plus(coil, divide({ re: 1, im: 0 }, motional));
}

/** What moves, as an admittance; undefined at the tuning of a port, where it is a short. */
function motionalAdmittance(driver: DriverModel, enclosure: Enclosure | undefined, hertz: number): Complex | undefined {
  const { dcOhm, resonanceHz, qMechanical, qElectrical } = driver;
  const ratio = hertz / resonanceHz;
  // Everything over dcOhm / qElectrical: C is ratio, L is 1 / ratio, R is qMechanical.
  const unit = qElectrical / dcOhm;
  const box = enclosure === undefined ? 0 : boxSusceptance(enclosure, hertz, ratio);
  if (box === undefined) return undefined;
  return { re: unit / qMechanical, im: unit * (ratio - 1 / ratio + box) };
}

function boxSusceptance(enclosure: Enclosure, hertz: number, ratio: number): number | undefined {
  const sealed = -enclosure.complianceRatio / ratio;
  if (enclosure.kind === 'sealed') return sealed;
  // The inductance in series with a capacitance that resonates with it: its reactance times 1 − (tuning / f)².
  const rest = 1 - (enclosure.tuningHz / hertz) ** 2;
  return rest === 0 ? undefined : sealed / rest;
}

/** Grid of the search, in points a decade; peaks far narrower than its steps are met since their centres are points of it. */
const PER_DECADE = 400;

function peaksOf(driver: DriverModel, enclosure: Enclosure | undefined, size: (hertz: number) => number): ImpedancePoint[] {
  const centres = resonances(driver, enclosure);
  const [low, high] = [centres[0]! / 30, centres.at(-1)! * 30];
  const count = Math.ceil(PER_DECADE * Math.log10(high / low));
  const grid = Array.from({ length: count + 1 }, (_, i) => low * (high / low) ** (i / count));
  // Around each centre closer and closer, so that no peak is too narrow to be seen.
  const close = centres.flatMap((centre) =>
    Array.from({ length: 121 }, (_, i) => i - 60).map((i) => centre * (1 + Math.sign(i) * 10 ** (-5 + (4.4 * Math.abs(i)) / 60))),
  );
  const points = [...new Set([...grid, ...close])].sort((a, b) => a - b).map((hertz) => ({ hertz, ohm: size(hertz) }));
  const peaks: ImpedancePoint[] = [];
  for (let i = 1; i < points.length - 1; i += 1) {
    const [before, here, after] = [points[i - 1]!, points[i]!, points[i + 1]!];
    if (here.ohm <= before.ohm || here.ohm < after.ohm) continue;
    const frequencyHz = extremeIn(before.hertz, after.hertz, (hertz) => -size(hertz));
    peaks.push({ frequencyHz, magnitudeOhm: size(frequencyHz) });
  }
  // Neighbouring points of one summit, told apart by rounding alone.
  return peaks.filter(({ frequencyHz }, i) => i === 0 || frequencyHz / peaks[i - 1]!.frequencyHz > 1 + 1e-6);
}

/** Where what moves draws no reactive current, by frequency: near these the magnitude peaks. */
function resonances({ resonanceHz }: DriverModel, enclosure: Enclosure | undefined): number[] {
  if (enclosure === undefined) return [resonanceHz];
  const { complianceRatio } = enclosure;
  if (enclosure.kind === 'sealed') return [resonanceHz * Math.sqrt(1 + complianceRatio)];
  // x − 1/x − a/x / (1 − h²/x²) = 0 with x = f / fs: x⁴ − (1 + a + h²) x² + h² = 0.
  const h = (enclosure.tuningHz / resonanceHz) ** 2;
  const middle = (1 + complianceRatio + h) / 2;
  const upper = middle + Math.sqrt(middle ** 2 - h);
  return [h / upper, upper].map((square) => resonanceHz * Math.sqrt(square));
}

function lowestFrom(
  peak: ImpedancePoint | undefined,
  enclosure: Enclosure | undefined,
  size: (hertz: number) => number,
): ImpedancePoint | undefined {
  if (peak === undefined || peak.frequencyHz > MINIMUM_UP_TO_HZ) return undefined;
  const from = peak.frequencyHz;
  const count = Math.max(8, Math.ceil(PER_DECADE * Math.log10(MINIMUM_UP_TO_HZ / from)));
  const tuning =
    enclosure?.kind === 'ported' && enclosure.tuningHz > from && enclosure.tuningHz < MINIMUM_UP_TO_HZ ? [enclosure.tuningHz] : [];
  const grid = [
    ...Array.from({ length: count }, (_, i) => from * (MINIMUM_UP_TO_HZ / from) ** (i / count)),
    MINIMUM_UP_TO_HZ,
    ...tuning,
  ].sort((a, b) => a - b);
  const sizes = grid.map(size);
  const lowest = sizes.indexOf(Math.min(...sizes));
  const [before, after] = [grid[Math.max(0, lowest - 1)]!, grid[Math.min(grid.length - 1, lowest + 1)]!];
  const refined = extremeIn(before, after, size);
  const frequencyHz = size(refined) < sizes[lowest]! ? refined : grid[lowest]!;
  return { frequencyHz, magnitudeOhm: size(frequencyHz) };
}

/** The lowest point of a function with one dip between two places, by golden section. */
function extremeIn(from: number, to: number, value: (x: number) => number): number {
  const golden = (Math.sqrt(5) - 1) / 2;
  let [low, high] = [from, to];
  for (let turn = 0; turn < 80 && high - low > 1e-12 * high; turn += 1) {
    const [left, right] = [high - golden * (high - low), low + golden * (high - low)];
    if (value(left) < value(right)) high = right;
    else low = left;
  }
  return (low + high) / 2;
}

function check({ driver, enclosure, frequenciesHz, nominalOhm, voltageRms }: ImpedanceInput): void {
  const within = (pointer: string, run: () => void): void => {
    try {
      run();
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      throw new CoreError(
        error.code,
        error.faults.map((fault) => ({ ...fault, pointer: `${pointer}${fault.pointer}` })),
      );
    }
  };
  within('/driver', () =>
    checkNumbers(driver, {
      dcOhm: { name: 'DC resistance', unit: 'ohm', above: 0 },
      inductanceHenry: { name: 'inductance', unit: 'H', atLeast: 0 },
      resonanceHz: { name: 'resonance', unit: 'Hz', above: 0 },
      qMechanical: { name: 'mechanical Q', above: 0 },
      qElectrical: { name: 'electrical Q', above: 0 },
    }),
  );
  if (enclosure !== undefined)
    within('/enclosure', () =>
      checkNumbers<{ complianceRatio: number; tuningHz?: number }>(enclosure, {
        complianceRatio: { name: 'compliance ratio', above: 0 },
        tuningHz: { name: 'tuning', unit: 'Hz', above: 0 },
      }),
    );
  checkNumbers(
    { nominalOhm, voltageRms },
    { nominalOhm: { name: 'nominal impedance', unit: 'ohm', above: 0 }, voltageRms: { name: 'voltage', unit: 'V', atLeast: 0 } },
  );
  const faults = frequenciesHz.flatMap((hertz, i) =>
    Number.isFinite(hertz) && hertz > 0 ? [] : [{ pointer: `/frequenciesHz/${i}`, message: 'frequencies must be above 0 Hz' }],
  );
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);
}
