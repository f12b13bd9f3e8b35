import { LONG_SWEEP, SWEEP_FADE_SECOND } from '../tones/sweepSpec.ts';
import { sineTrack, track, type ToneTrack } from '../tones/toneSet.ts';
import type { Situation } from './frame/situation.ts';
import type { RunStep } from './run.ts';

/** A track that a run asks for, and where. */
export interface RunTone {
  track: ToneTrack;
  /** titles of the steps that play it, in the order of the run */
  steps: string[];
}

/** Every tone that a tune's own steps ask for, each at the recorded level that holds there, in the order in which they come up. */
export function tonesOfRun(run: readonly RunStep[], now: Situation): RunTone[] {
  const found = new Map<string, RunTone>();
  for (const step of run) {
    for (const each of tracksOf(step, now)) {
      const known = found.get(each.name);
      if (known === undefined) found.set(each.name, { track: each, steps: [step.title] });
      else if (!known.steps.includes(step.title)) known.steps.push(step.title);
    }
  }
  return [...found.values()];
}

/** What one step plays: its own row of tones, the tone of its conditions, or the sweep that it takes in. */
function tracksOf({ kind, step }: RunStep, now: Situation): ToneTrack[] {
  const conditions = kind.conditions?.(step, now);
  if (kind.plays === 'nothing' || conditions === undefined || conditions.at === 'ohm') return [];
  const { toneLevelDbfs } = conditions;
  const takes = (judged: 'tone' | 'sweep'): boolean => kind.intakes.some((intake) => intake.type === 'capture' && intake.judged === judged);
  const hasReading = kind.intakes.some(({ type }) => type === 'reading');
  const hertz = kind.tonesHz?.(step, now) ?? (hasReading || takes('tone') ? [conditions.toneHz] : []);
  const { fromHertz, toHertz, seconds } = LONG_SWEEP;
  return [
    ...hertz.map((each) => sineTrack(each, toneLevelDbfs)),
    ...(takes('sweep') ? [track({ kind: 'sweep', fromHertz, toHertz }, 0, seconds, SWEEP_FADE_SECOND)] : []),
  ];
}
