import type { Finding } from '../../../findings.ts';
import type { LineTrace } from '../../../job/records.ts';
import { lastResult } from '../../../numerics/lastResult.ts';
import { compareSweeps, sweepFindings, type OutputComparison, type VolumeResponse } from '../../../sweeps/compareSweeps.ts';
import { lineConditions } from '../../frame/conditions.ts';
import { staleFinding, type Judgement } from '../../frame/judgement.ts';
import { tracesAt, type Situation } from '../../frame/situation.ts';
import { staleReasons, type ConditionKey } from '../../frame/staleness.ts';

export interface FactoryFigures {
  comparisons: OutputComparison[];
  /** captures in which no sweep was found, with the reason */
  failed: { traceId: string; fileName: string; reason: string }[];
}

export const FACTORY_STANDS_ON: readonly ConditionKey[] = ['source', 'input', 'settings'];

/** The sweeps of the step that still count, and why others do not. */
export function factoryCaptures(stepId: string, now: Situation): { own: LineTrace[]; reasons: string[] } {
  const present = lineConditions(now, now.settings.rules.otherToneHz);
  const reasons = new Set<string>();
  const own = tracesAt(now, stepId, 'line').filter(({ conditions }) => {
    if (conditions.sweep === undefined) return false;
    const stale = staleReasons(FACTORY_STANDS_ON, conditions, present);
    stale.forEach((reason) => reasons.add(reason));
    return stale.length === 0;
  });
  return { own, reasons: [...reasons] };
}

/** Where looking at a factory unit's signal stands. */
export function judgeFactory(step: { id: string }, now: Situation): Judgement<FactoryFigures> {
  const { own, reasons } = factoryCaptures(step.id, now);
  const { figures, words } = keptFigures(now.chain.source, '', own, () => compared(own));
  const { comparisons, failed } = figures;
  const action = { kind: 'capture', judged: 'sweep' } as const;
  if (own.length === 0 && reasons.length > 0) {
    return { status: 'stale', figures, action, findings: [staleFinding('The sweeps', reasons, 'Capture them again.')] };
  }
  const misses = failed.map(({ traceId, fileName, reason }): Finding => ({
    code: 'no-sweep',
    grade: 'attention',
    figures: { traceId, fileName, reason },
  }));
  const findings = [...misses, ...words];
  const complete = comparisons.length > 0 && comparisons.every(({ curves }) => curves.length > 1) && failed.length === 0;
  // What a factory unit does is not put right here: once it is known, the step is done and the processor's work begins.
  return complete ? { status: 'done', figures, findings } : { status: 'open', figures, findings, action };
}

interface Compared {
  figures: FactoryFigures;
  words: Finding[];
}

const keptFigures = lastResult<Compared>();

function compared(own: readonly LineTrace[]): Compared {
  const { responses, failed } = responsesOf(own);
  const comparisons = compareSweeps(responses);
  return { figures: { comparisons, failed }, words: sweepFindings(comparisons, responses) };
}

function responsesOf(traces: readonly LineTrace[]): { responses: VolumeResponse[]; failed: FactoryFigures['failed'] } {
  const responses: VolumeResponse[] = [];
  const failed: FactoryFigures['failed'] = [];
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
