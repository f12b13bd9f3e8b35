import { filterAt } from './crossoverResponse.ts';
import type { Filter } from './filters.ts';

/** What the instrument that reads can do. */
export interface MeterBand {
  lowestHz?: number;
  highestHz: number;
}

/** Octaves from the corner into the passband; the last one is at the corner. */
const PASSBAND_OCTAVES = [2, 1.2, 0.5, 0];
/** So deep into the stopband, and no deeper: below, a meter's last digits say nothing. */
const DEEPEST_DB = 30;
const MAX_STOP_OCTAVES = 1.6;
const STOP_POINTS = 3;
/** Where another filter of the channel takes more, its own errors would be taken for this one's. */
const MAX_OTHER_DB = 3;
const HEARD_HZ = { from: 10, to: 20_000 };
const WANTED = 7;

export interface ProofPoints {
  /** from the passband to the stopband */
  proposedHz: number[];
  /** why some of the best ones are not among them */
  leftOut: { frequencyHz: number; reason: 'meter' | 'other-filter' }[];
}

/**
 * Frequencies at which voltages tell alignment, slope and corner of a filter best: two in its passband, more around its corner,
 * the rest down its slope.
 *
 * @param others - the channel's other filters, which bend the voltages too
 */
export function proofPoints(filter: Filter, others: readonly Filter[], meter: MeterBand): ProofPoints {
  const inward = filter.kind === 'highpass' ? 1 : -1;
  const deep = Math.min(MAX_STOP_OCTAVES, DEEPEST_DB / (6 * filter.order));
  const octaves = [...PASSBAND_OCTAVES, ...Array.from({ length: STOP_POINTS }, (_, i) => (-deep * (i + 1)) / STOP_POINTS)];
  const best = octaves.map((octave) => Number((filter.cornerHz * 2 ** (inward * octave)).toPrecision(2)));
  const reasonOf = (hertz: number): 'meter' | 'other-filter' | null => {
    if (!reads(meter, hertz) || hertz < HEARD_HZ.from || hertz > HEARD_HZ.to) return 'meter';
    return otherFiltersLossDb(others, hertz) > MAX_OTHER_DB ? 'other-filter' : null;
  };
  const fit = [...new Set(best)].filter((hertz) => reasonOf(hertz) === null);
  const leftOut = best.flatMap((frequencyHz) => {
    const reason = reasonOf(frequencyHz);
    return reason === null ? [] : [{ frequencyHz, reason }];
  });
  return { proposedHz: filled(fit, best, (hertz) => reasonOf(hertz) === null, inward), leftOut };
}

export const reads = ({ lowestHz = 0, highestHz }: MeterBand, hertz: number): boolean => hertz >= lowestHz && hertz <= highestHz;

export const otherFiltersLossDb = (others: readonly Filter[], hertz: number): number =>
  -others.reduce((sum, other) => sum + filterAt(other, hertz).db, 0);

/** Where some fell out, more between those that stay, the widest gap first. */
function filled(fit: readonly number[], best: readonly number[], isFit: (hertz: number) => boolean, inward: number): number[] {
  const points = [...fit];
  const [low, high] = [Math.min(...best), Math.max(...best)];
  const fine = Array.from({ length: 61 }, (_, i) => Number((low * (high / low) ** (i / 60)).toPrecision(2))).filter(isFit);
  while (points.length < WANTED) {
    const apart = (hertz: number): number => Math.min(Infinity, ...points.map((point) => Math.abs(Math.log2(point / hertz))));
    const next = fine.reduce<number | null>((widest, hertz) => (widest === null || apart(hertz) > apart(widest) ? hertz : widest), null);
    if (next === null || apart(next) < 0.1) break;
    points.push(next);
  }
  return points.sort((a, b) => inward * (b - a));
}
