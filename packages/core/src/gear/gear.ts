import type { Amplifier, Driver, Processor, Source } from '../job/chain.ts';

/** A piece of gear as a library keeps it: its own figures, without its place in a vehicle. */
export type Gear =
  | { kind: 'source'; body: Source }
  | { kind: 'processor'; body: Processor }
  | { kind: 'amplifier'; body: Amplifier }
  | { kind: 'driver'; body: Driver };

export type GearKind = Gear['kind'];

export const GEAR_NAMES: Readonly<Record<GearKind, string>> = {
  source: 'Source',
  processor: 'Processor',
  amplifier: 'Amplifier',
  driver: 'Driver',
};
