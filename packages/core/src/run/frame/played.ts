import type { AirConditions, LineConditions, PlayedConditions, SourceSettings } from '../../job/conditions.ts';
import { sourceControls, sourceIdOf, toneInput } from '../../job/source.ts';
import { markAt, once, stepId, type Situation } from './situation.ts';

/** How the controls stand at the input that plays the tones, by its Flat list; undefined where nothing was ticked. */
export const sourceSettingsNow = once((now: Situation): SourceSettings | undefined => {
  const { source } = now.chain;
  const mark = markAt(now, stepId('flat', toneInput(source)));
  if (mark === undefined || mark.checks.length === 0) return undefined;
  return Object.fromEntries(
    sourceControls(source).flatMap(({ id, neutral }) => (mark.checks.includes(id) ? [[id, mark.values?.[id] ?? neutral]] : [])),
  );
});

/** What of the tone and the source every condition carries, at the working volume. */
export function playedNow(now: Situation, toneHz: number, toneLevelDbfs = now.settings.rules.toneLevelDbfs): PlayedConditions {
  const { source } = now.chain;
  const sourceSettings = sourceSettingsNow(now);
  return {
    toneHz,
    toneLevelDbfs,
    sourceId: sourceIdOf(source),
    sourceName: source.name,
    sourceVolume: source.workingVolume,
    sourceInput: toneInput(source),
    ...(sourceSettings === undefined ? {} : { sourceSettings }),
  };
}

/** The conditions under which the source's or the processor's output is looked at now, at the working volume. */
export const lineConditions = (now: Situation, toneHz: number, toneLevelDbfs?: number): LineConditions => ({
  at: 'line',
  ...playedNow(now, toneHz, toneLevelDbfs),
});

/** The conditions under which something is heard at the listener's head now. */
export const airConditions = (now: Situation, toneHz: number): AirConditions => ({
  at: 'air',
  ...playedNow(now, toneHz),
  position: 'listener’s head',
});
