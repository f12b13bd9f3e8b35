import { say } from '@yield/words';
import type { Chain, HouseRules } from '../job/chain.ts';
import type { Conditions, LineConditions, LoadConditions } from '../job/conditions.ts';
import type { RunRecords, StepMark, TuneSettings } from '../job/records.ts';
import type { Judgement } from './frame/judgement.ts';
import { newSituation, type Situation } from './frame/situation.ts';
import type { StepKind } from './frame/stepKind.ts';
import { KINDS, type FiguresOf, type KindId, type StepOf } from './kinds/index.ts';
import { runOf, type RunStep } from './run.ts';

/** A meter that is good for every tone of the tests. */
const PLAIN_METER = { percent: 1, digits: 3, highestHz: 20_000, trueRms: true };

export const situation = (chain: Chain, settings: TuneSettings, records: Partial<RunRecords> = {}): Situation =>
  newSituation(chain, settings, { readings: [], traces: [], marks: [], ...records });

/** The steps that a chain calls for, before anything was measured. */
export const stepsIn = (chain: Chain, rules: HouseRules): AnyStep[] =>
  runOf(situation(chain, { rules, meter: PLAIN_METER })).map(({ step }) => step as AnyStep);

export type AnyStep = { [K in KindId]: StepOf<K> }[KindId];

export const stepOfKind = <K extends KindId>(kind: K, chain: Chain, rules: HouseRules): StepOf<K> =>
  stepsIn(chain, rules).find((step): step is StepOf<K> & AnyStep => step.kind === kind)!;

/** Ticks for everything that a chain's steps ask to be seen to, as it stands now; those that are given count in their place. */
export function allTicked(chain: Chain, settings: TuneSettings, marks: readonly StepMark[] = []): StepMark[] {
  const all = runOf(situation(chain, settings)).flatMap(({ id, checks }): StepMark[] =>
    checks === undefined
      ? []
      : [
          {
            stepId: id,
            checks: checks.items.map((item) => item.id),
            ...(checks.basis === undefined ? {} : { basis: checks.basis.key, basisWords: checks.basis.words }),
          },
        ],
  );
  return [...all.filter(({ stepId }) => marks.every((mark) => mark.stepId !== stepId)), ...marks];
}

/** One step of a run, with its state. */
export function runStepIn(id: string, now: Situation, kinds: readonly StepKind[] = KINDS): RunStep {
  const found = runOf(now, kinds).find((step) => step.id === id);
  if (found === undefined) throw new Error(`the chain calls for no step ${id}`);
  return found;
}

/** Where a step stands. */
export const stateIn = <K extends KindId>(
  step: { id: string; kind: K },
  chain: Chain,
  settings: TuneSettings,
  records: Partial<RunRecords>,
): Judgement<FiguresOf<K>> => runStepIn(step.id, situation(chain, settings, records)).state as Judgement<FiguresOf<K>>;

/** What a reading taken at a step now would have to carry. */
export function conditionsIn(step: { id: string }, chain: Chain, settings: TuneSettings, marks: readonly StepMark[] = []): Conditions {
  const now = situation(chain, settings, { marks });
  const found = runStepIn(step.id, now);
  const conditions = found.kind.conditions?.(found.step, now);
  if (conditions === undefined) throw new Error(`nothing is read at ${step.id}`);
  return conditions;
}

export const loadConditionsIn = (...args: Parameters<typeof conditionsIn>): LoadConditions => conditionsIn(...args) as LoadConditions;
export const lineConditionsIn = (...args: Parameters<typeof conditionsIn>): LineConditions => conditionsIn(...args) as LineConditions;

/** Everything that is told of a step, for a look at its words. */
export const wordsOf = ({ findings }: Judgement): string =>
  findings
    .map(say)
    .map(({ text, next }) => `${text} ${next ?? ''}`)
    .join(' ');
export const codesOf = ({ findings }: Judgement): string[] => findings.map(({ code }) => code);
