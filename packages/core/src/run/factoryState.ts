import { compareSweeps, sweepFindings, type VolumeResponse } from '../sweeps/compareSweeps.ts';
import type { Chain } from './chain.ts';
import { isLineTrace, type LineTrace, type TuneSettings } from './records.ts';
import { lineStaleReasons } from './staleness.ts';
import type { FactoryFigures, RunRecords, StepState } from './state.ts';
import { lineConditionsNow, type FactoryStep } from './steps.ts';

/** Where looking at a factory unit's signal stands. */
export function factoryState(step: FactoryStep, chain: Chain, settings: TuneSettings, records: RunRecords): StepState {
  const now = lineConditionsNow(step, chain, settings.rules, records.marks);
  const captures = records.traces
    .filter(isLineTrace)
    .filter((t) => t.stepId === step.id && t.voidedReason === undefined && t.conditions.sweep !== undefined);
  const reasons = new Set<string>();
  const own = captures.filter(({ conditions }) => {
    const stale = lineStaleReasons(conditions, now, ['sourceVolume', 'toneHz', 'toneLevelDbfs']);
    stale.forEach((reason) => reasons.add(reason));
    return stale.length === 0;
  });
  const { responses, failed } = responsesOf(own);
  const comparisons = compareSweeps(responses);
  const factory: FactoryFigures = { comparisons, failed };
  if (own.length === 0 && reasons.size > 0) {
    return {
      status: 'stale',
      factory,
      findings: [{ grade: 'stale', text: `The sweeps no longer count: ${[...reasons].join('; ')}.`, next: 'Capture them again.' }],
    };
  }
  const misses = failed.map(({ fileName, reason }) => ({ grade: 'attention' as const, text: `${fileName}: ${reason}` }));
  const findings = [...misses, ...sweepFindings(comparisons, responses)];
  const complete = comparisons.length > 0 && comparisons.every(({ curves }) => curves.length > 1);
  // What a factory unit does is not put right here: once it is known, the step is done and the processor's work begins.
  return { status: complete && failed.length === 0 ? 'done' : 'open', factory, findings };
}

function responsesOf(traces: readonly LineTrace[]): { responses: VolumeResponse[]; failed: FactoryFigures['failed'] } {
  const responses: VolumeResponse[] = [];
  const failed: FactoryFigures['failed'] = [];
  for (const { id, fileName, analysis, conditions } of [...traces].sort((a, b) => a.takenAt.localeCompare(b.takenAt))) {
    analysis.channels.forEach(({ response, name }, i) => {
      if (response === undefined) return;
      if (response.kind === 'no-sweep') failed.push({ traceId: id, fileName, reason: response.reason });
      else {
        const label = conditions.sweep?.labels[i] ?? name;
        const { points, delaySecond, polarity } = response;
        // A second capture of the same output at the same volume takes the first one's place.
        const before = responses.findIndex((r) => r.label === label && r.volume === conditions.sourceVolume);
        if (before !== -1) responses.splice(before, 1);
        responses.push({ label, volume: conditions.sourceVolume, points, delaySecond, polarity, captureId: id });
      }
    });
  }
  return { responses, failed };
}
