import { channelCoils, channelNetwork, networkOhm, type Channel } from '@yield/core';
import { seededRandom } from '@yield/core';

/** What can be wrong with a wiring on the bench. */
export const LOAD_FAULTS = ['none', 'one-coil-only', 'driver-missing', 'open', 'short'] as const;
export type LoadFault = (typeof LOAD_FAULTS)[number];

/** Where the ohmmeter's probes sit: on one coil, its jumpers off, or on the channel's two wires. */
export type OhmProbe = { kind: 'coil'; name: string } | { kind: 'whole'; fault: LoadFault };

/**
 * Makes up the DC resistance of every coil: between 0.78 and 0.9 of nominal, coils of one driver within 2 %.
 *
 * @param seed - the same seed and channel give the same coils
 * @returns ohms by coil name
 */
export function coilResistances(channel: Channel, seed: string): Map<string, number> {
  const coils = channelCoils(channel);
  return new Map(
    coils.map(({ name, driver, nominalOhm }) => {
      const winding = 0.78 + 0.12 * seededRandom(`${seed}/${channel.id}/${driver}`).uniform();
      const own = 0.99 + 0.02 * seededRandom(`${seed}/${channel.id}/${name}`).uniform();
      return [name, nominalOhm * winding * own];
    }),
  );
}

/** Ohms between the probes, without the leads: 0 for a short, Infinity for an open circuit. */
export function probedOhm(channel: Channel, seed: string, probe: OhmProbe): number {
  const dc = coilResistances(channel, seed);
  if (probe.kind === 'coil') return dc.get(probe.name) ?? Infinity;
  const network = channelNetwork(channel);
  if (network === undefined || probe.fault === 'open') return Infinity;
  if (probe.fault === 'short') return 0;
  const coils = channelCoils(channel);
  const first = coils[0]?.name ?? '';
  if (probe.fault === 'one-coil-only') return dc.get(first) ?? Infinity;
  // The last driver's terminals are bridged in a row and left off side by side: either way the others are what is left.
  const missing = new Set(coils.filter(({ driver }) => driver === coils.at(-1)?.driver).map(({ name }) => name));
  const ohmOf = (name: string): number => (probe.fault === 'driver-missing' && missing.has(name) ? Infinity : dc.get(name)!);
  return networkOhm(network, ohmOf) + (channel.wiring?.seriesResistorOhm ?? 0);
}
