/** The units that people type and read here. Values are kept in SI; `dB`, `dBFS` and `%` as they stand. */
export type Unit = 'V' | 'A' | 'ohm' | 'W' | 'Hz' | 's' | 'm' | 'F' | 'H' | 'dB' | 'dBFS' | '%' | 'step' | 'ratio';

interface UnitWords {
  /** what a tuner calls it in a sentence */
  plural: string;
  /** sign shown behind a number */
  sign: string;
  /** spellings accepted behind a number, lower case */
  spellings: readonly string[];
  /** prefixes that are shown; numbers outside stay without prefix */
  shownPrefixes: readonly Prefix[];
}

export interface Prefix {
  sign: string;
  factor: number;
}

const MILLI: Prefix = { sign: 'm', factor: 1e-3 };
const MICRO: Prefix = { sign: 'µ', factor: 1e-6 };
const NANO: Prefix = { sign: 'n', factor: 1e-9 };
const KILO: Prefix = { sign: 'k', factor: 1e3 };
const MEGA: Prefix = { sign: 'M', factor: 1e6 };

// Loads are spoken of as "0.25 ohm" and powers as "0.5 W", so those two take no small prefix.
export const UNITS: Readonly<Record<Unit, UnitWords>> = {
  V: { plural: 'volts', sign: 'V', spellings: ['v', 'volt', 'volts', 'vac', 'vrms'], shownPrefixes: [MICRO, MILLI, KILO] },
  A: { plural: 'amperes', sign: 'A', spellings: ['a', 'amp', 'amps', 'ampere', 'amperes'], shownPrefixes: [MILLI] },
  ohm: { plural: 'ohms', sign: 'Ω', spellings: ['ohm', 'ohms', 'Ω', 'ω', 'r'], shownPrefixes: [KILO, MEGA] },
  W: { plural: 'watts', sign: 'W', spellings: ['w', 'watt', 'watts'], shownPrefixes: [KILO] },
  Hz: { plural: 'hertz', sign: 'Hz', spellings: ['hz', 'hertz'], shownPrefixes: [KILO, MEGA] },
  s: { plural: 'seconds', sign: 's', spellings: ['s', 'sec', 'second', 'seconds'], shownPrefixes: [NANO, MICRO, MILLI] },
  m: { plural: 'metres', sign: 'm', spellings: ['m', 'metre', 'metres', 'meter', 'meters'], shownPrefixes: [MILLI] },
  F: { plural: 'farads', sign: 'F', spellings: ['f', 'farad', 'farads'], shownPrefixes: [NANO, MICRO, MILLI] },
  H: { plural: 'henries', sign: 'H', spellings: ['h', 'henry', 'henries'], shownPrefixes: [MICRO, MILLI] },
  dB: { plural: 'decibels', sign: 'dB', spellings: ['db'], shownPrefixes: [] },
  dBFS: { plural: 'dBFS', sign: 'dBFS', spellings: ['dbfs', 'db'], shownPrefixes: [] },
  '%': { plural: 'percent', sign: '%', spellings: ['%', 'percent'], shownPrefixes: [] },
  ratio: { plural: 'a plain number', sign: '', spellings: [], shownPrefixes: [] },
  step: { plural: 'volume steps', sign: '', spellings: ['step', 'steps'], shownPrefixes: [] },
};

/** Factors of the prefixes that may be typed. */
export const TYPED_PREFIXES: Readonly<Record<string, number>> = {
  n: 1e-9,
  u: 1e-6,
  µ: 1e-6,
  μ: 1e-6,
  m: 1e-3,
  k: 1e3,
  K: 1e3,
  M: 1e6,
};
