import type { Chain, HouseRules, Source } from '../../../job/chain.ts';
import { casesAt, outputsInUse } from '../../../job/source.ts';
import type { SourceOutput } from '../../../source/sourceControls.ts';
import { voltageFactor } from '../../../levels/decibels.ts';
import { once, type Situation } from '../../frame/situation.ts';
import { ceilingTables, type CeilingCurve, type CeilingSubject } from './curves.ts';

/** The lowest ceiling among the used cases of every output in use. */
export interface WorkingVolume {
  step: number;
  limitedBy: CeilingCurve;
  /** every used case of every output has its ceiling */
  complete: boolean;
}

/** Every output of the source in use. */
export const ceilingSubjects = once((now: Situation): CeilingSubject[] =>
  outputsInUse(now.chain).map((output) => ({
    output,
    toneHz: output === 'preamp-sub' ? now.settings.rules.bassToneHz : now.settings.rules.otherToneHz,
    toneLevelDbfs: isOwnOutput(now.chain, output) ? 0 : now.settings.rules.toneLevelDbfs,
  })),
);

/**
 * What the source's own amplifier plays from: no gain makes up behind it for what a softer tone leaves unknown, so its tone is a
 * full-scale one.
 */
export const isOwnOutput = ({ amplifiers }: Pick<Chain, 'amplifiers'>, output: SourceOutput): boolean =>
  output === 'speakers' && amplifiers.some(({ isInSource }) => isInSource === true);

/** The working volume that was found; undefined while there is none. */
export const workingVolume = once((now: Situation): WorkingVolume | undefined => {
  const subjects = ceilingSubjects(now);
  const used = subjects.flatMap((subject) => ceilingTables(now, subject).curves.filter(({ settingsCase }) => settingsCase.used));
  const lowest = lowestOf(used);
  if (lowest?.fullScaleStep === undefined) return undefined;
  const complete = subjects.every(({ output }) =>
    casesAt(now.chain.source, output)
      .filter((c) => c.used)
      .every(({ id }) => used.some((curve) => curve.output === output && curve.settingsCase.id === id && isFound(curve, now.chain))),
  );
  return { step: lowest.fullScaleStep, limitedBy: lowest, complete };
});

/** Found is a ceiling with something dirty above it, or the end of the scale. */
export function isFound({ fullScaleStep, ceiling, rows }: CeilingCurve, { source }: Chain): boolean {
  return fullScaleStep !== undefined && (ceiling?.method !== 'not-reached' || rows.at(-1)?.step === source.volumeSteps);
}

/** The curve with the lowest ceiling; with `sign` −1 the one with the highest. The first of equal ones. */
export function lowestOf(curves: readonly CeilingCurve[], sign: 1 | -1 = 1): CeilingCurve | undefined {
  let lowest: CeilingCurve | undefined;
  for (const curve of curves) {
    const step = curve.fullScaleStep;
    if (step !== undefined && (lowest?.fullScaleStep === undefined || sign * step < sign * lowest.fullScaleStep)) lowest = curve;
  }
  return lowest;
}

/** What becomes of the source with the working volume that was found. */
export type FoundVolume = Pick<Source, 'workingVolume' | 'volumeBasis' | 'outputVolt' | 'ceilingVolt'>;

/**
 * The working volume that was found, with a full-scale tone's voltage there, at the output that feeds the amplifiers, flat, and
 * the highest clean one.
 */
export const foundVolume = once((now: Situation): FoundVolume | undefined => {
  const working = workingVolume(now);
  if (working === undefined) return undefined;
  const first = ceilingSubjects(now)[0];
  const flat = first === undefined ? undefined : ceilingTables(now, first).curves.find(({ settingsCase }) => settingsCase.used);
  const volt = flat?.rows.find(({ step }) => step === working.step)?.voltageRms;
  const ceilingVolt = flat?.ceiling?.voltageAtCeiling;
  return {
    workingVolume: working.step,
    volumeBasis: 'measured',
    ...(flat === undefined || volt === undefined ? {} : { outputVolt: volt * voltageFactor(-flat.toneLevelDbfs) }),
    ...(ceilingVolt === undefined ? {} : { ceilingVolt }),
  };
});

/** The highest step that gives at least so many decibels less than the working volume; undefined where no table tells. */
export function volumeBelow(now: Situation, byDb: number): FoundVolume | undefined {
  const { workingVolume: present } = now.chain.source;
  const first = ceilingSubjects(now)[0];
  const flat = first === undefined ? undefined : ceilingTables(now, first).curves.find(({ settingsCase }) => settingsCase.used);
  const rows = flat?.rows ?? [];
  const volt = rows.find(({ step }) => step === present)?.voltageRms;
  if (volt === undefined) return undefined;
  const lower = rows.findLast(
    ({ step, voltageRms }) => step < present && voltageRms !== undefined && voltageRms <= volt / voltageFactor(byDb),
  );
  if (flat === undefined || lower?.voltageRms === undefined) return undefined;
  return { workingVolume: lower.step, volumeBasis: 'measured', outputVolt: lower.voltageRms * voltageFactor(-flat.toneLevelDbfs) };
}

/** The chain with that volume; its figures of before go with the volume of before. */
export function withWorkingVolume(now: Situation): Chain | undefined {
  const found = foundVolume(now);
  if (found === undefined) return undefined;
  const { outputVolt: _outputVolt, ceilingVolt: _ceilingVolt, ...source } = now.chain.source;
  return { ...now.chain, source: { ...source, ...found } };
}

export const DEFAULT_ASSUMED_PERCENT = 75;

/** A volume for a source that cannot be measured: a share of its scale, and marked as such. */
export function assumedVolume(chain: Chain, rules: HouseRules): number {
  return Math.max(1, Math.floor((chain.source.volumeSteps * (rules.assumedVolumePercent ?? DEFAULT_ASSUMED_PERCENT)) / 100));
}
