import { voltageRatioDb } from '../levels/decibels.ts';
import type { ChannelStep, CrossoverStep } from './steps.ts';
import { channelVoices } from './voices.ts';

/** How low a tone begins where a tweeter may hear it. */
export interface ToneStart {
  /** against the tone's recorded level, in decibels */
  levelDb: number;
  /** what a meter at the terminals reads there once the gain is right */
  volt: number;
}

/** Below a tenth of a volt the digits of a handheld meter tell little. Common practice, no source. */
const LOWEST_READ_VOLT = 0.1;

/** The lowest level that a meter can read, for a channel with a tweeter; undefined for any other. */
export function toneStart({ channel, target }: ChannelStep | CrossoverStep): ToneStart | undefined {
  if (target === undefined || !channelVoices(channel).some(({ role }) => role === 'tweeter')) return undefined;
  const volt = Math.min(LOWEST_READ_VOLT, target.settingVoltage);
  return { levelDb: voltageRatioDb(volt, target.settingVoltage), volt };
}
