import {
  fullerBy,
  neighbourPhaseDeg,
  seededRandom,
  togetherDb,
  type Chain,
  type Driver,
  type EarAnswer,
  type EarDriver,
  type MeetingSubject,
  type NeighbourSetting,
} from '@yield/core';

/** A made-up vehicle as a listener in it hears it. */
export interface Cabin {
  /** the driver whose wires are the wrong way round, by id; one of those that play doors or corners */
  reversedDriverId?: string;
  /** by which the sound of the subwoofers comes later than that of the others, way and processing together */
  bassLateSecond: number;
  /** sound pressure of one way alone at the listener's head, in dB */
  lowerDb: number;
  upperDb: number;
  /** what glass and roof turn the phase by, around a crossover */
  cabinDeg: number;
}

/** @param seed - the vehicle's; the same one behaves the same */
export function cabinOf(chain: Chain, seed: string): Cabin {
  const random = seededRandom(`${seed}/cabin`);
  const between = (low: number, high: number): number => low + (high - low) * random.uniform();
  const doors: Driver[] = chain.channels
    .filter(({ band }) => band !== 'bass')
    .flatMap(({ drivers }) => drivers.filter(({ role }) => role !== 'tweeter'));
  const reversed = doors[Math.floor(doors.length * random.uniform())];
  return {
    ...(reversed === undefined ? {} : { reversedDriverId: reversed.id }),
    bassLateSecond: between(0.0012, 0.0038),
    lowerDb: between(84, 90),
    upperDb: between(82, 87),
    cabinDeg: between(-12, 12),
  };
}

/** Which way a cone jumps when a battery touches its wires, plus on plus. */
export const coneJumps = (cabin: Cabin, driverId: string, isSwapped: boolean): 'out' | 'in' =>
  (cabin.reversedDriverId === driverId) !== isSwapped ? 'in' : 'out';

const CORNER_LOSS_DB = 3;
/** Between two tones a cabin is up here and down there by so much. */
const BUMP_DB = 1.5;

/** What a sound meter at the listener's head shows of two neighbours: of each alone, and of both as they are set. Its last digit wanders. */
export function soundMeterDb(
  cabin: Cabin,
  { tones, cornerHz }: Pick<MeetingSubject, 'tones' | 'cornerHz'>,
  what: { part: 'level-lower' | 'level-upper' | 'level-both'; hertz: number },
  setting: NeighbourSetting,
): number {
  const octaves = Math.log2(what.hertz / cornerHz);
  const bump = BUMP_DB * Math.sin(7 * what.hertz);
  const lowerDb = cabin.lowerDb - CORNER_LOSS_DB * (1 + 2 * Math.max(0, octaves)) + bump;
  const upperDb = cabin.upperDb - CORNER_LOSS_DB * (1 - 2 * Math.min(0, octaves)) - bump;
  const { filterPhaseDeg } = tones.find(({ hertz }) => hertz === what.hertz) ?? { filterPhaseDeg: 0 };
  const phaseDeg = neighbourPhaseDeg(
    { hertz: what.hertz, filterPhaseDeg: filterPhaseDeg + cabin.cabinDeg },
    -cabin.bassLateSecond,
    false,
    setting,
  );
  const db = { 'level-lower': lowerDb, 'level-upper': upperDb, 'level-both': togetherDb(lowerDb, upperDb, phaseDeg) }[what.part];
  return Math.round(10 * db) / 10;
}

/** How often a made-up ear slips. */
const EAR_SLIPS = 0.1;
const ANSWERS: readonly EarAnswer['fuller'][] = ['first', 'same', 'second'];

/**
 * What a listener in it answers to a comparison of the bass; now and then an ear slips.
 *
 * @param heard - how many comparisons were heard before: the same one asked again may be heard otherwise
 */
export function earAnswer(
  { reversedDriverId }: Cabin,
  drivers: readonly EarDriver[],
  question: Pick<EarAnswer, 'first' | 'second'>,
  heard: number,
): EarAnswer['fuller'] {
  const right = fullerBy(drivers, reversedDriverId === undefined ? [] : [reversedDriverId], question);
  const random = seededRandom(`${reversedDriverId ?? ''}/${JSON.stringify(question)}/${heard}`);
  if (random.uniform() >= EAR_SLIPS) return right;
  const others = ANSWERS.filter((each) => each !== right);
  return others[Math.floor(others.length * random.uniform())]!;
}
