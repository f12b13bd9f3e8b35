import type { LineTrace } from '../../job/records.ts';
import type { Channel } from '../../job/chain.ts';
import type { Finding } from '../../findings.ts';
import { lastResult } from '../../numerics/lastResult.ts';
import { compareSweeps, sweepFindings, type OutputComparison, type VolumeResponse } from '../../sweeps/compareSweeps.ts';
import { lineConditions } from './played.ts';
import { once, stepId, tracesAt, type Situation } from './situation.ts';
import { staleReasons, type ConditionKey } from './staleness.ts';

/** What the sweeps of a source at several volumes say of it. */
export interface SourceSweeps {
  comparisons: OutputComparison[];
  /** captures in which no sweep was found, with the reason */
  failed: { traceId: string; fileName: string; reason: string }[];
  findings: Finding[];
  shapeDb: SourceShape;
}

/**
 * What a source does to a tone at a volume by itself, in dB against its own passband.
 *
 * @returns 0 where no sweep was recorded at that volume: nothing is known of it
 */
export type SourceShape = (hertz: number, volume: number) => number;

export const FACTORY_STANDS_ON: readonly ConditionKey[] = ['source', 'input', 'settings'];

/** The sweeps of the source that still count, and why others do not. */
export const sourceCaptures = once((now: Situation): { own: LineTrace[]; reasons: string[] } => {
  const present = lineConditions(now, now.settings.rules.otherToneHz);
  const reasons = new Set<string>();
  const own = tracesAt(now, stepId('factory', 'source'), 'line').filter(({ conditions }) => {
    if (conditions.sweep === undefined) return false;
    const stale = staleReasons(FACTORY_STANDS_ON, conditions, present);
    stale.forEach((reason) => reasons.add(reason));
    return stale.length === 0;
  });
  return { own, reasons: [...reasons] };
});

/** The sweeps of the source, worked out. */
export const sourceSweeps = once((now: Situation): SourceSweeps => {
  const { own } = sourceCaptures(now);
  return kept(now.chain.source, '', own, () => workedOut(own));
});

const kept = lastResult<SourceSweeps>();

const UNSHAPED: SourceShape = () => 0;

/** What the source does to the tones of a channel; nothing where a processor stands between, which may even it out again. */
export const shapeBefore = (now: Situation, { processorOutputId }: Channel): SourceShape =>
  processorOutputId === undefined && now.chain.source.isFactory === true ? sourceSweeps(now).shapeDb : UNSHAPED;

function workedOut(own: readonly LineTrace[]): SourceSweeps {
  const { responses, failed } = responsesOf(own);
  const comparisons = compareSweeps(responses);
  return { comparisons, failed, findings: sweepFindings(comparisons, responses), shapeDb: shapeOf(comparisons) };
}

/** Of the first output that was swept: the one that feeds the amplifiers. */
function shapeOf([first]: readonly OutputComparison[]): SourceShape {
  if (first === undefined) return UNSHAPED;
  const byVolume = new Map(first.curves.map(({ volume, points }) => [volume, points]));
  return (hertz, volume) => levelAt(byVolume.get(volume) ?? [], hertz);
}

/** Straight in dB over log frequency between two points, and level beyond the ends. */
function levelAt(points: readonly { hertz: number; db: number }[], hertz: number): number {
  const above = points.findIndex((point) => point.hertz >= hertz);
  if (above <= 0) return (above === 0 ? points[0] : points.at(-1))?.db ?? 0;
  const [low, high] = [points[above - 1]!, points[above]!];
  const share = Math.log(hertz / low.hertz) / Math.log(high.hertz / low.hertz);
  return low.db + share * (high.db - low.db);
}

function responsesOf(traces: readonly LineTrace[]): { responses: VolumeResponse[]; failed: SourceSweeps['failed'] } {
  const responses: VolumeResponse[] = [];
  const failed: SourceSweeps['failed'] = [];
  for (const { id, fileName, analysis, conditions } of traces) {
    analysis.channels.forEach(({ response, name }, i) => {
      if (response === undefined) return;
      if (response.kind === 'no-sweep') failed.push({ traceId: id, fileName, reason: response.reason });
      else {
        const label = conditions.sweep?.labels[i] ?? name;
        const { points, arrivalSecond, polarity } = response;
        // A second capture of the same output at the same volume takes the first one's place.
        const before = responses.findIndex((r) => r.label === label && r.volume === conditions.sourceVolume);
        if (before !== -1) responses.splice(before, 1);
        responses.push({ label, volume: conditions.sourceVolume, points, arrivalSecond, polarity, captureId: id });
      }
    });
  }
  return { responses, failed };
}
