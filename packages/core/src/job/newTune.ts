import type { Meter } from '../gain/meter.ts';
import { DEFAULT_RULES, type Chain } from './chain.ts';
import type { TuneSettings } from './records.ts';

/** A plain handheld meter, until the tuner enters the figures of theirs. Common practice, no source. */
export const USUAL_METER: Meter = { percent: 1, digits: 3, highestHz: 400, trueRms: true };

/** What a shop works with until it says otherwise: its tone for full range is one that its meter reads well. */
export const NEW_SHOP: TuneSettings = {
  rules: { ...DEFAULT_RULES, otherToneHz: Math.min(DEFAULT_RULES.otherToneHz, USUAL_METER.highestHz) },
  meter: USUAL_METER,
};

/** What a tune begins with: a source as most are, and nothing behind it. */
export const EMPTY_CHAIN: Chain = {
  source: { name: 'Source', volumeSteps: 40, workingVolume: 30, volumeBasis: 'assumed' },
  amplifiers: [],
  channels: [],
};
