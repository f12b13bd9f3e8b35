import type { Finding } from '../../findings.ts';
import type { TraceRecord } from '../../job/records.ts';
import type { ChannelAnalysis } from '../../traces/analyseTrace.ts';
import type { QuantityKind } from '../../job/quantityKind.ts';
import { quantitiesOf } from '../frame/quantities.ts';
import { recordsAt, type Situation } from '../frame/situation.ts';
import { staleReasons } from '../frame/staleness.ts';
import type { RunStep } from '../frame/runStep.ts';
import { subjectOf, type Doubt } from './doubt.ts';

/** So many cycles are asked for; a little less is a matter of where the capture was cut. */
const CYCLES = 5;
const MIN_CYCLES = 4.5;
/** DC at an amplifier's output that is no offset of a scope's own: half a volt, and a part of what is shown. Common practice, no source. */
const NOTABLE_DC_VOLT = 0.5;
const NOTABLE_DC_SHARE = 0.04;

/** What the newest capture of each step says against being judged at all: another tone, too few cycles, DC, or another channel's file. */
export function captureDoubts(steps: readonly RunStep[], now: Situation): Doubt[] {
  const shown = steps.flatMap((step) => {
    const trace = step.kind.intakes.some((intake) => intake.type === 'capture' && intake.judged === 'tone')
      ? recordsAt(now, step.id).traces.at(-1)
      : undefined;
    const channel = trace?.analysis.channels[trace.channelIndex];
    if (trace === undefined || channel === undefined || trace.conditions.at === 'air') return [];
    return [{ step, trace, channel, isOfNow: isOfNow(step, trace, now) }];
  });
  const doubt = (step: RunStep, of: QuantityKind, finding: Finding): Doubt[] =>
    quantitiesOf(of, subjectOf(step)).map((quantity) => ({ quantity, of, at: step.id, finding, isWitnessed: true }));
  return [
    ...shown.flatMap(({ step, trace, channel, isOfNow: isPresent }) => [
      ...(isPresent ? ofTone(trace, channel) : []).flatMap((finding) => doubt(step, 'capture', finding)),
      // DC goes with the amplifier, whatever else was changed since.
      ...(trace.conditions.at === 'load' && trace.conditions.amplifierId === step.channels[0]?.amplifier.id
        ? dcFinding(trace, channel).flatMap((finding) => doubt(step, 'offset', finding))
        : []),
    ]),
    ...shown.flatMap(({ step, trace }, i) => {
      const twin = shown.slice(0, i).find((other) => isSameFile(other.trace, trace) && isOtherChannel(other.step, step));
      if (twin === undefined) return [];
      return doubt(step, 'capture', {
        code: 'capture-twice',
        grade: 'attention',
        figures: { fileName: trace.fileName, otherTitle: twin.step.title },
        action: { kind: 'void', of: 'capture', id: trace.id },
      });
    }),
  ];
}

/** Taken under what the step stands on now: a capture of before denies nothing. */
function isOfNow({ kind, step }: RunStep, { conditions }: TraceRecord, now: Situation): boolean {
  const present = kind.conditions?.(step, now);
  return present === undefined || staleReasons(kind.dependsOn, conditions, present).length === 0;
}

function ofTone(trace: TraceRecord, { warnings, fundamentalHz, samples, fit }: ChannelAnalysis): Finding[] {
  if (trace.conditions.at === 'air' || fundamentalHz === undefined || fit === undefined) return [];
  const again = { kind: 'capture', judged: 'tone' } as const;
  const { toneHz } = trace.conditions;
  if (warnings.includes('other-tone'))
    return [{ code: 'capture-other-tone', grade: 'attention', figures: { shownHz: fundamentalHz, toneHz }, action: again }];
  const cycles = (samples / trace.analysis.sampleRateHz) * fundamentalHz;
  if (cycles < MIN_CYCLES)
    return [{ code: 'capture-too-short', grade: 'attention', figures: { cycles, wantedCycles: CYCLES }, action: again }];
  return [];
}

function dcFinding(
  { id }: TraceRecord,
  { warnings, clipping, dcOffsetVolt, peakPositiveVolt, peakNegativeVolt }: ChannelAnalysis,
): Finding[] {
  // A wave that is clipped more on one side has a mean of its own, and is dealt with as clipped.
  if (warnings.includes('uncalibrated') || clipping.verdict !== 'clean') return [];
  const peak = Math.max(Math.abs(peakPositiveVolt), Math.abs(peakNegativeVolt));
  // Analyses of before may lack a figure: nothing is said of what is not known.
  if (!(Math.abs(dcOffsetVolt) > Math.max(NOTABLE_DC_VOLT, NOTABLE_DC_SHARE * peak))) return [];
  return [
    {
      code: 'dc-on-terminals',
      grade: 'stop',
      figures: { dcVolt: dcOffsetVolt, captureId: id },
      action: { kind: 'describe', what: 'repair' },
    },
  ];
}

const isSameFile = (a: TraceRecord, b: TraceRecord): boolean =>
  a.sha256 !== undefined && a.sha256 === b.sha256 && a.channelIndex === b.channelIndex;

const isOtherChannel = (a: RunStep, b: RunStep): boolean =>
  a.channels.length > 0 &&
  b.channels.length > 0 &&
  !a.channels.some(({ channel }) => b.channels.some((other) => other.channel.id === channel.id));
