import type { FigureTable, FindingCode } from './findings/codes.ts';

export type Grade = 'good' | 'attention' | 'stop' | 'stale' | 'note';

/** A judgement computed from readings or from a plan. Its words follow from code and figures: nothing is ever read out of them. */
export type Finding = { [C in FindingCode]: FindingOf<C> }[FindingCode];

export interface FindingOf<C extends FindingCode> {
  /** what is found, the same whatever the figures: "gain-low" */
  code: C;
  grade: Grade;
  /** what was found, in SI units by name: { differenceDb: -1.2 } */
  figures: FigureTable[C];
  /** what to do, for a program */
  action?: Action;
}

/** Figures of any finding, as they travel. */
export type Figures = Readonly<Record<string, unknown>>;

/** Puts a finding into words, in whatever language: one sentence, and what to do. */
export type Say = (finding: Finding) => { text: string; next?: string | undefined };

/**
 * The next move in figures: somebody who does only what actions say can carry a run to its end.
 *
 * What is read, captured or ticked goes to the step that the action stands at, under the conditions that this step names.
 */
export type Action =
  | { kind: 'read'; reading: string; unit: string }
  | { kind: 'capture'; judged: 'tone' | 'sweep' | 'pulse' }
  | { kind: 'tick'; checks: readonly string[]; basis?: string; basisWords?: string }
  | { kind: 'turn-gain' | 'turn-input' | 'turn-output'; byDb: number; to?: number; unit?: 'V' }
  /** delays channels by so much more, and turns the polarity of channels over: in the chain, and in the processor */
  | { kind: 'align'; addSecond: Readonly<Record<string, number>>; reverse: readonly string[] }
  /** takes a volume over as the one that every gain is set at: these fields of the chain's source */
  | { kind: 'set-volume'; to: number; unit: 'step'; source: Readonly<Record<string, number | string>> }
  /** sets a channel's filters on the gear: in the chain, these fields of the channel */
  | { kind: 'set-filter'; channelId: string; channel: Readonly<Record<string, unknown>> }
  /** wires a channel's coils anew: in the chain, these fields of the channel */
  | { kind: 'rewire'; channelId: string; channel?: Readonly<Record<string, unknown>> }
  /** takes what the coils read as their own winding: in the chain, these fields of the channel */
  | { kind: 'take-winding'; channelId: string; channel: Readonly<Record<string, unknown>> }
  /** something that no figure answers: to be written into the chain, or to be looked at and mended */
  | { kind: 'describe'; what: Ask }
  /** takes back a reading or a capture that cannot be judged */
  | { kind: 'void'; of: 'reading' | 'capture'; id: string }
  | { kind: 'go'; to: string };

/** What an action of the kind "describe" asks for; docs/actions.md says what answers each. */
export const ASKS = [
  'arrivals',
  'chain',
  'distances',
  'dummyOhm',
  'dummyWatt',
  'filters',
  'level-before-amplifier',
  'level-before-processor',
  'pair',
  'power',
  'repair',
  'source',
  'stuck',
  'terminals',
  'tone-shaping',
] as const;
export type Ask = (typeof ASKS)[number];

/** The first finding of a code, with its figures. */
export const findingOf = <C extends FindingCode>(findings: readonly Finding[], code: C): FindingOf<C> | undefined =>
  findings.find((finding) => finding.code === code) as FindingOf<C> | undefined;

/** Whether two findings tell the same: of which channel or reading each was found does not part them. */
export const isSameFinding = (a: Finding | undefined, b: Finding | undefined): boolean =>
  a?.code === b?.code && a?.grade === b?.grade && told(a) === told(b);

const told = (finding: Finding | undefined): string =>
  JSON.stringify(finding?.figures, (key, value: unknown) => (key.endsWith('Id') ? undefined : value));

const SEVERITY: readonly Grade[] = ['stop', 'attention', 'stale', 'good', 'note'];

/** Gravest first; equal ones keep their order. */
export function worstFirst(findings: readonly Finding[]): Finding[] {
  return [...findings].sort((a, b) => SEVERITY.indexOf(a.grade) - SEVERITY.indexOf(b.grade));
}
