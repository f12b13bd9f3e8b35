import type { ChannelNow } from './channels.ts';
import type { Gate } from './gate.ts';
import type { Judgement } from './judgement.ts';
import type { Checks, Step, StepKind, StepWords } from './stepKind.ts';

/** One step of a run, with everything that is told of it. */
export interface RunStep {
  id: string;
  kind: StepKind;
  step: Step;
  /** "Gain: Front left" */
  title: string;
  words: StepWords;
  gate: Gate;
  state: Judgement;
  checks?: Checks;
  caution?: string;
  /** the channels that it is about */
  channels: readonly ChannelNow[];
  /** an optional step counts once something was measured there */
  isCounted: boolean;
  /** nothing is left to do: done, skipped, or not counted */
  isSettled: boolean;
  /** its own view cannot be shown: it could not be worked out at all, and why */
  fault?: string;
}
