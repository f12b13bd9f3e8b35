import { amplifierPower, type PowerRating } from './amplifierPower.ts';
import { powerRatioDb } from '../levels/decibels.ts';
import { formatQuantity } from '../units/formatQuantity.ts';
import { hasBranch, networkLoad, ratedVoltAt } from './branches.ts';
import { byDriver, coilsOf, type DriverSpec } from './drivers.ts';
import { hookup, LOAD_SLACK, type Hookup, type HookupMode } from './hookup.ts';
import { loadOptions, type LoadOption } from './loadOptions.ts';
import { parseNetwork, type Network } from './network.ts';
import { solveNetwork } from './solveNetwork.ts';
import { whatToBuy, type Purchase } from './whatToBuy.ts';

/** The amplifier's side of a plan: how it is used, what its plate says. */
export interface PlanAmplifier {
  mode: HookupMode;
  ratings: readonly PowerRating[];
  minimumStereoOhm?: number;
  minimumBridgedOhm?: number;
  minimumMonoOhm?: number;
}

export interface LoadPlanInput {
  drivers: DriverSpec[];
  amplifier: PlanAmplifier;
  wishedLoadOhm?: number;
}

export interface DriverPower {
  driver: string;
  powerWatt: number;
  /** of each coil, the same order as the driver's coils */
  coilsWatt: number[];
  ratedPowerWatt?: number;
  /** over 1: the amplifier at its rating would give it more than it is rated for */
  ratedPart?: number;
}

/** What one wiring means for amplifier and drivers. */
export interface WiringPowers {
  parsed: Network;
  hookup: Hookup;
  /** what the amplifier makes into it; undefined where its plate names no such load */
  amplifierWatt?: number;
  amplifierBasis?: 'rated' | 'estimated';
  /** the lesser of what the amplifier makes and what the drivers take */
  usableWatt?: number;
  drivers: DriverPower[];
}

export interface PlannedWiring extends LoadOption, WiringPowers {
  /** usable power against the strongest wiring that fits */
  levelAgainstBestDb?: number;
  tradeOff: string;
}

export interface LoadPlan {
  wirings: PlannedWiring[];
  /** where a load was wished for: the wirings that give it, and what to buy where none does */
  wished?: { loadOhm: number; networks: string[]; words: string; purchases: Purchase[] };
}

/** A rating is a rounded figure: up to 5 % over is no news. Common practice, no source. */
export const RATING_SLACK = 1.05;

/**
 * Every sensible wiring of these drivers onto one channel, with what the amplifier makes into it, what each driver gets, the
 * verdict against its lowest loads, and what the choice costs.
 *
 * @throws {CoreError} `INPUT_INVALID` for figures out of bounds
 */
export function planLoads({ drivers, amplifier, wishedLoadOhm }: LoadPlanInput): LoadPlan {
  const names = new Set(coilsOf(drivers).map(({ name }) => name));
  const minimum = lowestLoad(amplifier);
  const { options } = loadOptions({ drivers, ...(minimum === undefined ? {} : { minimumLoadOhm: minimum }) });
  const bare = options.map((option) => ({ ...option, ...powersOf(parseNetwork(option.network, names), drivers, amplifier) }));
  const fitting = bare.filter(({ hookup: seen }) => seen.verdict !== 'below-minimum');
  const bestWatt = Math.max(...fitting.map(({ usableWatt }) => usableWatt ?? 0));
  const lowestFitting = fitting[0]?.loadOhm;
  const wirings = bare.map((wiring) => {
    const { usableWatt } = wiring;
    const levelAgainstBestDb = usableWatt === undefined || bestWatt === 0 ? undefined : powerRatioDb(usableWatt, bestWatt);
    return {
      ...wiring,
      ...(levelAgainstBestDb === undefined ? {} : { levelAgainstBestDb }),
      tradeOff: tradeOffOf(wiring, levelAgainstBestDb, lowestFitting, minimum),
    };
  });
  return { wirings, ...(wishedLoadOhm === undefined ? {} : { wished: wishOf(wishedLoadOhm, drivers, wirings) }) };
}

/**
 * What a wiring means for amplifier and drivers, whether it is one of the usual ones or the tuner's own.
 *
 * @param resistorOhm - in series with the whole wiring; its part of the power reaches no driver
 */
export function powersOf(network: Network, drivers: DriverSpec[], amplifier: PlanAmplifier, resistorOhm = 0): WiringPowers {
  const coils = coilsOf(drivers);
  const byName = new Map(coils.map((coil) => [coil.name, coil]));
  const { shares } = solveNetwork(network, (name) => byName.get(name)!.nominalOhm);
  const ohm = networkLoad(network, coils).nominalOhm;
  const loadOhm = ohm + resistorOhm;
  const coilsPart = ohm / loadOhm;
  const power = amplifierPower(amplifier.ratings, amplifier.mode, loadOhm);
  const amplifierWatt = power.kind === 'unknown' ? undefined : power.powerWatt;
  const limit = driversLimitWatt(network, drivers);
  return {
    parsed: network,
    hookup: hookupOf(amplifier, loadOhm),
    ...(power.kind === 'unknown' ? {} : { amplifierWatt: power.powerWatt, amplifierBasis: power.kind }),
    ...(amplifierWatt === undefined ? {} : { usableWatt: Math.min(amplifierWatt, (limit ?? Infinity) / coilsPart) }),
    drivers: hasBranch(coils)
      ? inOwnRange(drivers, (amplifierWatt ?? 0) * coilsPart * ohm)
      : driverPowers(shares, drivers, (amplifierWatt ?? 0) * coilsPart),
  };
}

/** `hookup` with an amplifier's own lowest loads. */
export function hookupOf(amplifier: Omit<PlanAmplifier, 'ratings'>, loadOhm: number): Hookup {
  const { mode, minimumStereoOhm, minimumBridgedOhm, minimumMonoOhm } = amplifier;
  return hookup({
    mode,
    loadOhm,
    ...(minimumStereoOhm === undefined ? {} : { minimumStereoOhm }),
    ...(minimumBridgedOhm === undefined ? {} : { minimumBridgedOhm }),
    ...(minimumMonoOhm === undefined ? {} : { minimumMonoOhm }),
  });
}

/** The lowest load that this use of the amplifier allows; bridged, the stricter of its two figures. */
export function lowestLoad({ mode, minimumStereoOhm, minimumBridgedOhm, minimumMonoOhm }: PlanAmplifier): number | undefined {
  if (mode === 'stereo') return minimumStereoOhm;
  if (mode === 'mono') return minimumMonoOhm;
  const bounds = [minimumBridgedOhm, minimumStereoOhm === undefined ? undefined : 2 * minimumStereoOhm].filter((ohm) => ohm !== undefined);
  return bounds.length === 0 ? undefined : Math.max(...bounds);
}

/**
 * Power into the whole network at which the first coil reaches its part of its driver's rating; undefined where a rating is missing.
 *
 * @see a coil carries its driver's rating over the number of its coils: with one of two coils in use, half of it
 */
export function driversLimitWatt(network: Network, drivers: readonly DriverSpec[]): number | undefined {
  const all = coilsOf(drivers);
  if (hasBranch(all)) {
    const volt = ratedVoltAt(network, all, BRANCH_TONE_HZ);
    return volt === undefined ? undefined : volt ** 2 / networkLoad(network, all).nominalOhm;
  }
  const coils = new Map(all.map((coil) => [coil.name, coil]));
  const { shares } = solveNetwork(network, (name) => coils.get(name)!.nominalOhm);
  let limit = Infinity;
  for (const [name, share] of shares) {
    const rated = coils.get(name)!.ratedPowerWatt;
    if (rated === undefined) return undefined;
    limit = Math.min(limit, rated / share);
  }
  return limit;
}

/** Drivers that share a pair of terminals by passive parts are set with the tone for full range. */
const BRANCH_TONE_HZ = 1000;

/** Drivers behind parts each get the whole voltage where they play. @param squareVolt - the amplifier's voltage into the load, squared */
function inOwnRange(drivers: readonly DriverSpec[], squareVolt: number): DriverPower[] {
  return drivers.map(({ name, coils, coilOhm, ratedPowerWatt: rated }) => {
    const powerWatt = squareVolt / (coils * coilOhm);
    return {
      driver: name,
      powerWatt,
      coilsWatt: Array.from({ length: coils }, () => powerWatt / coils),
      ...(rated === undefined ? {} : { ratedPowerWatt: rated, ratedPart: powerWatt / rated }),
    };
  });
}

function driverPowers(shares: ReadonlyMap<string, number>, drivers: readonly DriverSpec[], coilsWatt: number): DriverPower[] {
  return byDriver(coilsOf(drivers)).map(({ driver, coils: own }, i) => {
    const watts = own.map(({ name }) => (shares.get(name) ?? 0) * coilsWatt);
    const rated = drivers[i]?.ratedPowerWatt;
    return {
      driver,
      powerWatt: watts.reduce((a, b) => a + b, 0),
      coilsWatt: watts,
      ...(rated === undefined ? {} : { ratedPowerWatt: rated, ratedPart: Math.max(...watts) / (rated / own.length) }),
    };
  });
}

type Bare = LoadOption & WiringPowers;

/** So many times the lowest load that is allowed, an amplifier is not near its limit. Common practice, no source. */
const EASY_FACTOR = 1.5;

/** @param minimumOhm - the amplifier's own lowest load, where it is known */
function tradeOffOf(wiring: Bare, levelDb: number | undefined, lowestFitting: number | undefined, minimumOhm: number | undefined): string {
  const { hookup: seen, loadOhm, balanced, usableWatt, amplifierWatt, drivers } = wiring;
  if (seen.verdict === 'below-minimum') return 'Too low for this amplifier: it would run hot, shut down or fail.';
  const parts: string[] = [];
  const ratio = lowestFitting === undefined ? 1 : loadOhm / lowestFitting;
  if (usableWatt === undefined || levelDb === undefined) {
    parts.push('No rating entered for this load and use. Enter it to compare.');
  } else if (ratio < 1 + LOAD_SLACK) {
    // Hard work is what lies near the amplifier's own limit, not the lowest of what these drivers happen to give.
    if (minimumOhm !== undefined && loadOhm >= EASY_FACTOR * minimumOhm) {
      const good = `well within an amplifier that is good to ${formatQuantity(minimumOhm, 'ohm')}`;
      parts.push(
        levelDb > -0.1 ? `The most power that these drivers can be wired for, ${good}.` : `The lowest load that they give, ${good}.`,
      );
    } else
      parts.push(
        levelDb > -0.1
          ? 'The most power, and the hardest work: the amplifier runs hottest, its supply sags most, its damping is least.'
          : `The hardest work for the amplifier, and yet ${formatQuantity(-levelDb, 'dB')} less than the best: the drivers set the limit here.`,
      );
  } else {
    const cooler = `Cooler, and damped ${Number(ratio.toPrecision(2))} times as well as at the lowest load that fits`;
    parts.push(levelDb > -0.1 ? `${cooler}, at no loss of power.` : `${cooler}, for ${formatQuantity(-levelDb, 'dB')} less.`);
  }
  const over = drivers.filter(({ ratedPart }) => ratedPart !== undefined && ratedPart > RATING_SLACK);
  if (over.length > 0 && amplifierWatt !== undefined && usableWatt !== undefined) {
    parts.push(
      `The amplifier can give ${over.map(({ driver }) => driver).join(', ')} more than its rating. Set the gain for ${formatQuantity(usableWatt, 'W')} in total.`,
    );
  }
  if (!balanced) parts.push('The coils do not share equally: the one that takes most sets the limit.');
  return parts.join(' ');
}

function wishOf(wishedOhm: number, drivers: DriverSpec[], wirings: readonly PlannedWiring[]): LoadPlan['wished'] & object {
  const networks = wirings.filter(({ loadOhm }) => Math.abs(loadOhm / wishedOhm - 1) <= LOAD_SLACK).map(({ network }) => network);
  const wished = formatQuantity(wishedOhm, 'ohm');
  if (networks.length > 0) {
    return { loadOhm: wishedOhm, networks, purchases: [], words: `${wished} can be wired with these drivers.` };
  }
  const loads = wirings.filter(({ balanced }) => balanced).map(({ loadOhm }) => loadOhm);
  const below = loads.findLast((ohm) => ohm < wishedOhm);
  const above = loads.find((ohm) => ohm > wishedOhm);
  const near = [below, above].filter((ohm) => ohm !== undefined).map((ohm) => formatQuantity(ohm, 'ohm'));
  return {
    loadOhm: wishedOhm,
    networks,
    purchases: whatToBuy(wishedOhm, drivers),
    words: `No wiring of these drivers gives ${wished}${near.length > 0 ? `; with every coil at the same power there is ${near.join(' and ')}` : ''}.`,
  };
}
