import { checkNumbers } from '../coreError.ts';
import { formatQuantity } from '../units/formatQuantity.ts';
import { OVERLOAD_OHM } from '../units/overload.ts';
import { blocksDc, seenByOhmmeter } from './branches.ts';
import { dcBand, likelyDcOhm, type OhmBand } from './coilResistance.ts';
import { byDriver, coilsOf, coilWords, type DriverSpec, type LoadCoil } from './drivers.ts';
import { checkDrivers, loadOptions, meterBand } from './loadOptions.ts';
import { canonicalText, coilsIn, networkText, parseNetwork, without, type Network } from './network.ts';
import { networkOhm } from './solveNetwork.ts';

export type CauseKind =
  | 'as-intended'
  | 'other-wiring'
  | 'one-coil-only'
  | 'driver-missing'
  | 'coil-open'
  | 'short'
  | 'open'
  | 'leads-not-subtracted';

export interface Cause {
  kind: CauseKind;
  /** the wiring that would read so, where it is one */
  network?: string;
  /** the figure that it would give, leads taken off */
  expectedOhm: number;
  note: string;
}

export interface OhmmeterAccuracy {
  /** percent of the reading */
  meterPercent?: number;
  /** the digits of its accuracy, in ohms */
  meterDigitsOhm?: number;
}

export interface MeterDiagnosisInput extends OhmmeterAccuracy {
  drivers: DriverSpec[];
  intendedNetwork: string;
  /** as read, leads and all; overload is entered as a large figure */
  meterOhm: number;
  leadOhm?: number;
}

export interface MeterDiagnosis {
  verdict: 'matches' | 'differs' | 'open' | 'short';
  /** without the leads, the meter's own error counted in */
  expectedOhm: OhmBand;
  /** the reading with the leads taken off */
  coilsOhm: number;
  /** most likely first */
  causes: Cause[];
  notes: string[];
}

export const DEFAULT_METER_PERCENT = 1;
export const DEFAULT_METER_DIGITS_OHM = 0.1;

/** From here on a meter shows nothing that a coil could be, whatever it is called on its display. */
const OPEN_OHM = 1e5;

/** So many times the highest wiring is no wiring any more: a bad contact, or an open coil seen through the meter. */
const OPEN_FACTOR = 10;

/** Under this part of the lowest wiring only the leads are left. */
const SHORT_PART = 0.5;

/** Coils that nobody measured alone may be wound a little higher than usual: up to this part of nominal. Common practice, no source. */
const HIGHEST_RATIO = 1.1;

/** What test leads usually have together, in ohms, and a bad contact about the same. Common practice, no source. */
const USUAL_LEADS: OhmBand = { low: 0.1, high: 0.6 };

const NO_POLARITY =
  'A reversed coil reads the same: an ohmmeter cannot see polarity. Check it at the polarity step, coil by coil, before full power.';

const WOUND_HIGH = 'It reads slightly higher than usual, perhaps a higher winding. Measure one coil alone to predict the whole load.';

const NOTHING_FITS =
  'No one mistake gives exactly this figure: the nearest are listed. Two at once, a bad contact or a wrongly written coil would do it too.';

/**
 * Does the ohmmeter agree with the wiring that was meant, and if not, what is likely wrong.
 *
 * Every mistake is tried on the network and the figure that it would give is held against the reading; those that fit are
 * listed by how well they fit and how often they are made.
 *
 * @throws {CoreError} `INPUT_INVALID` for figures out of bounds or a network that cannot be read
 * @example meterDiagnosis({ drivers: [{ name: 'A', coils: 2, coilOhm: 2, coilDcOhm: 1.7 }], intendedNetwork: 'A1+A2', meterOhm: 1.7 }).causes[0].kind // 'one-coil-only'
 */
export function meterDiagnosis(input: MeterDiagnosisInput): MeterDiagnosis {
  checkNumbers(input, {
    meterOhm: { name: 'meter reading', unit: 'ohm', atLeast: 0 },
    leadOhm: { name: 'lead resistance', unit: 'ohm', atLeast: 0 },
    meterPercent: { name: 'meter accuracy', unit: '%', atLeast: 0, atMost: 50 },
    meterDigitsOhm: { name: 'meter accuracy in ohms', unit: 'ohm', atLeast: 0 },
  });
  checkDrivers(input.drivers);
  const { isUnexplained: _unexplained, ...diagnosis } = diagnoseReading({
    ...input,
    coils: coilsOf(input.drivers),
    otherWirings: () => otherWirings(input.drivers),
  });
  return diagnosis;
}

/** What `diagnoseReading` wants: coils that may each have a measured figure, and the wirings that could have been made by mistake. */
export interface ReadingInput extends OhmmeterAccuracy {
  coils: readonly LoadCoil[];
  intendedNetwork: string;
  meterOhm: number;
  leadOhm?: number;
  otherWirings: () => Network[];
  /** drivers that an ohmmeter does not see, in words */
  behindCapacitor?: readonly string[];
}

/** A diagnosis, and whether its causes only come near: no one mistake gives the figure. */
export interface ReadingDiagnosis extends MeterDiagnosis {
  isUnexplained?: true;
}

/** The same judgement for coils that were measured one by one. @throws {CoreError} as `meterDiagnosis` */
export function diagnoseReading(input: ReadingInput): ReadingDiagnosis {
  const names = new Set(input.coils.map(({ name }) => name));
  const wired = parseNetwork(input.intendedNetwork, names, '/intendedNetwork');
  const seen = seenByOhmmeter(wired, input.coils);
  if (seen === undefined) return behindCapacitors(wired, input);
  const blocked = input.coils.filter(blocksDc);
  return blocked.length === 0
    ? diagnoseSeen(wired, input)
    : diagnoseSeen(seen, {
        ...input,
        coils: input.coils.filter((coil) => !blocksDc(coil)),
        otherWirings: () => input.otherWirings().flatMap((network) => seenByOhmmeter(network, input.coils) ?? []),
        behindCapacitor: blocked.map((coil) => coilWords(coil, input.coils)),
      });
}

/** Nothing but capacitors between the probes: no path is right, and a path says that one is missing or bridged. */
function behindCapacitors(wired: Network, { coils, meterOhm, leadOhm = 0 }: ReadingInput): MeterDiagnosis {
  const shared = { expectedOhm: { low: OPEN_OHM, high: OVERLOAD_OHM }, coilsOhm: Math.max(0, meterOhm - leadOhm), notes: [NO_POLARITY] };
  const who = coils.map((coil) => coilWords(coil, coils)).join(', ');
  if (meterOhm >= OPEN_OHM) {
    const note = `No path, as it should be: ${who} sits behind a capacitor, and an ohmmeter does not see through it.`;
    return {
      ...shared,
      verdict: 'matches',
      causes: [{ kind: 'as-intended', network: networkText(wired), expectedOhm: OVERLOAD_OHM, note }],
    };
  }
  const note = `There is a path, and ${who} should sit behind a capacitor: it is missing or bridged. Connect no amplifier.`;
  return { ...shared, verdict: 'short', causes: [{ kind: 'short', expectedOhm: shared.coilsOhm, note }] };
}

function diagnoseSeen(intended: Network, input: ReadingInput): ReadingDiagnosis {
  const { coils, meterOhm, leadOhm = 0, meterPercent = DEFAULT_METER_PERCENT, meterDigitsOhm = DEFAULT_METER_DIGITS_OHM } = input;
  const coilsOhm = Math.max(0, meterOhm - leadOhm);
  const widened = ({ low, high }: OhmBand): OhmBand => ({
    low: Math.max(0, low * (1 - meterPercent / 100) - meterDigitsOhm),
    high: high * (1 + meterPercent / 100) + meterDigitsOhm,
  });
  const expectedOhm = widened(meterBand(intended, coils));
  const shared = { expectedOhm, coilsOhm, notes: notesOn(input) };
  const inBand = (band: OhmBand): boolean => coilsOhm >= band.low && coilsOhm <= band.high;
  const asIntended: Cause = {
    kind: 'as-intended',
    network: networkText(intended),
    expectedOhm: figureOf(intended, coils),
    note: `As intended: ${ohms(coilsOhm)} is right for this wiring.`,
  };

  const suspects = suspectsOf(intended, input);
  const fitting = suspects
    .filter(({ band }) => inBand(widened(band)))
    .sort((a, b) => misfit(a, coilsOhm) - misfit(b, coilsOhm))
    .map(({ cause }) => cause);

  // The lowest figure that any wiring could give, to tell a short from a low load.
  const allParallel: Network = { kind: 'parallel', parts: coils.map(({ name }) => ({ kind: 'coil', coil: name, reversed: false })) };
  const allSeries: Network = { ...allParallel, kind: 'series' };
  if (meterOhm >= OPEN_OHM || coilsOhm > OPEN_FACTOR * figureOf(allSeries, coils)) {
    return { ...shared, verdict: 'open', causes: openCauses(intended, coils, coilsOhm) };
  }
  if (inBand(expectedOhm) && coilsOhm > SHORT_PART * meterBand(allParallel, coils).low) {
    return { ...shared, verdict: 'matches', causes: [asIntended, ...fitting] };
  }
  if (coilsOhm < SHORT_PART * meterBand(allParallel, coils).low) {
    return {
      ...shared,
      verdict: 'short',
      causes: [
        {
          kind: 'short',
          expectedOhm: 0,
          note: 'Plus and minus touch: look for a strand between two terminals, a jumper across one coil, a screw through the wire. Do not connect an amplifier.',
        },
      ],
    };
  }
  const isGuessed = coils.some(({ dcOhm }) => dcOhm === undefined);
  const isWoundHigh = isGuessed && coilsOhm > expectedOhm.high && coilsOhm <= HIGHEST_RATIO * nominalOf(intended, coils);
  if (isWoundHigh && fitting.every(({ kind }) => kind === 'leads-not-subtracted')) {
    return { ...shared, verdict: 'matches', causes: [asIntended, ...fitting], notes: [...shared.notes, WOUND_HIGH] };
  }
  if (fitting.length > 0) return { ...shared, verdict: 'differs', causes: fitting };
  const near = nearest(suspects, coilsOhm);
  return {
    ...shared,
    verdict: 'differs',
    isUnexplained: true,
    causes: coilsOhm < meterBand(allParallel, coils).low ? [partlyShorted(coilsOhm), ...near] : near,
    notes: [NOTHING_FITS, ...shared.notes],
  };
}

/** Wirings of these drivers that people make when they meant another. */
export function otherWirings(drivers: DriverSpec[]): Network[] {
  const names = new Set(coilsOf(drivers).map(({ name }) => name));
  return loadOptions({ drivers }).options.map(({ network }) => parseNetwork(network, names));
}

interface Suspect {
  cause: Cause;
  band: OhmBand;
  /** how seldom the mistake is made: 0 is the most common. Common practice, no source. */
  rarity: number;
}

/** Nearness counts as a ratio, and a mistake made less often has to fit better: 3 % a rank. */
const RARITY_WEIGHT = 0.03;

function misfit({ cause, rarity }: Suspect, ohm: number): number {
  return Math.abs(Math.log(Math.max(ohm, 1e-3) / Math.max(cause.expectedOhm, 1e-3))) + RARITY_WEIGHT * rarity;
}

/** Every mistake that people make, put into the network: what the meter would then read. */
function suspectsOf(intended: Network, { coils, meterOhm, leadOhm = 0, otherWirings }: ReadingInput): Suspect[] {
  const all = [
    // Leads and bad contacts only ever add.
    ...(meterOhm - leadOhm > figureOf(intended, coils) ? [leadsLeftIn(intended, coils, leadOhm)] : []),
    ...oneCoilOnly(coils),
    ...driversMissing(intended, coils),
    ...oneCoilOfEach(intended, coils),
    ...wiredOtherwise(intended, coils, otherWirings()),
    ...coilFaults(intended, coils),
  ];
  // One entry for each kind and figure: twelve coils that may be the only one connected are one suspicion.
  const found = new Map<string, Suspect>();
  for (const suspect of all) {
    const key = `${suspect.cause.kind} ${suspect.cause.expectedOhm.toPrecision(4)}`;
    if (!found.has(key)) found.set(key, suspect);
  }
  return [...found.values()];
}

function suspected(kind: CauseKind, network: Network, coils: readonly LoadCoil[], rarity: number, note: string): Suspect {
  return {
    cause: { kind, network: networkText(network), expectedOhm: figureOf(network, coils), note },
    band: meterBand(network, coils),
    rarity,
  };
}

function oneCoilOnly(coils: readonly LoadCoil[]): Suspect[] {
  return byDriver(coils)
    .filter(({ coils: own }) => own.length > 1)
    .flatMap(({ coils: own }) =>
      own.map((coil) =>
        suspected(
          'one-coil-only',
          { kind: 'coil', coil: coil.name, reversed: false },
          coils,
          0,
          `Only one coil is in the circuit, such as ${coilWords(coil, coils)}: look for a jumper that is missing, or probes that sit on one coil.`,
        ),
      ),
    );
}

/** Every driver is wired by its first coil, and the others hang in the air. */
function oneCoilOfEach(intended: Network, coils: readonly LoadCoil[]): Suspect[] {
  const drivers = byDriver(coils);
  if (drivers.length === 1 || drivers.every(({ coils: own }) => own.length === 1)) return [];
  const firsts = new Set(drivers.map(({ coils: own }) => own[0]!.name));
  const rest = without(intended, (coil) => !firsts.has(coil));
  if (rest === undefined) return [];
  const note = 'Only one coil of each driver is in the circuit: look for the jumpers between the coils of each.';
  return [suspected('one-coil-only', rest, coils, 0, note)];
}

function driversMissing(intended: Network, coils: readonly LoadCoil[]): Suspect[] {
  const drivers = byDriver(coils);
  if (drivers.length === 1) return [];
  return drivers.flatMap(({ driver, coils: own }) => {
    const rest = without(intended, (coil) => own.some(({ name }) => name === coil));
    if (rest === undefined || coilsIn(rest).length === coilsIn(intended).length) return [];
    const note = `A driver is left out or bridged past, such as ${driver}: follow its wires from terminal to terminal.`;
    return [suspected('driver-missing', rest, coils, 0, note)];
  });
}

function wiredOtherwise(intended: Network, coils: readonly LoadCoil[], others: readonly Network[]): Suspect[] {
  const meant = canonicalText(intended);
  return others
    .filter((network) => canonicalText(network) !== meant)
    .map((network) =>
      suspected('other-wiring', network, coils, 1, `Wired as ${networkText(network)} instead: hold each jumper against the drawing.`),
    );
}

function coilFaults(intended: Network, coils: readonly LoadCoil[]): Suspect[] {
  const byName = new Map(coils.map((coil) => [coil.name, coil]));
  const sound = figureOf(intended, coils);
  return coils.flatMap((coil): Suspect[] => {
    const words = coilWords(coil, coils);
    const faults: [CauseKind, number, number, string][] = [
      [
        'coil-open',
        Infinity,
        2,
        `A coil is open, such as ${words}: measure it alone, with its jumpers off. A burnt coil or a broken lead reads overload.`,
      ],
      ['short', 0, 3, `A coil is bridged, such as ${words}: look for a jumper or a strand across its two terminals.`],
    ];
    return faults.flatMap(([kind, faultOhm, rarity, note]) => {
      const expectedOhm = networkOhm(intended, (name) => (name === coil.name ? faultOhm : likelyDcOhm(byName.get(name)!)));
      // All open or all shorted is a verdict of its own.
      if (!Number.isFinite(expectedOhm) || expectedOhm === 0) return [];
      return [{ cause: { kind, expectedOhm, note }, band: scaledBand(meterBand(intended, coils), expectedOhm / sound), rarity }];
    });
  });
}

function leadsLeftIn(intended: Network, coils: readonly LoadCoil[], leadOhm: number): Suspect {
  const { low, high } = meterBand(intended, coils);
  return {
    cause: {
      kind: 'leads-not-subtracted',
      network: networkText(intended),
      expectedOhm: figureOf(intended, coils) + (USUAL_LEADS.low + USUAL_LEADS.high) / 2,
      note:
        leadOhm === 0
          ? 'The leads are still in the figure: touch the probes together, enter what the meter shows as lead resistance, and judge again.'
          : `A bad contact, or leads of more than ${ohms(leadOhm)}: press the probes on bare metal, touch them together again and repeat.`,
    },
    band: { low: low + USUAL_LEADS.low, high: high + USUAL_LEADS.high },
    rarity: 1,
  };
}

const scaledBand = ({ low, high }: OhmBand, factor: number): OhmBand => ({ low: low * factor, high: high * factor });

const partlyShorted = (ohm: number): Cause => ({
  kind: 'short',
  expectedOhm: ohm,
  note: 'Lower than any wiring of such coils: shorted turns in one of them, or coils wound lower than usual. Measure each coil alone.',
});

function nearest(suspects: readonly Suspect[], ohm: number): Cause[] {
  return [...suspects]
    .sort((a, b) => misfit(a, ohm) - misfit(b, ohm))
    .slice(0, 3)
    .map(({ cause }) => cause);
}

function openCauses(intended: Network, coils: readonly LoadCoil[], ohm: number): Cause[] {
  const inSeries = intended.kind === 'series' || coils.length === 1;
  const where =
    intended.kind === 'coil'
      ? 'the coil itself or a probe that does not touch'
      : inSeries
        ? 'one missing jumper or one open coil breaks the whole chain'
        : 'with branches side by side, all of them or their common wire must be open';
  return [
    {
      kind: 'open',
      expectedOhm: ohm,
      note: `No path from plus to minus: ${where}. Measure from the amplifier's end inwards, one terminal at a time.`,
    },
  ];
}

function notesOn({ coils, meterOhm, leadOhm = 0, behindCapacitor = [] }: ReadingInput): string[] {
  const guessed = coils.filter(({ dcOhm }) => dcOhm === undefined);
  return [
    NO_POLARITY,
    ...(behindCapacitor.length > 0 ? [`${behindCapacitor.join(', ')} sits behind a capacitor: an ohmmeter does not see it at all.`] : []),
    ...(guessed.length > 0
      ? ['Measure each coil alone first: with its own figure the whole is predicted far closer than from the nominal impedance.']
      : []),
    ...(meterOhm < leadOhm ? ['The reading is below that of the leads alone: touch the probes together and take the leads again.'] : []),
  ];
}

function figureOf(network: Network, coils: readonly LoadCoil[]): number {
  const byName = new Map(coils.map((coil) => [coil.name, coil]));
  return networkOhm(network, (name) => likelyDcOhm(byName.get(name)!));
}

function nominalOf(network: Network, coils: readonly LoadCoil[]): number {
  const byName = new Map(coils.map((coil) => [coil.name, coil]));
  return networkOhm(network, (name) => byName.get(name)!.nominalOhm);
}

const ohms = (ohm: number): string => formatQuantity(ohm, 'ohm');

/** Why a coil of so many ohms reads less on a meter. */
export function whyMeterReadsLess(nominalOhm: number): string {
  const { low, high } = dcBand({ nominalOhm });
  return `A ${ohms(nominalOhm)} coil reads some ${ohms(low)} to ${ohms(high)}: nominal impedance is a rounded figure for the signal band, where the moving coil pushes back; a meter sees the bare copper at rest.`;
}
