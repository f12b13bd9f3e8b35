import { divide, plus, magnitude, times, type Complex } from '../numerics/complex.ts';
import type { LoadCoil } from './drivers.ts';
import { networkText, without, type Network } from './network.ts';
import { networkOhm } from './solveNetwork.ts';

// A driver behind a capacitor or a two-way network is no plain coil: what the amplifier, the ohmmeter and the driver see of it
// changes with frequency. Without such parts everything here falls back to resistances.

/**
 * Above this frequency the coil of a driver that nobody measured pushes back as much as its resistance does: 0.3 mH at 4 ohm.
 * Common practice, no source. It is what keeps a woofer and a tweeter on one pair of terminals from being half the load in the treble.
 */
const USUAL_COIL_CORNER_HZ = 2000;

/** The range that an amplifier's lowest load is held against: what music fills. Hertz. */
const LOAD_FROM_HZ = 20;
const LOAD_TO_HZ = 20_000;
const POINTS_PER_OCTAVE = 12;

/** A nominal impedance is a figure that the magnitude nowhere falls under by more than this. @see IEC 60268-5, rated impedance: 80 % */
const LOWEST_OF_NOMINAL = 0.8;
/** Loads that are named as nominal: of single drivers, and of two and three of them side by side or in a row. Common practice, no source. */
const NOMINALS: readonly number[] = [0.25, 0.33, 0.5, 0.67, 1, 1.33, 1.5, 2, 2.67, 3, 4, 5.33, 6, 8, 12, 16, 24, 32];

export const hasBranch = (coils: readonly LoadCoil[]): boolean => coils.some(({ branch }) => branch !== undefined);

/** Whether a part in series keeps direct current, and an ohmmeter with it, from the coil. */
export const blocksDc = ({ branch }: LoadCoil): boolean =>
  branch?.parts.some(({ kind, capacitanceFarad }) => kind === 'highpass' && capacitanceFarad !== undefined) === true;

function coilAt({ nominalOhm, inductanceHenry, branch }: LoadCoil, hertz: number): Complex {
  // Parts that nobody has seen, with an inductance that nobody measured, would make a resonance that is not there.
  if (branch?.isLabelled === true) return { re: nominalOhm, im: 0 };
  const isHigh = branch?.parts.some(({ kind }) => kind === 'highpass') === true;
  const henry = inductanceHenry ?? (isHigh ? 0 : nominalOhm / (2 * Math.PI * USUAL_COIL_CORNER_HZ));
  return { re: nominalOhm, im: 2 * Math.PI * hertz * henry };
}

/** What is seen of a coil behind its parts, and how much of the voltage before them reaches it. */
function branchAt(coil: LoadCoil, hertz: number): { ohm: Complex; reaches: Complex } {
  const omega = 2 * Math.PI * hertz;
  let ohm = coilAt(coil, hertz);
  let reaches: Complex = { re: 1, im: 0 };
  for (const { kind, capacitanceFarad, inductanceHenry } of [...(coil.branch?.parts ?? [])].reverse()) {
    const capacitor = capacitanceFarad === undefined ? undefined : { re: 0, im: -1 / (omega * capacitanceFarad) };
    const inductor = inductanceHenry === undefined ? undefined : { re: 0, im: omega * inductanceHenry };
    const [inSeries, across] = kind === 'highpass' ? [capacitor, inductor] : [inductor, capacitor];
    const behind = across === undefined ? ohm : divide(times(across, ohm), plus(across, ohm));
    ohm = inSeries === undefined ? behind : plus(inSeries, behind);
    reaches = times(reaches, divide(behind, ohm));
  }
  return { ohm, reaches };
}

const ONE: Complex = { re: 1, im: 0 };

function impedanceOf(network: Network, at: (coil: string) => Complex): Complex {
  if (network.kind === 'coil') return at(network.coil);
  const parts = network.parts.map((part) => impedanceOf(part, at));
  if (network.kind === 'series') return parts.reduce(plus);
  return divide(ONE, parts.map((part) => divide(ONE, part)).reduce(plus));
}

const named = (coils: readonly LoadCoil[]): ((name: string) => LoadCoil) => {
  const byName = new Map(coils.map((coil) => [coil.name, coil]));
  return (name) => byName.get(name)!;
};

/** Impedance of a whole network at one frequency, its drivers behind their parts. Ohms, complex. @param hertz - above 0 */
export function networkImpedanceAt(network: Network, coils: readonly LoadCoil[], hertz: number): Complex {
  const coil = named(coils);
  return impedanceOf(network, (name) => branchAt(coil(name), hertz).ohm);
}

export interface NetworkLoad {
  /** what the wiring is called: the figure that is held against an amplifier's plate */
  nominalOhm: number;
  /** the lowest magnitude between 20 Hz and 20 kHz */
  lowestOhm: number;
  /** where that lies; left out where it is the same everywhere */
  lowestHz?: number;
}

/**
 * What a wiring presents to the amplifier.
 *
 * Plain coils have their nominal impedance. With drivers behind parts it is the highest usual nominal figure that the magnitude
 * allows: nowhere in the band under 80 % of it. A part in series makes no driver's nominal load higher: where the drivers play it is what
 * their plates make of it.
 *
 * @see IEC 60268-5, rated impedance
 * @example two drivers of 4 ohm, one of them behind 6.8 µF, are 4 ohm: each plays where the other hardly draws
 */
export function networkLoad(network: Network, coils: readonly LoadCoil[]): NetworkLoad {
  const known = keptLoads.get(coils)?.get(networkText(network));
  if (known !== undefined) return known;
  const load = loadOf(network, coils);
  const kept = keptLoads.get(coils) ?? new Map<string, NetworkLoad>();
  keptLoads.set(coils, kept.set(networkText(network), load));
  return load;
}

/** Asked for by whoever checks, draws and judges a channel: worked out once. */
const keptLoads = new WeakMap<readonly LoadCoil[], Map<string, NetworkLoad>>();

const GRID_STEPS = Math.round(Math.log2(LOAD_TO_HZ / LOAD_FROM_HZ) * POINTS_PER_OCTAVE);
const GRID_HZ = Array.from({ length: GRID_STEPS + 1 }, (_, i) => LOAD_FROM_HZ * (LOAD_TO_HZ / LOAD_FROM_HZ) ** (i / GRID_STEPS));

function loadOf(network: Network, coils: readonly LoadCoil[]): NetworkLoad {
  if (!hasBranch(coils)) {
    const coil = named(coils);
    const ohm = networkOhm(network, (name) => coil(name).nominalOhm);
    return { nominalOhm: ohm, lowestOhm: ohm };
  }
  const seen = seenOver(coils);
  let [lowestOhm, lowestHz] = [Infinity, LOAD_FROM_HZ];
  GRID_HZ.forEach((hertz, i) => {
    const ohm = magnitude(impedanceOf(network, (name) => seen.get(name)![i]!.ohm));
    if (ohm < lowestOhm) [lowestOhm, lowestHz] = [ohm, hertz];
  });
  // A part in a thousand of slack, so that a load that is exactly at the edge is named after it.
  const allowedOhm = NOMINALS.findLast((ohm) => ohm * LOWEST_OF_NOMINAL <= lowestOhm * 1.001) ?? lowestOhm;
  return { nominalOhm: Math.min(allowedOhm, playedNominal(network, coils, seen)), lowestOhm, lowestHz };
}

/** What is seen of each coil over the band. All coils of one driver are alike: they are worked out once. */
function seenOver(coils: readonly LoadCoil[]): Map<string, { ohm: Complex; reached: number }[]> {
  const byDriver = new Map<string, { ohm: Complex; reached: number }[]>();
  return new Map(
    coils.map((coil) => {
      const seen =
        byDriver.get(coil.driver) ??
        GRID_HZ.map((hertz) => {
          const { ohm, reaches } = branchAt(coil, hertz);
          return { ohm, reached: magnitude(reaches) };
        });
      byDriver.set(coil.driver, seen);
      return [coil.name, seen];
    }),
  );
}

/** A coil plays where it gets this much of the most that it gets anywhere. */
const PLAYS_MOST = 0.9;
/** Two loads nearer than this have one name. */
const NAME_SLACK = 1.12;

/** The lowest load of the drivers without what stands before them, each where it plays; Infinity where none does. Ohms, as it is named. */
function playedNominal(network: Network, coils: readonly LoadCoil[], seen: ReadonlyMap<string, readonly { reached: number }[]>): number {
  const least = new Map([...seen].map(([name, parts]) => [name, PLAYS_MOST * Math.max(...parts.map(({ reached }) => reached))]));
  const coil = named(coils);
  let lowest = Infinity;
  // Which of them play changes at few frequencies.
  let [players, left] = ['', undefined as Network | undefined];
  GRID_HZ.forEach((hertz, i) => {
    const playing = coils.filter(({ name }) => seen.get(name)![i]!.reached >= least.get(name)!).map(({ name }) => name);
    const key = playing.join();
    if (key !== players) {
      const plays = new Set(playing);
      [players, left] = [key, without(network, (name) => !plays.has(name))];
    }
    if (left === undefined) return;
    lowest = Math.min(lowest, magnitude(impedanceOf(left, (name) => coilAt(coil(name), hertz))));
  });
  return NOMINALS.findLast((ohm) => ohm <= lowest * NAME_SLACK) ?? lowest;
}

/** What each coil gets of a voltage at the terminals: part of the voltage, and watts for each volt squared. */
export interface CoilShare {
  voltagePart: number;
  wattPerSquareVolt: number;
}

/**
 * How a voltage at the terminals divides among the coils at one frequency.
 *
 * @see AC circuit theory: a series group divides its voltage as its impedances, a parallel one has it whole; power is |I|² R
 */
export function coilSharesAt(network: Network, coils: readonly LoadCoil[], hertz: number): Map<string, CoilShare> {
  const coil = named(coils);
  const at = (name: string): Complex => branchAt(coil(name), hertz).ohm;
  const shares = new Map<string, CoilShare>();
  const share = (part: Network, volt: Complex): void => {
    if (part.kind === 'coil') {
      const own = coil(part.coil);
      const atCoil = magnitude(times(volt, branchAt(own, hertz).reaches));
      const ohm = magnitude(coilAt(own, hertz));
      shares.set(part.coil, { voltagePart: atCoil, wattPerSquareVolt: (atCoil / ohm) ** 2 * own.nominalOhm });
      return;
    }
    const whole = impedanceOf(part, at);
    for (const inner of part.parts) share(inner, part.kind === 'parallel' ? volt : times(volt, divide(impedanceOf(inner, at), whole)));
  };
  share(network, ONE);
  return shares;
}

/** Where the strongest coil at a tone gets less than this part of the voltage, the tone is none that these drivers play. */
const PLAYS_PART = 0.7;

/**
 * Voltage at the terminals at which the first coil reaches its rating, with a tone.
 *
 * A tweeter behind its capacitor hardly hears the tone that sets a woofer, and limits nothing. Where none of the drivers plays the
 * tone, each counts as if it got all of it.
 *
 * @returns RMS volts; undefined where a rating is missing
 */
export function ratedVoltAt(network: Network, coils: readonly LoadCoil[], hertz: number): number | undefined {
  const shares = coilSharesAt(network, coils, hertz);
  const isPlayed = [...shares.values()].some(({ voltagePart }) => voltagePart >= PLAYS_PART);
  let limit = Infinity;
  for (const coil of coils) {
    const share = shares.get(coil.name);
    if (share === undefined) continue;
    if (coil.ratedPowerWatt === undefined) return undefined;
    // Who plays the tone is rated at the worst frequency of its own range, where neither a part nor its inductance stands in the way.
    const isOwn = !isPlayed || share.voltagePart >= PLAYS_PART;
    const wattPerSquareVolt = isOwn ? 1 / coil.nominalOhm : share.voltagePart ** 2 / coil.nominalOhm;
    if (wattPerSquareVolt > 0) limit = Math.min(limit, Math.sqrt(coil.ratedPowerWatt / wattPerSquareVolt));
  }
  return limit;
}

/** What an ohmmeter sees of a network: coils behind a capacitor are not there; undefined where no path is left. */
export function seenByOhmmeter(network: Network, coils: readonly LoadCoil[]): Network | undefined {
  const blocked = new Set(coils.filter(blocksDc).map(({ name }) => name));
  if (blocked.size === 0) return network;
  const open = (part: Network): boolean =>
    part.kind === 'coil' ? blocked.has(part.coil) : part.kind === 'series' ? part.parts.some(open) : part.parts.every(open);
  const prune = (part: Network): Network =>
    part.kind === 'coil' ? part : { kind: part.kind, parts: part.parts.filter((inner) => !open(inner)).map(prune) };
  return open(network) ? undefined : without(prune(network), () => false);
}
