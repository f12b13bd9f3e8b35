import type { Channel } from '../job/chain.ts';
import { filtersOf, isProofWanted } from '../job/channelFilters.ts';
import { lossDb, type ProvedFilters } from './driverGroups.ts';

/** What the filters before the amplifier's terminals take off a tone. */
export interface FilterLoss {
  /** as best known, in decibels; 0 or below */
  db: number;
  /** where they let most through: two filters near each other nowhere let everything; in decibels, 0 or below */
  peakDb: number;
  /** as they are set */
  setDb: number;
  /** proved: every filter that wants it was measured */
  basis: 'none' | 'set' | 'proved';
  /** so near a corner that a dial a little off would spoil the target */
  isNear: boolean;
  /** a tone that the filters leave alone, where this one is too near */
  betterHz?: number;
}

/** What they take off the tone against where they let most through, in dB: what a target and full scale are told by. */
export const belowPeakDb = ({ db, peakDb }: Pick<FilterLoss, 'db' | 'peakDb'>): number => db - peakDb;

/** A dial is off by so much. Common practice, no source. */
const DIAL_OFF = 1.1;
const MAX_SPOILED_DB = 0.5;
/** Down here a meter reads too little to set anything by. */
const MAX_LOSS_DB = 10;
/** A tone that loses less than this counts as left alone. */
const ALONE_DB = 0.5;

/** The usual test frequencies. @see IEC 61260-1: nominal midband frequencies of third-octave filters (memory) */
const USUAL_TONES_HZ = [
  20, 25, 31.5, 40, 50, 63, 80, 100, 125, 160, 200, 250, 315, 400, 500, 630, 800, 1000, 1250, 1600, 2000, 2500, 3150, 4000, 5000, 6300,
  8000, 10_000, 12_500, 16_000,
];

export function filterLoss(channel: Channel, toneHz: number, proved: ProvedFilters): FilterLoss {
  const filters = filtersOf(channel);
  if (filters.length === 0 && (channel.equaliser ?? []).length === 0) return { db: 0, peakDb: 0, setDb: 0, basis: 'none', isNear: false };
  const db = lossDb(channel, toneHz, proved);
  const wanting = filters.filter(isProofWanted);
  const isProved = wanting.every(({ id }) => proved.has(id));
  const spoiled = [DIAL_OFF, 1 / DIAL_OFF].map((factor) => {
    const off = filters.map((filter) =>
      isProofWanted(filter) && !proved.has(filter.id) ? { ...filter, cornerHz: filter.cornerHz * factor } : filter,
    );
    return Math.abs(lossDb({ ...channel, filters: off }, toneHz, proved) - db);
  });
  const isNear = -db > MAX_LOSS_DB || Math.max(0, ...spoiled) > MAX_SPOILED_DB;
  const betterHz = isNear ? betterTone(channel, toneHz, proved) : undefined;
  const plain = { ...channel, equaliser: [] };
  return {
    db,
    peakDb: Math.min(0, Math.max(...USUAL_TONES_HZ.map((hertz) => lossDb(plain, hertz, proved)))),
    setDb: lossDb(channel, toneHz),
    basis: wanting.length > 0 && isProved ? 'proved' : 'set',
    isNear,
    ...(betterHz === undefined || betterHz === toneHz ? {} : { betterHz }),
  };
}

/** The nearest usual tone that loses next to nothing; else the one that loses least. */
function betterTone(channel: Channel, toneHz: number, proved: ProvedFilters): number | undefined {
  const losses = USUAL_TONES_HZ.map((hertz) => ({ hertz, db: -lossDb(channel, hertz, proved), away: Math.abs(Math.log2(hertz / toneHz)) }));
  const alone = losses.filter(({ db }) => db <= ALONE_DB).sort((a, b) => a.away - b.away)[0];
  return (alone ?? losses.sort((a, b) => a.db - b.db)[0])?.hertz;
}
