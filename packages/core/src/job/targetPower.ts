import { powerLimit, type Limit, type LimitedBy, type PowerLimit } from '../gain/powerLimit.ts';
import { hasBranch, ratedVoltAt } from '../loads/branches.ts';
import { driversLimitWatt } from '../loads/planLoads.ts';
import { significant } from '../units/formatQuantity.ts';
import type { Amplifier, Chain, Channel, PowerBasis } from './chain.ts';
import { channelCoils, channelDrivers, channelNetwork } from './channelWiring.ts';

/** What may hold a channel's power down: the limits of the calculation, where it was seen to clip, and what the tuner wishes. */
export type HeldBy = LimitedBy | 'onset' | 'wish';

export interface PowerHold {
  by: HeldBy;
  powerWatt: number;
  basis: Limit['basis'] | 'measured';
}

/** What was measured of a channel, and how its power is decided. */
export interface PowerContext {
  /** that sets the channel */
  toneHz?: number;
  /** the load that powers are reckoned with; the nominal one where nothing is said */
  loadOhm?: number;
  /** at the amplifier's terminals while a tone plays */
  supplyVolt?: number | undefined;
  /** what it makes just below its first flattening, under this load */
  onsetWatt?: number | undefined;
  /** the first flattening stands for what the amplifier makes, in place of its ratings */
  isByOnset?: boolean;
}

export type TargetPower =
  | {
      kind: 'known';
      powerWatt: number;
      limitedBy: HeldBy;
      /** all that hold it, the lowest first: the second one says what lifting the first would gain */
      holds: PowerHold[];
      /** what the amplifier makes, its supply counted in */
      amplifierWatt: number;
      /** rated: named for this load; estimated: follows from other loads; scaled: by the supply that was measured; guess: by its fuses */
      amplifierBasis: 'rated' | 'estimated' | 'scaled' | 'guess' | 'measured';
      driversWatt: number;
      /** what its plate or sheet names for this load, whether it counts or not */
      ratedWatt?: number;
      /** fuses against what the power asks for, where they are known */
      fuse?: NonNullable<PowerLimit['fuse']>;
    }
  | { kind: 'unknown'; reason: string };

/**
 * Power to set a channel to: the least of what the amplifier makes into its load, what its supply allows, what the drivers take
 * together, and what the tuner wishes.
 *
 * With the wiring known, the drivers take the power at which the first coil reaches its part of its rating, and a series
 * resistor its own share; without it, the sum of their ratings. Drivers behind passive parts take what reaches them of the tone.
 *
 * Where it was seen to clip under this load, that holds it too; by scope it stands in place of the ratings.
 */
export function targetPower(
  amplifier: Amplifier,
  channel: Channel,
  { toneHz = USUAL_TONE_HZ, loadOhm = channel.loadOhm, supplyVolt, onsetWatt, isByOnset = false }: PowerContext = {},
): TargetPower {
  const basis = channel.powerBasis ?? 'plate';
  const all = basis === 'fuse' ? [] : basis === 'sheet' ? (amplifier.sheetRatings ?? []) : amplifier.ratings;
  const ratings = all
    .filter(({ mode }) => mode === channel.mode)
    .map((rating) => ({ loadOhm: rating.loadOhm, powerWatt: rating.powerWatt }));
  if (isByOnset && onsetWatt === undefined && ratings.length === 0)
    return {
      kind: 'unknown',
      reason: `Capture ${channel.name} under load while the gain goes up: its first flattening says what it makes.`,
    };
  if (ratings.length === 0 && onsetWatt === undefined && (basis !== 'fuse' || amplifier.fuseAmpere === undefined))
    return { kind: 'unknown', reason: missingWords(amplifier, channel, basis) };
  if (channel.drivers.length === 0) return { kind: 'unknown', reason: `${channel.name} has no drivers yet. Enter them in the chain.` };
  const driversWatt = driversTakeWatt(channel, toneHz);
  const { ratedAtVolt, isRegulated, fuseAmpere } = amplifier;
  const supply =
    ratedAtVolt === undefined || supplyVolt === undefined || supplyVolt <= 0
      ? undefined
      : { voltage: supplyVolt, ratedAtVoltage: ratedAtVolt, regulated: isRegulated === true };
  const { limits } = powerLimit({
    loadOhm,
    ratings,
    driversWatt,
    ...(supply === undefined ? {} : { supply }),
    ...(fuseAmpere === undefined ? {} : { fuseAmpere }),
  });
  const measured: PowerHold[] = onsetWatt === undefined ? [] : [{ by: 'onset', powerWatt: onsetWatt, basis: 'measured' }];
  const claimed = isByOnset && onsetWatt !== undefined ? [] : limits.filter(({ by }) => by !== 'drivers');
  const made = [...claimed, ...measured].sort((a, b) => a.powerWatt - b.powerWatt)[0];
  if (made === undefined) {
    const reason = `${amplifier.name} has no rating for a load as low as ${significant(loadOhm)} ohm. Enter it in the chain, or choose another wiring.`;
    return { kind: 'unknown', reason };
  }
  const rated = limits.find(({ by }) => by === 'rating');
  const wish: PowerHold[] = channel.wishWatt === undefined ? [] : [{ by: 'wish', powerWatt: channel.wishWatt, basis: 'given' }];
  const holds = [...claimed, ...measured, ...limits.filter((limit) => limit.by === 'drivers'), ...wish].sort(
    (a, b) => a.powerWatt - b.powerWatt,
  );
  const { by, powerWatt } = holds[0]!;
  const fuse = fuseAmpere === undefined ? undefined : powerLimit({ loadOhm, ratings: [{ loadOhm, powerWatt }], fuseAmpere }).fuse;
  return {
    kind: 'known',
    powerWatt,
    limitedBy: by,
    holds,
    amplifierWatt: made.powerWatt,
    amplifierBasis: AMPLIFIER_BASIS[made.basis],
    driversWatt,
    ...(rated === undefined ? {} : { ratedWatt: rated.powerWatt }),
    ...(fuse === undefined ? {} : { fuse }),
  };
}

const AMPLIFIER_BASIS = {
  rated: 'rated',
  given: 'rated',
  interpolated: 'estimated',
  'same-voltage': 'estimated',
  scaled: 'scaled',
  guess: 'guess',
  measured: 'measured',
} as const satisfies Record<PowerHold['basis'], string>;

function missingWords({ name, ratings }: Amplifier, { mode }: Channel, basis: PowerBasis): string {
  if (basis === 'sheet') return `${name} has no test sheet with a power for ${mode} use. Enter it in the chain, or take the plate.`;
  if (basis === 'fuse') return `The fuses of ${name} are not known. Enter them in the chain, or take the plate.`;
  return ratings.length === 0
    ? `${name} has no rated power yet. Enter one in the chain; where none is known, its fuses give a guess.`
    : `${name} has no rated power for ${mode} use. Enter one in the chain.`;
}

/** What each driver of a channel gets where it plays, of a full-scale voltage at the terminals. */
export interface DriverAtFullScale {
  name: string;
  powerWatt: number;
  ratedWatt: number;
}

/**
 * Drivers behind passive parts each have the whole voltage in their own range.
 *
 * @param volt RMS volts at the channel's terminals
 * @returns watts per driver; empty for plain wirings, whose shares the planner tells
 */
export function driversAtFullScale(channel: Channel, volt: number): DriverAtFullScale[] {
  if (!hasBranch(channelCoils(channel))) return [];
  return channel.drivers.map(({ name, coils, coilOhm, ratedPowerWatt }) => ({
    name,
    powerWatt: volt ** 2 / (coils * coilOhm),
    ratedWatt: ratedPowerWatt,
  }));
}

/** The amplifier that drives a channel. */
export const amplifierOf = (chain: Chain, channel: Pick<Channel, 'amplifierId'>): Amplifier | undefined =>
  chain.amplifiers.find(({ id }) => id === channel.amplifierId);

/** The tone of most channels. */
const USUAL_TONE_HZ = 1000;

function driversTakeWatt(channel: Channel, toneHz: number): number {
  const wiring = channelNetwork(channel);
  const specs = channelDrivers(channel);
  const coils = channelCoils(channel);
  if (wiring !== undefined && hasBranch(coils)) {
    const volt = ratedVoltAt(wiring, coils, toneHz);
    if (volt !== undefined) return volt ** 2 / (channel.loadOhm - (channel.wiring?.seriesResistorOhm ?? 0));
  }
  const limit = wiring === undefined ? undefined : driversLimitWatt(wiring, specs);
  if (limit === undefined) return channel.drivers.reduce((sum, driver) => sum + driver.ratedPowerWatt, 0);
  const coilsPart = 1 - (channel.wiring?.seriesResistorOhm ?? 0) / channel.loadOhm;
  return limit / coilsPart;
}
