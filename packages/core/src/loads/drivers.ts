import { CoreError, type Fault } from '../coreError.ts';
import type { PassiveParts } from '../crossovers/passive.ts';

/** What stands between the amplifier and a driver, the amplifier's side first. */
export interface Branch {
  parts: readonly PassiveParts[];
  /** the parts stand in for a bought network of which only the label is known: it was made for its drivers, inductance and all */
  isLabelled?: boolean;
}

/** Drivers as the planner takes them: all coils of one driver alike. */
export interface DriverSpec {
  /** letters, digits and underscores; a coil is named by its driver and a number, such as A1 */
  name: string;
  coils: 1 | 2 | 4;
  /** nominal impedance of each coil */
  coilOhm: number;
  /** measured DC resistance of each coil */
  coilDcOhm?: number;
  /** of the whole driver, all coils in use */
  ratedPowerWatt?: number;
  /** parts between the amplifier and this driver */
  branch?: Branch;
  /** of each coil */
  inductanceHenry?: number;
}

export interface LoadCoil {
  name: string;
  driver: string;
  nominalOhm: number;
  dcOhm?: number;
  /** its part of the driver's rating */
  ratedPowerWatt?: number;
  /** parts between the amplifier and its driver */
  branch?: Branch;
  inductanceHenry?: number;
}

/** Every coil of the drivers, in order. @throws {CoreError} `INPUT_INVALID` where two drivers share a name */
export function coilsOf(drivers: readonly DriverSpec[]): LoadCoil[] {
  const faults: Fault[] = drivers.flatMap(({ name }, i) =>
    drivers.findIndex((d) => d.name === name) < i ? [{ pointer: `/drivers/${i}/name`, message: `driver ${name} is there twice` }] : [],
  );
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);
  return drivers.flatMap(({ name, coils, coilOhm, coilDcOhm, ratedPowerWatt, branch, inductanceHenry }) =>
    Array.from({ length: coils }, (_, i) => ({
      name: `${name}${i + 1}`,
      driver: name,
      nominalOhm: coilOhm,
      ...(coilDcOhm === undefined ? {} : { dcOhm: coilDcOhm }),
      ...(ratedPowerWatt === undefined ? {} : { ratedPowerWatt: ratedPowerWatt / coils }),
      ...(branch === undefined ? {} : { branch }),
      ...(inductanceHenry === undefined ? {} : { inductanceHenry }),
    })),
  );
}

/** Drivers of a channel are lettered in their order: A, B, C … and, beyond Z, A_26 and so on. */
export function driverLetter(index: number): string {
  return index < 26 ? String.fromCharCode(65 + index) : `A_${index}`;
}

/** "A coil 1" from "A1"; a driver of one coil goes by its letter alone. */
export function coilWords(coil: Pick<LoadCoil, 'name' | 'driver'>, coils: readonly Pick<LoadCoil, 'driver'>[]): string {
  const several = coils.filter(({ driver }) => driver === coil.driver).length > 1;
  return several ? `${coil.driver} coil ${coil.name.slice(coil.driver.length)}` : coil.driver;
}

export interface CoilsOfDriver<C = LoadCoil> {
  driver: string;
  coils: C[];
}

/** Coils gathered by driver, in the order of first mention. */
export function byDriver<C extends Pick<LoadCoil, 'driver'>>(coils: readonly C[]): CoilsOfDriver<C>[] {
  const groups = new Map<string, C[]>();
  for (const coil of coils) groups.set(coil.driver, [...(groups.get(coil.driver) ?? []), coil]);
  return [...groups].map(([driver, own]) => ({ driver, coils: own }));
}
