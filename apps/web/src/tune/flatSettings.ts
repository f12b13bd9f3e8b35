import type { TuneDetail } from '@yield/contract';
import type { HouseRules, Meter } from '@yield/core';

/** Name, vehicle, house rules and meter of a tune as one form shows them. */
export type FlatSettings = { name: string; vehicle: string; isPractice?: boolean } & HouseRules & Meter;

export function flatSettings({ name, vehicle, settings }: Pick<TuneDetail, 'name' | 'vehicle' | 'settings'>): FlatSettings {
  const { rules, meter, isPractice = false } = settings;
  return { name, vehicle, isPractice, ...rules, ...meter };
}
