/** fine or wrong: what was heard; changed: something was set otherwise for it; blind: two settings were told apart, or not */
export type HeardOutcome = 'fine' | 'wrong' | 'changed' | 'blind';

/** One line of the listening log. */
export interface HeardEntry {
  id: string;
  /** ISO 8601, by the clock of the device */
  at: string;
  /** id of a usual passage, or the tuner's own, in words */
  passage: string;
  outcome: HeardOutcome;
  /** what was heard */
  words?: string;
  /** key of everything that was set then; what was heard through other settings says nothing of these */
  setting: string;
  change?: { channelId: string; before: string; after: string };
  blind?: { first: string; second: string; right: number; trials: number };
}
