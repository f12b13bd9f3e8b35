import type { Finding } from '../../../findings.ts';
import { staleFinding, type Judgement } from '../../frame/judgement.ts';
import type { Situation } from '../../frame/situation.ts';
import { sourceCaptures, sourceSweeps, type SourceSweeps } from '../../frame/sourceSweeps.ts';

export type FactoryFigures = Pick<SourceSweeps, 'comparisons' | 'failed'>;

/** Where looking at a factory unit's signal stands. */
export function judgeFactory(_step: object, now: Situation): Judgement<FactoryFigures> {
  const { own, reasons } = sourceCaptures(now);
  const { comparisons, failed, findings: found } = sourceSweeps(now);
  const figures = { comparisons, failed };
  const action = { kind: 'capture', judged: 'sweep' } as const;
  if (own.length === 0 && reasons.length > 0) {
    return { status: 'stale', figures, action, findings: [staleFinding('The sweeps', reasons, 'Capture them again.')] };
  }
  const misses = failed.map(({ traceId, fileName, reason }): Finding => ({
    code: 'no-sweep',
    grade: 'attention',
    figures: { traceId, fileName, reason },
  }));
  const findings = [...misses, ...found];
  const { source, channels } = now.chain;
  // Fed straight from the source, a channel's filters and tones are told from what the source does at the volume in use.
  const isShapeUsed = channels.some(({ processorOutputId }) => processorOutputId === undefined);
  const isOfVolume = !isShapeUsed || comparisons[0]?.curves.some(({ volume }) => volume === source.workingVolume) === true;
  const complete = isOfVolume && comparisons.length > 0 && comparisons.every(({ curves }) => curves.length > 1) && failed.length === 0;
  // What a factory unit does is not put right here: once it is known, the step is done and the processor's work begins.
  return complete ? { status: 'done', figures, findings } : { status: 'open', figures, findings, action };
}
