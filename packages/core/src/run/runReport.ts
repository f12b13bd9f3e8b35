import type { Action, Figures, Finding, Grade, Say } from '../findings.ts';
import type { Conditions } from '../job/conditions.ts';
import type { StepStatus } from './frame/judgement.ts';
import type { Situation } from './frame/situation.ts';
import type { StageId } from './frame/stages.ts';
import type { Check, Intake, Plays, StepTarget } from './frame/stepKind.ts';
import type { RunStep } from './run.ts';

/** A run as a script reads it. */
export interface RunReport {
  steps: StepReport[];
}

export interface StepReport {
  id: string;
  kind: string;
  stage: StageId;
  title: string;
  status: StepStatus;
  plays: Plays;
  /** no tone may play yet */
  isLocked: boolean;
  /** nobody misses it while it is open */
  isOptional: boolean;
  takes: readonly Intake[];
  target?: StepTarget;
  /** what the next reading or capture sent from here has to carry */
  conditions?: Conditions;
  checks?: readonly Check[];
  caution?: string;
  findings: FindingReport[];
  /** the one next move; left out where nothing is left to do */
  action?: Action;
}

export interface FindingReport {
  code: string;
  grade: Grade;
  figures: Figures;
  /** in words, where they are wanted */
  text?: string;
  next?: string;
  action?: Action;
}

/** What the screens show of a run, as plain data. Where something is left to do, some finding carries the move. */
export const runReport = (run: readonly RunStep[], now: Situation, say?: Say): RunReport => ({
  steps: run.map((step) => stepReport(step, now, say)),
});

function stepReport({ id, kind, step, title, state, gate, checks, caution }: RunStep, now: Situation, say: Say | undefined): StepReport {
  const target = kind.target?.(step, now);
  const conditions = kind.conditions?.(step, now);
  const action = state.status === 'skipped' ? undefined : state.action;
  const found: Finding[] = [...state.findings];
  if (action !== undefined && found.every((finding) => finding.action === undefined)) {
    found.push({ code: 'next', grade: 'note', figures: { help: kind.help }, action });
  }
  return {
    id,
    kind: kind.kind,
    stage: kind.stage,
    title,
    status: state.status,
    plays: kind.plays,
    isLocked: gate.isLocked,
    isOptional: kind.isOptional === true,
    takes: kind.intakes,
    ...(target === undefined ? {} : { target }),
    ...(conditions === undefined ? {} : { conditions }),
    ...(checks === undefined ? {} : { checks: checks.items }),
    ...(caution === undefined ? {} : { caution }),
    findings: found.map((finding) => findingReport(finding, say)),
    ...(action === undefined ? {} : { action }),
  };
}

function findingReport(finding: Finding, say: Say | undefined): FindingReport {
  const { code, grade, figures, action } = finding;
  const { text, next } = say?.(finding) ?? {};
  return {
    code,
    grade,
    figures,
    ...(text === undefined ? {} : { text }),
    ...(next === undefined ? {} : { next }),
    ...(action === undefined ? {} : { action }),
  };
}
