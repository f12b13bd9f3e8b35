import type { Meter } from '../gain/meter.ts';
import type { Chain } from './chain.ts';

/** A plain handheld meter, until the tuner enters the figures of theirs. Common practice, no source. */
export const USUAL_METER: Meter = { percent: 1, digits: 3, highestHz: 400, trueRms: true };

/** What a tune begins with: a source as most are, and nothing behind it. */
export const EMPTY_CHAIN: Chain = {
  source: { name: 'Source', volumeSteps: 40, workingVolume: 30, volumeBasis: 'assumed' },
  amplifiers: [],
  channels: [],
};
