import type { SweepResponse } from '../sweeps/sweepResponse.ts';

type Heard = Extract<SweepResponse, { kind: 'response' }>;

/** How one channel of a recorded sweep stands to another: level, polarity, delay, and what is left for filters. */
export interface ChannelsAgainst {
  /** of the second against the first where both play in full, in dB */
  gainDb: number;
  polarity: 'same' | 'inverted';
  /** positive where the second comes later */
  delaySecond: number;
  /** phase that neither polarity nor delay explains, over frequency, in (−180, 180] degrees */
  rest: { hertz: number; deg: number; gainDb: number }[];
  /** largest of that, where both play in full */
  mostRestDeg: number;
  /** what explains the difference */
  verdict: 'alike' | 'inverted' | 'delayed' | 'filtered' | 'inverted-and-more';
}

/** Both channels count where they lie no further below their loudest than this. */
const IN_FULL_DB = 12;
/** Common practice, no source: less than this is a cable or a converter, and no filter. */
const NOTABLE_DEG = 25;
const NOTABLE_DB = 1;
/** A sample at 48 kHz. */
const NOTABLE_SECOND = 1 / 48_000;
/** Polarity is told from the middle of what both play: an edge is a filter's. */
const HALF = 0.5;

/**
 * One channel of a recorded sweep against another: an inverted one is told from a delay, and both from a filter's phase, which a single
 * tone cannot do.
 *
 * The phase between the two is laid straight by a delay and, if that explains it better, half a turn; what is left is the filters'.
 *
 * @returns undefined where the two have no stretch in common in which both play
 */
export function channelsAgainst(first: Heard, second: Heard): ChannelsAgainst | undefined {
  const top = (points: Heard['points']): number => Math.max(...points.map(({ db }) => db));
  const [topFirst, topSecond] = [top(first.points), top(second.points)];
  const common = first.points.flatMap((a, i) => {
    const b = second.points[i];
    if (b === undefined || a.phaseDeg === undefined || b.phaseDeg === undefined || b.hertz !== a.hertz) return [];
    return [
      {
        hertz: a.hertz,
        deg: b.phaseDeg - a.phaseDeg,
        gainDb: b.db - a.db,
        isFull: a.db > topFirst - IN_FULL_DB && b.db > topSecond - IN_FULL_DB,
      },
    ];
  });
  const full = common.filter(({ isFull }) => isFull);
  if (full.length < 3) return undefined;
  // Both phases are told against their own arrival, which the peak of an impulse is: the two peaks are the delay to begin with.
  const peaks = second.arrivalSecond - first.arrivalSecond;
  const middle = full.slice(Math.floor((full.length * HALF) / 2), Math.ceil(full.length * (1 - HALF / 2)));
  const inverted = middle.filter(({ deg }) => Math.abs(wrapDeg(deg)) > 90).length > middle.length / 2;
  const half = inverted ? 180 : 0;
  const rest = common.map(({ hertz, deg, gainDb }) => ({ hertz, gainDb, deg: wrapDeg(deg - half) }));
  const restFull = rest.filter((_, i) => common[i]!.isFull);
  const mostRestDeg = Math.max(...restFull.map(({ deg }) => Math.abs(deg)));
  const gains = full.map(({ gainDb }) => gainDb).sort((a, b) => a - b);
  const gainDb = gains[Math.floor(gains.length / 2)]!;
  const isFiltered = mostRestDeg > NOTABLE_DEG || gains.at(-1)! - gains[0]! > 2 * NOTABLE_DB;
  const isLate = Math.abs(peaks) > NOTABLE_SECOND;
  const verdict = inverted
    ? isFiltered || isLate
      ? 'inverted-and-more'
      : 'inverted'
    : isFiltered
      ? 'filtered'
      : isLate
        ? 'delayed'
        : 'alike';
  return { gainDb, polarity: inverted ? 'inverted' : 'same', delaySecond: peaks, rest, mostRestDeg, verdict };
}

const wrapDeg = (deg: number): number => ((((deg + 180) % 360) + 360) % 360) - 180;
