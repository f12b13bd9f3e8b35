import type { Action, Finding } from '../../../findings.ts';
import type { AirConditions } from '../../../job/conditions.ts';
import type { Reading } from '../../../job/records.ts';
import {
  alignNeighbours,
  meanLossDb,
  type NeighbourAlignment,
  type NeighbourSetting,
  type NeighbourTone,
  type NeighbourTrial,
} from '../../../phase/alignNeighbours.ts';
import { relativePhase, type RelativePhase } from '../../../phase/relativePhase.ts';
import { fixed } from '../../../units/formatQuantity.ts';
import { groupName, type AlikeGroups } from '../../../ways/driverGroups.ts';
import { staleFinding, type Judgement } from '../../frame/judgement.ts';
import { readingsAt, type Situation } from '../../frame/situation.ts';
import { staleReasons } from '../../frame/staleness.ts';
import { USUAL_DELAY_STEP_SECOND } from '../delay/kind.ts';
import { LEVEL_STANDS_ON, meetingConditions, meetingSetting, type MeetingStep, type MeetingSubject } from './subject.ts';

type Part = 'level-lower' | 'level-upper' | 'level-both';
const PARTS = ['level-lower', 'level-upper', 'level-both'] as const satisfies readonly Part[];
type AirReading = Reading<AirConditions>;

/** One tone of two neighbours, as far as it was measured. */
export interface MeetingTone {
  hertz: number;
  lowerDb?: number;
  upperDb?: number;
  bothDb?: number;
  /** where all three are known */
  phase?: RelativePhase;
}

export interface MeetingFigures {
  tones: MeetingTone[];
  setting: NeighbourSetting;
  /** settings that were measured whole, oldest first, with what they lose on average against being in phase */
  trials: { setting: NeighbourSetting; lossDb: number }[];
  alignment?: NeighbourAlignment;
  /** what the step asks to be set: an earlier one that was better, or one to try */
  wanted?: NeighbourSetting;
}

/** So little lost is as good as together: a sound meter tells no less. */
const TOGETHER_DB = -0.6;
/** What another trial must promise to be worth it. */
const WORTH_DB = 0.3;
/** Further apart at the corner, a phase hardly changes the sum. Common practice, no source. */
const MAX_APART_DB = 12;
/** After so many trials the best one is kept. */
const MAX_TRIALS = 6;

/** The newest level of a part at a tone; a level of both is one of the present delay and polarity. */
function levelAt(step: MeetingStep, now: Situation, part: Part, hertz: number, setting?: NeighbourSetting): AirReading | undefined {
  const own = readingsAt(now, step.id, part, 'air').filter(({ conditions }) => conditions.toneHz === hertz);
  if (own.length === 0) return undefined;
  const present = meetingConditions(step, now, hertz);
  return own.findLast(
    ({ conditions }) =>
      staleReasons(LEVEL_STANDS_ON, conditions, present).length === 0 &&
      conditions.meeting?.filters === present.meeting?.filters &&
      (setting === undefined || isSame(conditions.meeting, setting)),
  );
}

const isSame = (one: NeighbourSetting | undefined, other: NeighbourSetting): boolean =>
  one !== undefined && Math.abs(one.delaySecond - other.delaySecond) < 1e-6 && one.isReversed === other.isReversed;

/** What is to be read next: one part at all tones, so that as little as can be is muted and unmuted. */
export function nextLevel(step: MeetingStep, now: Situation): { part: Part; hertz: number } | undefined {
  const setting = meetingSetting(step, now);
  for (const part of PARTS) {
    for (const { hertz } of step.tones) {
      if (levelAt(step, now, part, hertz, part === 'level-both' ? setting : undefined) === undefined) return { part, hertz };
    }
  }
  return undefined;
}

/** Whether two neighbours add where they meet, and what to try where they do not. */
export function judgeMeeting(step: MeetingStep, now: Situation): Judgement<MeetingFigures> {
  const setting = meetingSetting(step, now);
  const tones = step.tones.map(({ hertz }): MeetingTone => {
    const value = (part: Part): number | undefined => levelAt(step, now, part, hertz, part === 'level-both' ? setting : undefined)?.value;
    const [lowerDb, upperDb, bothDb] = [value('level-lower'), value('level-upper'), value('level-both')];
    const isWhole = lowerDb !== undefined && upperDb !== undefined && bothDb !== undefined;
    return {
      hertz,
      ...(lowerDb === undefined ? {} : { lowerDb }),
      ...(upperDb === undefined ? {} : { upperDb }),
      ...(bothDb === undefined ? {} : { bothDb }),
      ...(isWhole ? { phase: relativePhase({ levelADb: lowerDb, levelBDb: upperDb, levelBothDb: bothDb }) } : {}),
    };
  });
  const next = nextLevel(step, now);
  const known = wholeTones(step, tones);
  const trials = known === undefined ? [] : trialsOf(step, now, known);
  const figures: MeetingFigures = {
    tones,
    setting,
    trials: trials.map((trial) => ({ setting: trial.setting, lossDb: meanLossDb(known!, trial.bothDb) })),
  };
  const odd = tones.find(({ phase }) => phase?.possible === false);
  if (odd !== undefined) {
    const finding: Finding = {
      code: 'levels-contradict',
      grade: 'attention',
      figures: { hertz: odd.hertz, advice: odd.phase!.advice },
    };
    return { status: 'out-of-tolerance', figures, findings: [finding], action: readAction('level-both') };
  }
  const apart = apartFinding(tones[Math.floor(tones.length / 2)]!, namesOf(step));
  if (apart !== undefined) return { status: 'out-of-tolerance', figures, findings: [apart], action: readAction('level-lower') };
  if (next !== undefined) {
    // Something was measured, and nothing of it speaks of the crossover as it is.
    const isOld =
      PARTS.some((part) => readingsAt(now, step.id, part, 'air').length > 0) &&
      tones.every(({ lowerDb, upperDb }) => lowerDb === undefined && upperDb === undefined);
    const findings = isOld ? [staleFinding('What was measured', ['volume, filters or source changed since'], 'Read all three again.')] : [];
    return { status: isOld ? 'stale' : 'open', figures, findings, action: readAction(next.part) };
  }
  const { stepSecond = USUAL_DELAY_STEP_SECOND, longestSecond } = now.chain.listening ?? {};
  // The present one last: it is what is compared with.
  const inOrder = [
    ...trials.filter((trial) => !isSame(trial.setting, setting)),
    ...trials.filter((trial) => isSame(trial.setting, setting)),
  ];
  const alignment = alignNeighbours(known!, inOrder, { stepSecond, ...(longestSecond === undefined ? {} : { longestSecond }) });
  const all = { ...figures, alignment };
  const lossDb = meanLossDb(known!, inOrder.at(-1)!.bothDb);
  const best = figures.trials.reduce((a, b) => (b.lossDb > a.lossDb ? b : a));
  const names = namesOf(step);
  if (best.lossDb > lossDb + WORTH_DB) {
    return off(
      { ...all, wanted: best.setting },
      {
        code: 'earlier-was-better',
        grade: 'attention',
        figures: { lossDb, bestDb: best.lossDb, setting: neighbourSettingWords(best.setting, names) },
        action: alignAction(step, now, best.setting),
      },
    );
  }
  const isTried = figures.trials.some((trial) => isNear(trial.setting, alignment.best));
  const promisesDb = alignment.bestLossDb - lossDb;
  if (lossDb < TOGETHER_DB && !isTried && promisesDb > WORTH_DB && trials.length < MAX_TRIALS) {
    return off(
      { ...all, wanted: alignment.best },
      {
        code: 'not-together',
        grade: 'attention',
        figures: {
          lossDb,
          promisesDb,
          delaySecond: alignment.best.delaySecond,
          isReversed: alignment.best.isReversed,
          setting: neighbourSettingWords(alignment.best, names),
        },
        action: alignAction(step, now, alignment.best),
      },
    );
  }
  return {
    status: 'done',
    figures: all,
    findings: [
      lossDb >= TOGETHER_DB
        ? {
            code: 'together',
            grade: 'good',
            figures: { lossDb },
          }
        : {
            code: 'best-of-trials',
            grade: 'note',
            figures: { lossDb, trials: trials.length },
          },
    ],
  };
}

/**
 * At the corner the two are about as loud as each other. Far from that they add to the louder one whatever their phase: it would look like
 * nothing lost, and a slipped digit or a way that is muted would be called good.
 */
function apartFinding({ hertz, lowerDb, upperDb }: MeetingTone, { lower, upper }: Names): Finding | undefined {
  if (lowerDb === undefined || upperDb === undefined) return undefined;
  const apartDb = Math.abs(lowerDb - upperDb);
  if (apartDb <= MAX_APART_DB) return undefined;
  return {
    code: 'levels-apart',
    grade: 'attention',
    figures: { hertz, apartDb, lower, upper },
  };
}

const off = (figures: MeetingFigures, finding: Finding): Judgement<MeetingFigures> => ({
  status: 'out-of-tolerance',
  figures,
  findings: [finding],
  ...(finding.action === undefined ? {} : { action: finding.action }),
});

const readAction = (reading: Part): Action => ({ kind: 'read', reading, unit: 'dB' });

/** Nearer than this two delays are one trial. */
const isNear = (one: NeighbourSetting, other: NeighbourSetting): boolean =>
  one.isReversed === other.isReversed && Math.abs(one.delaySecond - other.delaySecond) < 0.000_1;

/** Each alone, at every tone; undefined while something is missing. */
function wholeTones({ tones }: MeetingStep, measured: readonly MeetingTone[]): NeighbourTone[] | undefined {
  const whole = measured.flatMap(({ hertz, lowerDb, upperDb }, i) =>
    lowerDb === undefined || upperDb === undefined ? [] : [{ hertz, lowerDb, upperDb, filterPhaseDeg: tones[i]!.filterPhaseDeg }],
  );
  return whole.length === tones.length ? whole : undefined;
}

/** Every setting whose levels of both are whole, in the order in which they were finished. */
function trialsOf(step: MeetingStep, now: Situation, tones: readonly NeighbourTone[]): NeighbourTrial[] {
  const settings: NeighbourSetting[] = [];
  for (const { conditions } of readingsAt(now, step.id, 'level-both', 'air')) {
    const { meeting: setting } = conditions;
    if (setting !== undefined && !settings.some((each) => isSame(each, setting)))
      settings.push({ delaySecond: setting.delaySecond, isReversed: setting.isReversed });
  }
  return settings.flatMap((setting) => {
    const both = tones.map(({ hertz }) => levelAt(step, now, 'level-both', hertz, setting)?.value);
    return both.every((each) => each !== undefined) ? [{ setting, bothDb: both }] : [];
  });
}

interface Names {
  lower: string;
  upper: string;
}
const namesOf = ({ lower, upper }: { lower: AlikeGroups; upper: AlikeGroups }): Names => ({
  lower: groupName(lower),
  upper: groupName(upper),
});

/** A delay and a polarity in words: who waits, by how long, and who is turned over. */
export function neighbourSettingWords({ delaySecond, isReversed }: NeighbourSetting, { lower, upper }: Names): string {
  const [waits, second] = delaySecond >= 0 ? [lower, delaySecond] : [upper, -delaySecond];
  const delay = second < 5e-7 ? 'no delay between them' : `${waits} ${fixed(second * 1000, 2)} ms (${fixed(second * 34_300, 0)} cm) later`;
  return `${delay}, ${isReversed ? `${lower} reversed` : 'neither reversed'}`;
}

/** What the chain has to hold so that the two stand like this. */
export function alignAction(step: MeetingSubject, now: Situation, wanted: NeighbourSetting): Extract<Action, { kind: 'align' }> {
  const present = meetingSetting(step, now);
  const bySecond = wanted.delaySecond - present.delaySecond;
  const late = bySecond >= 0 ? step.lower : step.upper;
  const trims = Object.fromEntries(late.members.map(({ channel }) => [channel.id, Math.abs(bySecond)]));
  const reversed = wanted.isReversed === present.isReversed ? [] : step.lower.members.map(({ channel }) => channel.id);
  return { kind: 'align', addSecond: trims, reverse: reversed };
}
