import type { FindingCode } from '../../findings/codes.ts';
import type { Basis } from '../../job/basis.ts';
import type { At, Conditions } from '../../job/conditions.ts';
import type { LikelySize } from '../../units/sizeSense.ts';
import type { ChannelNow } from './channels.ts';
import type { Judgement } from './judgement.ts';
import type { QuantityKind } from '../../job/quantityKind.ts';
import type { Situation } from './situation.ts';
import type { StageId } from './stages.ts';
import type { ConditionKey } from './staleness.ts';

/** What a step lets sound: nothing, a tone at line level, a tone into a load, or drivers in the air. */
export type Plays = 'nothing' | 'line' | 'load' | 'air';

/** What a step takes in. */
export type Intake = ReadingIntake | CaptureIntake;

export interface ReadingIntake {
  type: 'reading';
  /** its name in the records, of this kind of step alone */
  kind: string;
  unit: 'V' | 'A' | 'ohm' | 'dB';
  at: At;
  /** beside the figure in the log */
  words: string;
}

export interface CaptureIntake {
  type: 'capture';
  at: Exclude<At, 'ohm'>;
  judged: 'tone' | 'sweep' | 'pulse';
}

export interface Check {
  id: string;
  words: string;
  /** where on the gear: the click and switch, or that a figure is typed */
  how?: string;
}

/** What is seen to at a step, and what the ticks stand for; without a basis they stand for the step whatever changes. */
export interface Checks {
  items: readonly Check[];
  basis?: Basis;
}

export interface StepWords {
  /** what it is about: a channel, an input or an output */
  subject: string;
  /** where the hands are */
  where: string;
  /** in the rail, where it is not the subject */
  rail?: string;
}

export interface StepTarget {
  value: number;
  unit: 'V' | 'ohm';
}

/** One thing to set, measure and judge: what it is about, with its id. */
export type Step<K extends string = string, S extends object = object> = S & { id: string; kind: K };

/**
 * One kind of step: everything that the run, the screens, the records and the HTTP interface know of it.
 *
 * Functions take the situation and return plain data; what several of them need is worked out with `once`.
 */
export interface StepKind<K extends string = string, S extends object = object, F = unknown> {
  kind: K;
  /** where in the run it stands; kinds of one stage follow each other in the order of the registry */
  stage: StageId;
  title: string;
  /** in the rail behind the subject, where a stage has several kinds */
  part?: string;
  /** one sentence for the help */
  help: string;
  /** every gate follows from it: filters looked at, bare tweeters, loads that are too low, ears, how low a tone begins */
  plays: Plays;
  /** whether a load is connected here: not done while it is too low, though nothing plays */
  connects?: boolean;
  /** worth doing, and missed by nobody who leaves it open */
  isOptional?: boolean;
  /** whether anything was done here, where that is seen neither in readings and captures nor in ticks */
  isBegun?(step: Step<K, S>, now: Situation): boolean;
  intakes: readonly Intake[];
  /** what its readings stand on: change one, and they are stale */
  dependsOn: readonly ConditionKey[];
  subjects(now: Situation): readonly S[];
  /** the second half of its id; letters, digits and hyphens */
  keyOf(subject: S): string;
  words(subject: S, now: Situation): StepWords;
  /** the channels that hear what is played here, or whose load hangs here */
  channelsOf(subject: S): readonly ChannelNow[];
  checks?(step: Step<K, S>, now: Situation): Checks;
  /** under which the next reading or capture is taken; left out where it takes in nothing */
  conditions?(step: Step<K, S>, now: Situation): Conditions;
  /** the tones that it plays one after the other, where they are more than the one of its conditions */
  tonesHz?(step: Step<K, S>, now: Situation): readonly number[];
  target?(step: Step<K, S>, now: Situation): StepTarget | undefined;
  /** where a figure is likely to lie: one out of all proportion is asked about before it is written down. @param reading - which intake */
  likely?(step: Step<K, S>, now: Situation, reading: string): LikelySize | undefined;
  /** what can hurt somebody here, beyond what the frame says of everything that plays this way */
  caution?(step: Step<K, S>, now: Situation): string;
  /** which quantity a finding denies: while a step is not right because of it, nothing that stands on that quantity is done */
  speaksOf?: Partial<Record<FindingCode, QuantityKind>>;
  /** quantities that what is done here rests on, beyond those that it speaks of */
  standsOn?: readonly QuantityKind[];
  /** the processor's output that a step is about, where it is about one */
  outputIdOf?(subject: S): string;
  judge(step: Step<K, S>, now: Situation): Judgement<F>;
}

/** The kind as it was written, with its types; what is missing does not compile. */
export const defineKind = <K extends string, S extends object, F>(kind: StepKind<K, S, F>): StepKind<K, S, F> => kind;

/** The steps of one kind that a situation calls for. */
export const stepsOfKind = <K extends string, S extends object>(kind: StepKind<K, S>, now: Situation): Step<K, S>[] =>
  kind.subjects(now).map((subject) => ({ ...subject, id: `${kind.kind}:${kind.keyOf(subject)}`, kind: kind.kind }));
