import { amplifierPower } from '../loads/amplifierPower.ts';
import { hasBranch, ratedVoltAt } from '../loads/branches.ts';
import { driversLimitWatt } from '../loads/planLoads.ts';
import { significant } from '../units/formatQuantity.ts';
import type { Amplifier, Chain, Channel } from './chain.ts';
import { channelCoils, channelDrivers, channelNetwork } from './channelWiring.ts';

export type TargetPower =
  | {
      kind: 'known';
      powerWatt: number;
      limitedBy: 'amplifier' | 'drivers';
      amplifierWatt: number;
      /** rated: the plate names this load; estimated: same voltage as at the next lower load that it names */
      amplifierBasis: 'rated' | 'estimated';
      driversWatt: number;
    }
  | { kind: 'unknown'; reason: string };

/**
 * Power to set a channel to: what the amplifier makes into its load or what the drivers take together, whichever is less.
 *
 * With the wiring known, the drivers take the power at which the first coil reaches its part of its rating, and a series
 * resistor its own share; without it, the sum of their ratings. Drivers behind passive parts take what reaches them of the tone.
 *
 * @param toneHz - that sets the channel
 */
export function targetPower(amplifier: Amplifier, channel: Channel, toneHz = USUAL_TONE_HZ): TargetPower {
  const power = amplifierPower(amplifier.ratings, channel.mode, channel.loadOhm);
  if (power.kind === 'unknown') {
    return {
      kind: 'unknown',
      reason: amplifier.ratings.some(({ mode }) => mode === channel.mode)
        ? `${amplifier.name} names no power for a load as low as ${significant(channel.loadOhm)} ohm. Enter it in the chain, or choose another wiring.`
        : `${amplifier.name} has no rated power for ${channel.mode} use. Enter one in the chain.`,
    };
  }
  if (channel.drivers.length === 0) return { kind: 'unknown', reason: `${channel.name} has no drivers yet. Enter them in the chain.` };
  const driversWatt = driversTakeWatt(channel, toneHz);
  return {
    kind: 'known',
    powerWatt: Math.min(power.powerWatt, driversWatt),
    limitedBy: driversWatt < power.powerWatt ? 'drivers' : 'amplifier',
    amplifierWatt: power.powerWatt,
    amplifierBasis: power.kind,
    driversWatt,
  };
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
