import { checkNumbers, CoreError, type Fault } from '../coreError.ts';
import { voltageRatioDb } from '../levels/decibels.ts';
import { formatQuantity } from '../units/formatQuantity.ts';
import { likelyDcOhm, TYPICAL_DC_RATIO } from './coilResistance.ts';
import { coilsIn, parseNetwork } from './network.ts';
import { networkOhm, solveNetwork } from './solveNetwork.ts';

export interface LoadNetworkInput {
  /** by name; letters, digits and underscores, the last digit counting the coils of one driver */
  coils: Record<string, { nominalOhm: number; dcOhm?: number }>;
  network: string;
  seriesResistorOhm?: number;
  seriesResistorRatedWatt?: number;
  /** RMS, across network and resistor together */
  voltageRms?: number;
}

export interface LoadNetwork {
  /** nominal, with the series resistor */
  loadOhm: number;
  /** what an ohmmeter with ideal leads reads, with the series resistor */
  dcOhm: number;
  /** shares are of the power that reaches the coils, and sum to 1 */
  coils: Record<string, { powerShare: number; powerWatt?: number }>;
  /** share of all the power */
  resistor?: { powerShare: number; powerWatt?: number; overRating?: boolean };
  totalPowerWatt?: number;
  /** power in the coils with the resistor against without it, at the same voltage */
  levelChangeDb?: number;
  /** every coil gets the same power */
  balanced: boolean;
  reversed: string[];
  unused: string[];
  notes: string[];
}

/** Shares closer than this are the same share: far below what any coil differs by, far above rounding. */
const SAME_SHARE = 1e-6;

/**
 * What a given wiring presents to the amplifier, and where its power goes.
 *
 * @throws {CoreError} `INPUT_INVALID` for a figure out of bounds, or a network that cannot be read
 * @example loadNetwork({ coils: { A1: { nominalOhm: 4 }, A2: { nominalOhm: 4 } }, network: 'A1|A2' }).loadOhm // 2
 */
export function loadNetwork(input: LoadNetworkInput): LoadNetwork {
  checkInput(input);
  const { seriesResistorOhm: resistorOhm = 0, seriesResistorRatedWatt, voltageRms } = input;
  const coils = new Map(Object.entries(input.coils));
  const network = parseNetwork(input.network, new Set(coils.keys()));
  const { ohm, shares } = solveNetwork(network, (name) => coils.get(name)!.nominalOhm);
  const loadOhm = ohm + resistorOhm;
  const totalPowerWatt = voltageRms === undefined ? undefined : voltageRms ** 2 / loadOhm;
  const coilPart = ohm / loadOhm;
  const used = coilsIn(network);
  const unused = [...coils.keys()].filter((name) => !shares.has(name));
  const resistorWatt = totalPowerWatt === undefined ? undefined : totalPowerWatt * (1 - coilPart);
  return {
    loadOhm,
    dcOhm: networkOhm(network, (name) => likelyDcOhm(coils.get(name)!)) + resistorOhm,
    coils: Object.fromEntries(
      [...shares].map(([name, powerShare]) => [
        name,
        { powerShare, ...(totalPowerWatt === undefined ? {} : { powerWatt: totalPowerWatt * coilPart * powerShare }) },
      ]),
    ),
    ...(resistorOhm === 0
      ? {}
      : {
          resistor: {
            powerShare: 1 - coilPart,
            ...(resistorWatt === undefined ? {} : { powerWatt: resistorWatt }),
            ...(resistorWatt === undefined || seriesResistorRatedWatt === undefined
              ? {}
              : { overRating: resistorWatt > seriesResistorRatedWatt }),
          },
          levelChangeDb: voltageRatioDb(ohm, loadOhm),
        }),
    ...(totalPowerWatt === undefined ? {} : { totalPowerWatt }),
    balanced: sharesAlike([...shares.values()]),
    reversed: used.filter(({ reversed }) => reversed).map(({ coil }) => coil),
    unused,
    notes: notesOn(input, used, unused),
  };
}

export function sharesAlike(shares: readonly number[]): boolean {
  return Math.max(...shares) - Math.min(...shares) <= SAME_SHARE * Math.max(...shares);
}

function checkInput(input: LoadNetworkInput): void {
  checkNumbers(input, {
    seriesResistorOhm: { name: 'series resistor', unit: 'ohm', atLeast: 0 },
    seriesResistorRatedWatt: { name: 'rating of the series resistor', unit: 'W', above: 0 },
    voltageRms: { name: 'voltage', unit: 'V', atLeast: 0 },
  });
  const faults: Fault[] = Object.entries(input.coils).flatMap(([name, { nominalOhm, dcOhm }]) =>
    Object.entries({ nominalOhm, dcOhm }).flatMap(([field, ohm]) =>
      ohm === undefined || (Number.isFinite(ohm) && ohm > 0)
        ? []
        : [{ pointer: `/coils/${name}/${field}`, message: `coil ${name} must be above 0 ohm` }],
    ),
  );
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);
}

function notesOn(
  { coils, seriesResistorOhm = 0 }: LoadNetworkInput,
  used: readonly { coil: string; reversed: boolean }[],
  unused: readonly string[],
): string[] {
  const notes: string[] = [];
  const guessed = used.filter(({ coil }) => coils[coil]?.dcOhm === undefined).map(({ coil }) => coil);
  if (guessed.length > 0) {
    notes.push(
      `No DC resistance was given for ${guessed.join(', ')}: the expected reading assumes ${TYPICAL_DC_RATIO} of nominal and may be off by a fifth.`,
    );
  }
  for (const coil of unused) {
    notes.push(
      siblings(coil, Object.keys(coils)).length > 1
        ? `Coil ${coil} is not connected: its driver takes only the part of its rated power that the coils in use can carry.`
        : `Coil ${coil} is not connected and plays nothing.`,
    );
  }
  const reversed = new Set(used.filter((u) => u.reversed).map(({ coil }) => coil));
  for (const { coil } of used) {
    if (!reversed.has(coil)) continue;
    const against = siblings(
      coil,
      used.map((u) => u.coil),
    ).filter((other) => !reversed.has(other));
    notes.push(
      against.length > 0
        ? `Coil ${coil} works against ${against.join(', ')} of the same driver: heat and almost no output. Do not connect it this way.`
        : `Coil ${coil} is reversed: its driver moves against the others. Neither the load nor an ohmmeter shows that.`,
    );
  }
  if (seriesResistorOhm > 0) {
    notes.push(`The load counts ${formatQuantity(seriesResistorOhm, 'ohm')} in series, which turns its part of the power into heat.`);
  }
  return notes;
}

/** Coils of the same driver, this one among them: names that differ in the last digit only. */
function siblings(coil: string, all: readonly string[]): string[] {
  const driver = coil.replace(/\d$/, '');
  return all.filter((other) => other.replace(/\d$/, '') === driver);
}
