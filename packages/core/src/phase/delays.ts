import { CoreError } from '../coreError.ts';

export interface DelaysInput {
  /** from each driver to the listener, by name */
  distancesMetre: Readonly<Record<string, number>>;
  /** 20 where nothing is said */
  temperatureCelsius?: number;
}

export interface Delays {
  /** in m/s */
  speedOfSound: number;
  /** for each driver, so that all arrive together: the farthest gets 0 */
  delaysSecond: Record<string, number>;
}

const ZERO_CELSIUS_KELVIN = 273.15;

/**
 * Speed of sound in air, in m/s.
 *
 * @see c = 331.3 √(1 + T / 273.15), the usual form for dry air of an ideal gas
 */
export const speedOfSound = (celsius: number): number => 331.3 * Math.sqrt(1 + celsius / ZERO_CELSIUS_KELVIN);

/**
 * Delays that let all drivers arrive together.
 *
 * @throws {CoreError} `INPUT_INVALID` for no distance at all, one below 0, or a temperature not above absolute zero
 */
export function delays({ distancesMetre, temperatureCelsius = 20 }: DelaysInput): Delays {
  const entries = Object.entries(distancesMetre);
  const faults = [
    ...(entries.length === 0 ? [{ pointer: '/distancesMetre', message: 'give the distance of one driver or more' }] : []),
    ...entries.flatMap(([name, metre]) =>
      Number.isFinite(metre) && metre >= 0
        ? []
        : [{ pointer: `/distancesMetre/${name}`, message: `${name}: distance must be 0 m or more` }],
    ),
    ...(temperatureCelsius > -ZERO_CELSIUS_KELVIN
      ? []
      : [{ pointer: '/temperatureCelsius', message: `temperature must be above ${-ZERO_CELSIUS_KELVIN} °C` }]),
  ];
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);
  const speed = speedOfSound(temperatureCelsius);
  const farthest = Math.max(...entries.map(([, metre]) => metre));
  return { speedOfSound: speed, delaysSecond: Object.fromEntries(entries.map(([name, metre]) => [name, (farthest - metre) / speed])) };
}
