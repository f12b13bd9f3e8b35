import { checkNumbers, CoreError } from '../coreError.ts';
import { arrangements } from './arrangements.ts';
import { networkLoad, seenByOhmmeter } from './branches.ts';
import { dcBand, type OhmBand } from './coilResistance.ts';
import { byDriver, coilsOf, type DriverSpec, type LoadCoil } from './drivers.ts';
import { LOAD_SLACK } from './hookup.ts';
import { sharesAlike } from './loadNetwork.ts';
import { flattened, networkText, type Network } from './network.ts';
import { networkOhm, solveNetwork } from './solveNetwork.ts';

/** series-parallel: coils in series within each driver, drivers in parallel; parallel-series the other way round. */
export type NetworkFamily = 'series' | 'parallel' | 'series-parallel' | 'parallel-series' | 'mixed';

export interface LoadOption {
  network: string;
  family: NetworkFamily;
  loadOhm: number;
  /** what an ohmmeter with ideal leads is to read */
  meterOhm: OhmBand;
  balanced: boolean;
  verdict: 'below-minimum' | 'fits' | 'high';
}

export interface LoadOptionsInput {
  drivers: DriverSpec[];
  minimumLoadOhm?: number;
}

export const MAX_DRIVERS = 8;

/** Over so many times the lowest load, an amplifier makes little of its power. Common practice, no source. */
const HIGH_LOAD_FACTOR = 4;

/** Where one driver takes more than this many times the power of another against their ratings, no tuner wires it so on purpose. */
const MAX_SPREAD = 4.001;

/**
 * Every sensible way to wire these drivers onto one channel, sorted by load. All coils of every driver are used.
 *
 * Identical drivers give each load once for each family that gives it, since series and parallel drivers differ in damping
 * and in what one failed coil does.
 *
 * @throws {CoreError} `INPUT_INVALID` for no or too many drivers, doubled names, or figures out of bounds
 */
export function loadOptions({ drivers, minimumLoadOhm }: LoadOptionsInput): { options: LoadOption[] } {
  checkNumbers({ minimumLoadOhm }, { minimumLoadOhm: { name: 'lowest load', unit: 'ohm', above: 0 } });
  checkDrivers(drivers);
  const coils = coilsOf(drivers);
  const byName = new Map(coils.map((coil) => [coil.name, coil]));
  const nominal = (name: string): number => byName.get(name)!.nominalOhm;
  const rated = drivers.every(({ ratedPowerWatt }) => ratedPowerWatt !== undefined);

  const candidates = wiringsOf(coils).map((network) => {
    const { shares } = solveNetwork(network, nominal);
    const strain = [...shares].flatMap(([name, share]) => {
      const coil = byName.get(name)!;
      // A driver behind parts plays a range of its own: its share is not the others'.
      return coil.branch === undefined ? [share / (rated ? coil.ratedPowerWatt! : 1)] : [];
    });
    if (strain.length === 0) strain.push(1);
    return {
      network,
      family: familyOf(network, byName),
      loadOhm: networkLoad(network, coils).nominalOhm,
      balanced: sharesAlike([...shares.values()]),
      spread: Math.max(...strain) / Math.min(...strain),
    };
  });
  const sensible = candidates.filter(({ spread, family }) => spread <= MAX_SPREAD || family === 'series' || family === 'parallel');
  // The best of each load and family comes first, and stays.
  sensible.sort((a, b) => a.spread - b.spread || fewerGroupsFirst(a.network, b.network));
  const kept = new Map<string, (typeof sensible)[number]>();
  for (const option of sensible) {
    const load = option.loadOhm.toPrecision(6);
    const evenAlready = [...kept.keys()].some((key) => key.startsWith(`${load} `)) && option.spread > 1.001;
    const key = `${load} ${option.family}`;
    if (!evenAlready && !kept.has(key)) kept.set(key, option);
  }
  const options = [...kept.values()].sort((a, b) => a.loadOhm - b.loadOhm || a.spread - b.spread);
  return {
    options: options.map(({ network, family, loadOhm, balanced }) => ({
      network: networkText(network),
      family,
      loadOhm,
      meterOhm: meterBand(network, coils),
      balanced,
      verdict: verdictOn(loadOhm, minimumLoadOhm),
    })),
  };
}

/** Every arrangement of the coils; a driver behind parts hangs on the amplifier's own terminals, beside whatever the others make. */
function wiringsOf(coils: readonly LoadCoil[]): Network[] {
  const groups = byDriver(coils);
  const plain = groups.filter(({ coils: own }) => own.every(({ branch }) => branch === undefined));
  const branches = groups.filter((group) => !plain.includes(group));
  if (branches.length === 0) return arrangements(groups);
  const inBranch = branches.map(({ coils: own }): Network =>
    flattened({ kind: 'series', parts: own.map(({ name }) => ({ kind: 'coil', coil: name, reversed: false })) }),
  );
  const main = plain.length === 0 ? [undefined] : arrangements(plain);
  return main.map((network) => flattened({ kind: 'parallel', parts: [...(network === undefined ? [] : [network]), ...inBranch] }));
}

/** What an ohmmeter with ideal leads is to read across a network, from the coils' own bands. */
export function meterBand(given: Network, coils: readonly LoadCoil[]): OhmBand {
  // Nothing but capacitors between the probes reads as no path.
  const network = seenByOhmmeter(given, coils);
  if (network === undefined) return { low: Infinity, high: Infinity };
  const bands = new Map(coils.map((coil) => [coil.name, dcBand(coil)]));
  return {
    low: networkOhm(network, (name) => bands.get(name)!.low),
    high: networkOhm(network, (name) => bands.get(name)!.high),
  };
}

export function checkDrivers(drivers: readonly DriverSpec[]): void {
  if (drivers.length === 0 || drivers.length > MAX_DRIVERS) {
    throw new CoreError('INPUT_INVALID', [{ pointer: '/drivers', message: `give one to ${MAX_DRIVERS} drivers, not ${drivers.length}` }]);
  }
  const faults = drivers.flatMap(({ coilOhm, coilDcOhm, ratedPowerWatt }, i) =>
    Object.entries({ coilOhm, coilDcOhm, ratedPowerWatt }).flatMap(([field, value]) =>
      value === undefined || (Number.isFinite(value) && value > 0)
        ? []
        : [
            {
              pointer: `/drivers/${i}/${field}`,
              message: `driver ${i + 1}: ${field === 'ratedPowerWatt' ? 'rated power' : 'coil'} must be above 0`,
            },
          ],
    ),
  );
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);
}

function verdictOn(loadOhm: number, minimum: number | undefined): LoadOption['verdict'] {
  if (minimum === undefined) return 'fits';
  if (loadOhm < minimum * (1 - LOAD_SLACK)) return 'below-minimum';
  return loadOhm > minimum * HIGH_LOAD_FACTOR * (1 + LOAD_SLACK) ? 'high' : 'fits';
}

/** Which family a network belongs to. */
export function familyOf(network: Network, coils: ReadonlyMap<string, LoadCoil>): NetworkFamily {
  if (network.kind === 'coil') return 'parallel';
  if (network.parts.every(({ kind }) => kind === 'coil')) return network.kind;
  const within = network.kind === 'parallel' ? 'series' : 'parallel';
  const wholeDrivers = network.parts.every((part) => {
    const inside = part.kind === 'coil' ? [part] : part.parts;
    const driver = inside[0]?.kind === 'coil' ? coils.get(inside[0].coil)?.driver : undefined;
    const own = [...coils.values()].filter((coil) => coil.driver === driver);
    return (
      inside.length === own.length &&
      inside.every((item) => item.kind === 'coil' && coils.get(item.coil)?.driver === driver) &&
      (part.kind === 'coil' || part.kind === within)
    );
  });
  if (!wholeDrivers) return 'mixed';
  return network.kind === 'parallel' ? 'series-parallel' : 'parallel-series';
}

/** Of two ways to the same load, the one with fewer groups is easier to wire. */
function fewerGroupsFirst(a: Network, b: Network): number {
  return (a.kind === 'coil' ? 1 : a.parts.length) - (b.kind === 'coil' ? 1 : b.parts.length);
}
