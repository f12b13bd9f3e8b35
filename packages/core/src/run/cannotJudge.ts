import { CoreError } from '../coreError.ts';
import type { Finding } from '../findings.ts';
import type { Judgement } from './frame/judgement.ts';
import type { SetAside, Situation } from './frame/situation.ts';
import type { RunStep } from './frame/runStep.ts';
import type { Step, StepKind } from './frame/stepKind.ts';

/** What an error says, for people: the core's own faults in words, of anything else that it was not foreseen. */
export const errorWords = (error: unknown): string =>
  error instanceof CoreError ? error.faults.map(({ message }) => message).join('; ') : 'a value that Yield did not expect';

/** Says at its step that a record was left out; nothing that was left out lets a step be done. */
export function cannotJudge<F>(judged: Judgement<F>, stepId: string, { setAside }: Pick<Situation, 'setAside'>): Judgement<F> {
  const own = setAside.filter((each) => each.stepId === stepId);
  if (own.length === 0) return judged;
  const findings = own.map(setAsideFinding);
  const status = judged.status === 'done' || judged.status === 'skipped' ? 'open' : judged.status;
  const action = findings.find((finding) => finding.action !== undefined)?.action;
  return { ...judged, status, findings: [...findings, ...judged.findings], ...(action === undefined ? {} : { action }) };
}

/** The finding of one record that was left out, with the move that takes it away. */
export function setAsideFinding({ of, id, why }: SetAside): Finding {
  return {
    code: 'cannot-judge',
    grade: 'attention',
    figures: { of, id, why },
    ...(of === 'mark' ? {} : { action: { kind: 'void', of, id } }),
  };
}

/** As a step of a run, but for the channels that it is about. */
type Unjudged = Omit<RunStep, 'channels'>;

/** A step that could not be worked out at all, though no single record is to blame: the chain or the settings are. */
export function unjudged(kind: StepKind, step: Step, error: unknown): Unjudged {
  const why = errorWords(error);
  const subject = step.id.slice(kind.kind.length + 1);
  return {
    id: step.id,
    kind,
    step,
    title: subject === 'all' ? kind.title : `${kind.title}: ${subject}`,
    words: { subject: subject === 'all' ? kind.title : subject, where: '' },
    gate: { isLocked: true },
    state: {
      status: 'open',
      figures: {},
      findings: [
        {
          code: 'cannot-judge',
          grade: 'attention',
          figures: { of: 'chain', why },
          action: { kind: 'describe', what: 'chain' },
        },
      ],
      action: { kind: 'describe', what: 'chain' },
    },
    isCounted: true,
    isSettled: false,
    fault: why,
  };
}
