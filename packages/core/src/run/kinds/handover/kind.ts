import type { Finding } from '../../../findings.ts';
import { basisOf } from '../../../job/basis.ts';
import { heardSetting } from '../../../job/heard.ts';
import { channelsNow, type ChannelNow } from '../../frame/channels.ts';
import { gainsNow } from '../../frame/gainsNow.ts';
import type { Judgement } from '../../frame/judgement.ts';
import { markAt, once, type Situation } from '../../frame/situation.ts';
import { defineKind, type Checks, type Step } from '../../frame/stepKind.ts';
import { safeVolumes } from '../ceiling/caseLift.ts';

export interface HandoverSubject {
  channels: ChannelNow[];
}

export interface HandoverFigures {
  /** settings cases whose highest safe volume nobody measured */
  unmeasured: string[];
}

/** The vehicle goes back: what its owner was shown and took along. */
export const handover = defineKind({
  kind: 'handover',
  stage: 'handover',
  title: 'Handover',
  help: 'the highest safe volumes shown to the owner, the sheet signed and in the vehicle',
  plays: 'nothing',
  isOptional: true,
  intakes: [],
  dependsOn: [],
  subjects: (now): HandoverSubject[] => {
    const channels = channelsNow(now);
    return channels.length === 0 ? [] : [{ channels }];
  },
  keyOf: () => 'all',
  words: () => ({ subject: 'the vehicle', where: 'with its owner', rail: 'Handover' }),
  channelsOf: () => [],
  checks: (_step, now) => handoverChecks(now),
  caution: () =>
    'Loud sound harms hearing for good, and a driver who does not hear the road is a danger: show the owner how soft the safe volumes still are. Fuses, cables and covers are as the manuals and local codes ask.',
  judge: judgeHandover,
});

const handoverChecks = once((now: Situation): Checks => {
  const volumes = safeVolumes(now).map(({ settingsCase: { id, name }, step }) => ({ id, name, step }));
  const told = volumes.map(({ name, step }) => `${name} ${step ?? 'not measured'}`).join(', ');
  return {
    items: [
      { id: 'shown', words: 'the owner has seen and heard the highest safe volumes' },
      { id: 'leave-alone', words: 'and was told what to leave alone, and why' },
      { id: 'sheet', words: 'the signed sheet is handed over, its card is in the vehicle' },
      { id: 'as-it-was', words: 'covers, fuses and cables are in place, tools and test leads are out' },
    ],
    basis: basisOf(
      { volumes, setting: heardSetting(now.chain, gainsNow(now)) },
      told === '' ? 'the tune as it was' : `the volumes ${told}`,
    ),
  };
});

function judgeHandover(step: Step<'handover', HandoverSubject>, now: Situation): Judgement<HandoverFigures> {
  const mark = markAt(now, step.id);
  const { items, basis } = handoverChecks(now);
  const counts = mark?.basis === undefined || mark.basis === basis?.key;
  const ticked = new Set(counts ? mark?.checks : []);
  const unmeasured = safeVolumes(now).flatMap(({ settingsCase: { name }, step: volume }) => (volume === undefined ? [name] : []));
  const figures = { unmeasured };
  const findings: Finding[] =
    unmeasured.length === 0
      ? []
      : [
          {
            code: 'volume-unknown',
            grade: 'note',
            figures: { cases: unmeasured },
          },
        ];
  const action = {
    kind: 'tick',
    checks: items.map(({ id }) => id),
    ...(basis === undefined ? {} : { basis: basis.key, basisWords: basis.words }),
  } as const;
  if (!counts && mark.checks.length > 0) {
    const since: Finding = {
      code: 'handed-over-before',
      grade: 'stale',
      figures: {},
      action,
    };
    return { status: 'stale', figures, findings: [since, ...findings], action };
  }
  if (!items.every(({ id }) => ticked.has(id))) return { status: 'open', figures, findings, action };
  return {
    status: 'done',
    figures,
    findings: [{ code: 'handed-over', grade: 'good', figures: {} }, ...findings],
  };
}
