import { degreesOf, levelDbOf, groupAt, groupDelay, groupsSum, type Complex, type ProvedFilters, type DriverGroup } from '@yield/core';

export const PICTURE_HZ = { from: 15, to: 22_000 };
const POINTS = 220;

/** Frequencies of the picture, evenly apart on its axis. */
export const FREQUENCIES: readonly number[] = Array.from(
  { length: POINTS },
  (_, i) => PICTURE_HZ.from * (PICTURE_HZ.to / PICTURE_HZ.from) ** (i / (POINTS - 1)),
);

export type Quantity = 'level' | 'phase' | 'delay';

export interface CurvePoint {
  hertz: number;
  value: number;
}

/** A driver group over the picture's frequencies: decibels, degrees or milliseconds. */
export function groupCurve(group: DriverGroup, quantity: Quantity, proved: ProvedFilters): CurvePoint[] {
  if (quantity === 'delay') return FREQUENCIES.map((hertz) => ({ hertz, value: 1000 * groupDelay(group, hertz, proved) }));
  return FREQUENCIES.map((hertz) => ({ hertz, value: valueOf(groupAt(group, hertz, proved), quantity) }));
}

/** All groups together, each counted once. A sum has no group delay of its own worth a curve. */
export function sumCurve(groups: readonly DriverGroup[], quantity: Quantity, proved: ProvedFilters): CurvePoint[] {
  if (quantity === 'delay' || groups.length < 2) return [];
  return FREQUENCIES.map((hertz) => ({ hertz, value: valueOf(groupsSum(groups, hertz, proved), quantity) }));
}

const valueOf = (value: Complex, quantity: 'level' | 'phase'): number => (quantity === 'level' ? levelDbOf(value) : degreesOf(value));
