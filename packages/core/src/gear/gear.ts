import type { Dial } from '../crossovers/dial.ts';
import type { Meter } from '../gain/meter.ts';
import type { Amplifier, Driver, EqualiserAtHand, Processor, Source } from '../job/chain.ts';
import type { Microphone } from '../job/records.ts';

/** The shop's own instruments, by their names. */
export type NamedMeter = Meter & { name: string };
export type NamedMicrophone = Microphone & { name: string };
export interface NamedEqualiser {
  name: string;
  equaliser: EqualiserAtHand;
}

/** A piece of gear as a library keeps it: its own figures, without its place in a vehicle. */
export type Gear =
  | { kind: 'source'; body: Source }
  | { kind: 'processor'; body: Processor }
  | { kind: 'amplifier'; body: Amplifier }
  | { kind: 'driver'; body: Driver }
  | { kind: 'meter'; body: NamedMeter }
  | { kind: 'microphone'; body: NamedMicrophone }
  /** a knob with its detents, as several amplifiers have it */
  | { kind: 'dial'; body: Dial }
  | { kind: 'equaliser'; body: NamedEqualiser };

export type GearKind = Gear['kind'];

export const GEAR_NAMES: Readonly<Record<GearKind, string>> = {
  source: 'Source',
  processor: 'Processor',
  amplifier: 'Amplifier',
  driver: 'Driver',
  meter: 'Meter',
  microphone: 'Microphone',
  dial: 'Dial',
  equaliser: 'Equaliser',
};
