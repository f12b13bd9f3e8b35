import type { KindId } from '../frame/kindIds.ts';
import type { CaptureIntake, ReadingIntake, StepKind } from '../frame/stepKind.ts';
import { bandwidth } from './bandwidth/kind.ts';
import { blend } from './blend/kind.ts';
import { box } from './box/kind.ts';
import { ceiling } from './ceiling/kind.ts';
import { coils } from './coils/kind.ts';
import { crossover } from './crossover/kind.ts';
import { delay } from './delay/kind.ts';
import { factory } from './factory/kind.ts';
import { feed } from './feed/kind.ts';
import { filters } from './filters/kind.ts';
import { flat } from './flat/kind.ts';
import { gain } from './gain/kind.ts';
import { handover } from './handover/kind.ts';
import { hookup } from './hookup/kind.ts';
import { input } from './input/kind.ts';
import { listening } from './listening/kind.ts';
import { loadPair } from './loadPair/kind.ts';
import { output } from './output/kind.ts';
import { meeting } from './meeting/kind.ts';
import { polarity } from './polarity/kind.ts';
import { proof } from './proof/kind.ts';
import { response } from './response/kind.ts';
import { whole } from './whole/kind.ts';

/** Every kind of step that there is; kinds of one stage in the order in which they come. */
export const KINDS = [
  coils,
  box,
  whole,
  hookup,
  flat,
  ceiling,
  factory,
  feed,
  input,
  output,
  filters,
  crossover,
  gain,
  proof,
  bandwidth,
  loadPair,
  polarity,
  delay,
  meeting,
  response,
  blend,
  listening,
  handover,
] as const;

export type { KindId };
type Registered = (typeof KINDS)[number]['kind'];
/** The names and the registry are the same list: a kind that only one of them has does not compile. */
export const KINDS_ARE_NAMED: [Exclude<KindId, Registered>, Exclude<Registered, KindId>] extends [never, never] ? true : false = true;
type KindOf<K extends KindId> = Extract<(typeof KINDS)[number], { kind: K }>;
export type SubjectOf<K extends KindId> = ReturnType<KindOf<K>['subjects']>[number];
export type FiguresOf<K extends KindId> = ReturnType<KindOf<K>['judge']>['figures'];
export type StepOf<K extends KindId> = K extends KindId ? SubjectOf<K> & { id: string; kind: K } : never;

/** A step's id, for validation at the door. */
export const stepIdPattern = (kinds: readonly StepKind[] = KINDS): string =>
  `^(${kinds.map(({ kind }) => kind).join('|')}):[A-Za-z0-9-]{1,64}$`;

/** Every kind of reading that some kind of step takes in. */
export const readingIntakes = (kinds: readonly StepKind[] = KINDS): ReadingIntake[] =>
  kinds.flatMap(({ intakes }) => intakes.filter((intake) => intake.type === 'reading'));

/** The kind of a step, by the step's id; undefined where there is none such. */
export const kindOfStep = (stepId: string, kinds: readonly StepKind[] = KINDS): StepKind | undefined =>
  kinds.find(({ kind }) => stepId.startsWith(`${kind}:`));

/** What a step takes in as a capture; undefined where it takes none. */
export const captureIntake = (stepId: string, kinds: readonly StepKind[] = KINDS): CaptureIntake | undefined =>
  kindOfStep(stepId, kinds)?.intakes.find((intake) => intake.type === 'capture');

/** Whether a step takes in readings of a kind. */
export const takesReading = (stepId: string, readingKind: string, kinds: readonly StepKind[] = KINDS): boolean =>
  kindOfStep(stepId, kinds)?.intakes.some((intake) => intake.type === 'reading' && intake.kind === readingKind) === true;
