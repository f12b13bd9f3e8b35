import type { Finding } from '../findings.ts';
import { fixed, formatQuantity, signedDb } from '../units/formatQuantity.ts';
import type { ResponsePoint } from './sweepResponse.ts';

/** The response of one output at one volume. */
export interface VolumeResponse {
  label: string;
  volume: number;
  points: ResponsePoint[];
  arrivalSecond: number;
  polarity: 'same' | 'inverted';
  /** captures taken together share one clock: only their delays can be held against each other */
  captureId: string;
}

export interface OutputComparison {
  label: string;
  /** against its own passband, lowest volume first */
  curves: { volume: number; points: ResponsePoint[]; passbandDb: number }[];
  /** where bass stops following the volume, against the lowest volume captured */
  heldBack?: { fromVolume: number; db: number; hertz: number };
  /** ends of the passband, 3 dB down, where they lie within what was swept */
  lowCornerHz?: number;
  highCornerHz?: number;
  /** what stands out of the passband at the lowest volume */
  bumps: { hertz: number; db: number }[];
}

const NOTABLE_HOLD_BACK_DB = 1;
const NOTABLE_BUMP_DB = 2;
const BASS = { from: 30, to: 120 };
const MIDDLE = { from: 300, to: 3000 };

/**
 * What a source does to the signal as its volume rises, output by output.
 *
 * @param responses - one or more for each output, in any order
 */
export function compareSweeps(responses: readonly VolumeResponse[]): OutputComparison[] {
  return [...new Set(responses.map(({ label }) => label))].map((label) => {
    const own = responses.filter((r) => r.label === label).sort((a, b) => a.volume - b.volume);
    const curves = own.map(({ volume, points }) => {
      const passbandDb = passbandOf(points);
      return { volume, passbandDb, points: points.map(({ hertz, db }) => ({ hertz, db: db - passbandDb })) };
    });
    const lowest = curves[0]!.points;
    const heldBack = heldBackOf(curves);
    return { label, curves, ...cornersOf(lowest), bumps: bumpsOf(lowest), ...(heldBack === undefined ? {} : { heldBack }) };
  });
}

/** The level that most of what comes through has: the median of the points within 12 dB of the strongest third of an octave. */
function passbandOf(points: readonly ResponsePoint[]): number {
  const smooth = smoothed(points);
  const top = Math.max(...smooth.map(({ db }) => db));
  return median(smooth.filter(({ db }) => db > top - 12).map(({ db }) => db));
}

function heldBackOf(curves: OutputComparison['curves']): OutputComparison['heldBack'] {
  const [first, ...louder] = curves;
  if (first === undefined) return undefined;
  const drops = louder.map(({ volume, points }) => {
    // Against the middle of the band, which follows the volume.
    const change = points.map(({ hertz, db }, i) => ({ hertz, db: db - first.points[i]!.db }));
    const middle = mean(within(change, MIDDLE));
    const bass = smoothed(change).filter(({ hertz }) => hertz >= BASS.from && hertz <= BASS.to);
    const worst = bass.reduce((low, point) => (point.db < low.db ? point : low), { hertz: BASS.from, db: Infinity });
    return { volume, db: middle - worst.db, hertz: worst.hertz };
  });
  const begins = drops.find(({ db }) => db >= NOTABLE_HOLD_BACK_DB);
  if (begins === undefined) return undefined;
  const most = drops.reduce((best, drop) => (drop.db > best.db ? drop : best));
  return { fromVolume: begins.volume, db: most.db, hertz: most.hertz };
}

function cornersOf(points: readonly ResponsePoint[]): Pick<OutputComparison, 'lowCornerHz' | 'highCornerHz'> {
  const smooth = smoothed(points);
  const inside = (point: ResponsePoint | undefined): boolean => point !== undefined && point.db > -3;
  const first = smooth.findIndex(inside);
  const last = smooth.findLastIndex(inside);
  return {
    ...(first > 0 ? { lowCornerHz: between(smooth[first - 1]!, smooth[first]!) } : {}),
    ...(last >= 0 && last < smooth.length - 1 ? { highCornerHz: between(smooth[last + 1]!, smooth[last]!) } : {}),
  };
}

/** Where a line between two points crosses −3 dB, even in octaves. */
function between(below: ResponsePoint, above: ResponsePoint): number {
  const share = (-3 - below.db) / (above.db - below.db);
  return below.hertz * (above.hertz / below.hertz) ** share;
}

/** Peaks and dips of the passband, each at its furthest point. */
function bumpsOf(points: readonly ResponsePoint[]): OutputComparison['bumps'] {
  const { lowCornerHz = 0, highCornerHz = Infinity } = cornersOf(points);
  // The slope of a filter next to its corner is no equaliser's dip.
  const inner = smoothed(points).filter(({ hertz }) => hertz > 2 * lowCornerHz && hertz < highCornerHz / 2);
  const bumps: OutputComparison['bumps'] = [];
  let run: ResponsePoint[] = [];
  const close = (): void => {
    if (run.length > 0) bumps.push(run.reduce((most, point) => (Math.abs(point.db) > Math.abs(most.db) ? point : most)));
    run = [];
  };
  for (const point of inner) {
    if (Math.abs(point.db) < NOTABLE_BUMP_DB) close();
    else {
      if (run.length > 0 && Math.sign(run[0]!.db) !== Math.sign(point.db)) close();
      run.push(point);
    }
  }
  close();
  return bumps;
}

/** A third of an octave wide: four twelfths, in decibels. */
function smoothed(points: readonly ResponsePoint[]): ResponsePoint[] {
  return points.map(({ hertz }, i) => ({ hertz, db: mean(points.slice(Math.max(0, i - 2), i + 3).map(({ db }) => db)) }));
}

const within = (points: readonly ResponsePoint[], { from, to }: { from: number; to: number }): number[] =>
  points.filter(({ hertz }) => hertz >= from && hertz <= to).map(({ db }) => db);
const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)] ?? 0;
}

/** What sweeps show, in words, and what a processor after the source has to undo. */
export function sweepFindings(comparisons: readonly OutputComparison[], responses: readonly VolumeResponse[]): Finding[] {
  return [...comparisons.flatMap(outputFindings), ...pairFindings(responses)];
}

function outputFindings({ label, curves, heldBack, lowCornerHz, highCornerHz, bumps }: OutputComparison): Finding[] {
  const findings: Finding[] = [];
  if (heldBack !== undefined) {
    findings.push({
      code: 'bass-held-back',
      grade: 'attention',
      figures: { fromVolume: heldBack.fromVolume, db: heldBack.db, hertz: heldBack.hertz, label },
    });
  } else if (curves.length > 1) {
    findings.push({
      code: 'response-steady',
      grade: 'good',
      figures: { curves: curves.length, label, fromVolume: curves[0]!.volume, toVolume: curves.at(-1)!.volume },
    });
  } else {
    findings.push({
      code: 'one-volume',
      grade: 'note',
      figures: { curves: curves.length, label },
    });
  }
  if (lowCornerHz !== undefined) {
    findings.push({
      code: 'low-corner',
      grade: 'attention',
      figures: { hertz: lowCornerHz, label },
    });
  }
  if (highCornerHz !== undefined) {
    findings.push({
      code: 'high-corner',
      grade: 'attention',
      figures: { hertz: highCornerHz, label },
    });
  }
  if (bumps.length > 0) {
    const words = bumps.slice(0, 4).map(({ hertz, db }) => `${signedDb(db)} at ${formatQuantity(hertz, 'Hz')}`);
    const undo = bumps.slice(0, 4).map(({ hertz, db }) => `${signedDb(-db)} at ${formatQuantity(hertz, 'Hz')}`);
    findings.push({
      code: 'equalised',
      grade: 'attention',
      figures: { bumps: bumps.length, label, bumpTexts: words, undo },
    });
  } else if (lowCornerHz === undefined && highCornerHz === undefined) {
    findings.push({ code: 'flat-response', grade: 'good', figures: { label, withinDb: NOTABLE_BUMP_DB } });
  }
  return findings;
}

/** Below this a difference in level is a matter of tolerance. */
const NOTABLE_LEVEL_DB = 0.5;
const NOTABLE_DELAY_SECOND = 0.0001;

/** Outputs captured together: level, delay and polarity of each against the first. */
function pairFindings(responses: readonly VolumeResponse[]): Finding[] {
  const ids = [...new Set(responses.map(({ captureId }) => captureId))];
  return ids.flatMap((id) => {
    const [first, ...others] = responses.filter(({ captureId }) => captureId === id);
    if (first === undefined) return [];
    return others.flatMap((other): Finding[] => {
      const parts: string[] = [];
      const levelDb = passbandOf(other.points) - passbandOf(first.points);
      const delay = other.arrivalSecond - first.arrivalSecond;
      if (Math.abs(levelDb) > NOTABLE_LEVEL_DB) parts.push(`${signedDb(levelDb)} in level`);
      if (Math.abs(delay) > NOTABLE_DELAY_SECOND) parts.push(`${fixed(Math.abs(delay) * 1000, 2)} ms ${delay > 0 ? 'later' : 'earlier'}`);
      if (other.polarity !== first.polarity) parts.push('polarity reversed');
      return parts.length === 0
        ? [
            {
              code: 'outputs-alike',
              grade: 'good',
              figures: { levelDb, delaySecond: delay, otherLabel: other.label, label: first.label, volume: first.volume },
            },
          ]
        : [
            {
              code: 'outputs-differ',
              grade: 'attention',
              figures: {
                levelDb,
                delaySecond: delay,
                isReversed: other.polarity !== first.polarity,
                otherLabel: other.label,
                label: first.label,
                volume: first.volume,
                parts,
              },
            },
          ];
    });
  });
}
