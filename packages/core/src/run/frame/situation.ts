import type { Chain } from '../../job/chain.ts';
import { withTrueLoads } from '../../job/channelWiring.ts';
import type { CaptureConditions, Reading, RunRecords, StepMark, TraceRecord, TuneSettings } from '../../job/records.ts';
import { byTime } from '../../job/records.ts';
import type { Conditions } from '../../job/conditions.ts';
import { judgedAt } from '../../traces/analyseTrace.ts';
import type { KindId } from './kindIds.ts';

/** A tune as it stands now. Made once per change; what follows from it is worked out once, when it is first asked for. */
export interface Situation {
  readonly chain: Chain;
  readonly settings: TuneSettings;
  readonly records: RunRecords;
  readonly byStep: ReadonlyMap<string, StepRecords>;
  /** records that no step could be judged with: they are left out, and their steps say so */
  readonly setAside: readonly SetAside[];
}

/** A record that is left out of every judgement, since none can be made with it. */
export interface SetAside {
  of: 'reading' | 'capture' | 'mark';
  /** of a mark, its step's */
  id: string;
  stepId: string;
  /** what came of judging with it */
  why: string;
}

/** What counts at one step, oldest first: nothing that was voided. */
export interface StepRecords {
  readonly readings: readonly Reading[];
  readonly traces: readonly TraceRecord[];
  readonly mark?: StepMark;
  /** how many were read off the simulated bench, and do not count */
  readonly simulated: number;
}

/**
 * A tune as it stands, taken as it comes. What is stored may be odd: what people see is made by `settledSituation`.
 *
 * @param setAside - what was left out of `records`
 */
export function newSituation(given: Chain, settings: TuneSettings, records: RunRecords, setAside: readonly SetAside[] = []): Situation {
  const chain = withTrueLoads(given);
  type Filled = { readings: Reading[]; traces: TraceRecord[]; mark?: StepMark; simulated: number };
  const byStep = new Map<string, Filled>();
  const at = (stepId: string): Filled => {
    const known = byStep.get(stepId);
    if (known !== undefined) return known;
    const made: Filled = { readings: [], traces: [], simulated: 0 };
    byStep.set(stepId, made);
    return made;
  };
  const counts = ({ stepId, conditions }: Reading | TraceRecord): boolean => {
    if (conditions.isSimulated !== true || settings.isPractice === true) return true;
    at(stepId).simulated += 1;
    return false;
  };
  for (const reading of records.readings)
    if (reading.voidedReason === undefined && counts(reading)) at(reading.stepId).readings.push(reading);
  for (const trace of records.traces) {
    if (trace.voidedReason !== undefined || !counts(trace)) continue;
    // The house may have moved its limit since this was captured.
    const analysis = judgedAt(trace.analysis, settings.rules.limitThdPercent);
    at(trace.stepId).traces.push(analysis === trace.analysis ? trace : { ...trace, analysis });
  }
  for (const mark of records.marks) at(mark.stepId).mark = mark;
  for (const { readings, traces } of byStep.values()) {
    readings.sort(byTime);
    traces.sort(byTime);
  }
  return { chain, settings, records, byStep, setAside };
}

/** A step's id is its kind and the id of what it is about: a channel, a filter, an input or output of the source or of the processor. */
export const stepId = <K extends KindId>(kind: K, of: string): `${K}:${string}` => `${kind}:${of}`;

const NOTHING: StepRecords = { readings: [], traces: [], simulated: 0 };

export const recordsAt = ({ byStep }: Situation, stepId: string): StepRecords => byStep.get(stepId) ?? NOTHING;

export const markAt = (now: Situation, stepId: string): StepMark | undefined => recordsAt(now, stepId).mark;

/** What was read of one kind at a step, oldest first. @param at - as the kind of reading declares it */
export function readingsAt<A extends Conditions['at']>(
  now: Situation,
  stepId: string,
  kind: string,
  at: A,
): Reading<Extract<Conditions, { at: A }>>[] {
  return recordsAt(now, stepId).readings.filter(
    (reading): reading is Reading<Extract<Conditions, { at: A }>> => reading.kind === kind && reading.conditions.at === at,
  );
}

/** The captures of a step, oldest first. */
export function tracesAt<A extends CaptureConditions['at']>(
  now: Situation,
  stepId: string,
  at: A,
): TraceRecord<Extract<CaptureConditions, { at: A }>>[] {
  return recordsAt(now, stepId).traces.filter(
    (trace): trace is TraceRecord<Extract<CaptureConditions, { at: A }>> => trace.conditions.at === at,
  );
}

/** What follows from a situation, worked out when it is first asked for and then kept as long as the situation. */
export function once<T>(make: (now: Situation) => T): (now: Situation) => T {
  const kept = new WeakMap<Situation, { value: T }>();
  return (now) => {
    const known = kept.get(now) ?? { value: make(now) };
    kept.set(now, known);
    return known.value;
  };
}

/** The same for each of several things, told apart by a key. */
export function onceEach<S, T>(keyOf: (of: S) => string, make: (now: Situation, of: S) => T): (now: Situation, of: S) => T {
  const tables = once(() => new Map<string, T>());
  return (now, of) => {
    const table = tables(now);
    const key = keyOf(of);
    if (!table.has(key)) table.set(key, make(now, of));
    return table.get(key) as T;
  };
}
