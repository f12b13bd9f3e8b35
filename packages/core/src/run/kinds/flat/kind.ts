import type { Finding } from '../../../findings.ts';
import { sourceBasis, sourceControls, sourceInputs } from '../../../job/source.ts';
import { INPUT_NAMES, isNeutral, type ControlWords, type SourceInput } from '../../../source/sourceControls.ts';
import type { Judgement } from '../../frame/judgement.ts';
import { markAt, type Situation } from '../../frame/situation.ts';
import { defineKind, type Step } from '../../frame/stepKind.ts';

/** Everything neutral, for one input of the source. */
export interface FlatSubject {
  input: SourceInput;
}

/** One line of the Flat list: a control, and what it was ticked at. */
export interface FlatItem extends ControlWords {
  ticked: boolean;
  value: string;
  isNeutral: boolean;
}

export interface FlatFigures {
  items: FlatItem[];
}

export const flat = defineKind({
  kind: 'flat',
  stage: 'flat',
  title: 'Flat',
  help: 'everything on the source neutral, for each input that is used',
  plays: 'nothing',
  intakes: [],
  dependsOn: [],
  subjects: (now): FlatSubject[] => sourceInputs(now.chain.source).map((input) => ({ input })),
  keyOf: ({ input }) => input,
  words: ({ input }) => ({ subject: INPUT_NAMES[input], where: 'Source: everything neutral before anything is measured' }),
  channelsOf: () => [],
  checks: (_step, now) => ({
    items: sourceControls(now.chain.source).map(({ id, name }) => ({ id, words: name })),
    basis: sourceBasis(now.chain.source),
  }),
  judge: judgeFlat,
});

const AS_PLANNED = 'as planned';

/** Where making one input of the source flat stands. */
function judgeFlat(step: Step<'flat', FlatSubject>, now: Situation): Judgement<FlatFigures> {
  const mark = markAt(now, step.id);
  // Filters that were planned in the source stand as planned, not off.
  const hasFilters = now.chain.channels.some(({ filters = [] }) => filters.some(({ place }) => place === 'source'));
  const items = sourceControls(now.chain.source).map((given): FlatItem => {
    const control = given.id === 'crossovers' && hasFilters ? { ...given, neutral: AS_PLANNED } : given;
    const value = mark?.values?.[control.id] ?? control.neutral;
    const neutral = control.neutral === AS_PLANNED ? value.trim().toLowerCase() === AS_PLANNED : isNeutral(control.id, value);
    return { ...control, ticked: mark?.checks.includes(control.id) ?? false, value, isNeutral: neutral };
  });
  const figures = { items };
  const basis = sourceBasis(now.chain.source);
  const action = { kind: 'tick', checks: items.map(({ id }) => id), basis: basis.key, basisWords: basis.words } as const;
  // Ticks of before what they stand for was written down count for whatever source is there.
  if (mark?.basis !== undefined && mark.checks.length > 0 && mark.basis !== basis.key) {
    const stale: Finding = {
      code: 'ticks-stale',
      grade: 'stale',
      figures: {
        at: 'flat',
        then: mark.basis,
        now: basis.key,
        ...(mark.basisWords === undefined ? {} : { tickedFor: mark.basisWords }),
        present: basis.words,
      },
    };
    return { status: 'stale', figures, findings: [stale], action };
  }
  const bent = items.filter((item) => item.ticked && !item.isNeutral);
  const findings = bent.map(({ id, name, value }): Finding => ({
    code: 'control-not-neutral',
    grade: 'attention',
    figures: { control: id, value, controlName: name },
  }));
  if (items.some(({ ticked }) => !ticked)) return { status: 'open', figures, findings, action };
  if (bent.length > 0) return { status: 'out-of-tolerance', figures, findings, action };
  return {
    status: 'done',
    figures,
    findings: [
      {
        code: 'flat',
        grade: 'good',
        figures: { controls: items.length },
      },
    ],
  };
}
