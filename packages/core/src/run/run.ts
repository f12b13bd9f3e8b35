import type { Finding } from '../findings.ts';
import { channelsNow, type ChannelNow } from './frame/channels.ts';
import { cautionOf, gateOf, type Gate } from './frame/gate.ts';
import type { Judgement } from './frame/judgement.ts';
import { markAt, recordsAt, type Situation } from './frame/situation.ts';
import { STAGES } from './frame/stages.ts';
import { stepsOfKind, type Checks, type Step, type StepKind, type StepWords } from './frame/stepKind.ts';
import { KINDS } from './kinds/index.ts';

/** One step of a run, with everything that is told of it. */
export interface RunStep {
  id: string;
  kind: StepKind;
  step: Step;
  /** "Gain: Front left" */
  title: string;
  words: StepWords;
  gate: Gate;
  state: Judgement;
  checks?: Checks;
  caution?: string;
  /** the channels that it is about */
  channels: readonly ChannelNow[];
  /** an optional step counts once something was measured there */
  isCounted: boolean;
  /** nothing is left to do: done, skipped, or not counted */
  isBehind: boolean;
}

/**
 * The ordered steps that a situation calls for, and where each stands.
 *
 * Channels whose amplifier is missing are left out; a chain without amplifiers calls for nothing yet.
 */
export function runOf(now: Situation, kinds: readonly StepKind[] = KINDS): RunStep[] {
  if (channelsNow(now).length === 0) return [];
  return STAGES.flatMap(({ id, isByChannel }) => {
    const steps = kinds
      .filter(({ stage }) => stage === id)
      .flatMap((kind) => stepsOfKind(kind, now).map((step) => ({ kind, step, channels: kind.channelsOf(step) })));
    return (isByChannel === true ? byChannel(steps, now) : steps).map(({ kind, step, channels }) => runStep(kind, step, channels, now));
  });
}

/** All steps of a channel together, in the order of the chain; what is about no channel comes last. */
function byChannel<T extends { channels: readonly ChannelNow[] }>(steps: readonly T[], now: Situation): T[] {
  const order = new Map(channelsNow(now).map(({ channel }, i) => [channel.id, i]));
  const placeOf = ({ channels }: T): number => order.get(channels[0]?.channel.id ?? '') ?? order.size;
  return [...steps].sort((a, b) => placeOf(a) - placeOf(b));
}

function runStep(kind: StepKind, step: Step, channels: readonly ChannelNow[], now: Situation): RunStep {
  const words = kind.words(step, now);
  const gate = gateOf(kind, step, now);
  const state = gated(kind.judge(step, now), gate, markAt(now, step.id)?.skippedReason);
  const checks = kind.checks?.(step, now);
  const caution = cautionOf(kind, step, now);
  const { readings, traces } = recordsAt(now, step.id);
  const isCounted = kind.isOptional !== true || readings.length + traces.length > 0;
  return {
    id: step.id,
    kind,
    step,
    title: `${kind.title}: ${words.subject}`,
    words,
    gate,
    state,
    channels,
    isCounted,
    isBehind: !isCounted || state.status === 'done' || state.status === 'skipped',
    ...(checks === undefined ? {} : { checks }),
    ...(caution === undefined ? {} : { caution }),
  };
}

/** What was judged, behind its gate: a stop comes before everything, an open step is told what is missing, a skipped one says why. */
function gated(judged: Judgement, { stop, warning }: Gate, skippedReason: string | undefined): Judgement {
  const { status, findings } = judged;
  if (stop !== undefined) {
    return { ...judged, status: 'stop', findings: [stop, ...findings], ...(stop.action === undefined ? {} : { action: stop.action }) };
  }
  if (skippedReason !== undefined && (status === 'open' || status === 'stale')) {
    const skipped: Finding = { code: 'skipped', grade: 'note', figures: {}, words: `Skipped: ${skippedReason}` };
    return { status: 'skipped', figures: judged.figures, findings: [skipped, ...findings] };
  }
  if (warning !== undefined && status === 'open') {
    return { ...judged, findings: [warning, ...findings], ...(warning.action === undefined ? {} : { action: warning.action }) };
  }
  return judged;
}
