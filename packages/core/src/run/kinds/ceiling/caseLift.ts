import type { SettingsCase } from '../../../job/chain.ts';
import { casesAt } from '../../../job/source.ts';
import { voltageRatioDb } from '../../../levels/decibels.ts';
import type { SourceOutput } from '../../../source/sourceControls.ts';
import { once, onceEach, type Situation } from '../../frame/situation.ts';
import { ceilingTables, type CeilingCurve } from './curves.ts';
import { ceilingSubjects } from './workingVolume.ts';

/** The likely way to set the source that drives everything after it the hardest. */
export interface HottestCase {
  settingsCase: SettingsCase;
  /** against flat at one volume, in decibels, as its table shows; left out where it was not measured there */
  liftDb?: number;
  /** the highest volume at which it gives no more than flat does at the working volume */
  safeStep?: number;
}

/** Less than this nobody sets a level anew for. */
const NOTABLE_LIFT_DB = 0.3;

/** The used case that lifts an output most; undefined where flat alone is used, or none lifts it. */
export const hottestCase = onceEach(
  (output: SourceOutput) => output,
  (now, output): HottestCase | undefined => {
    const subject = ceilingSubjects(now).find((each) => each.output === output);
    if (subject === undefined) return undefined;
    const { source } = now.chain;
    const { curves } = ceilingTables(now, subject);
    const flat = curves.find(({ settingsCase, toneHz }) => isFlat(settingsCase) && toneHz === subject.toneHz);
    const lifting = casesAt(source, output).filter((each) => each.used && !isFlat(each));
    const known = lifting.map((settingsCase): HottestCase => {
      const curve = curves.find((each) => each.settingsCase.id === settingsCase.id && each.toneHz === subject.toneHz);
      const liftDb = flat === undefined || curve === undefined ? undefined : liftOf(flat, curve);
      const safeStep = flat === undefined || curve === undefined ? undefined : safeStepOf(flat, curve, source.workingVolume);
      return { settingsCase, ...(liftDb === undefined ? {} : { liftDb }), ...(safeStep === undefined ? {} : { safeStep }) };
    });
    const measured = known.filter(({ liftDb }) => liftDb !== undefined && liftDb > NOTABLE_LIFT_DB);
    const hottest = [...measured].sort((a, b) => (b.liftDb ?? 0) - (a.liftDb ?? 0))[0];
    // One that raises the bass and was not measured is held to be hot until its table says how much.
    return hottest ?? known.find(({ settingsCase, liftDb }) => liftDb === undefined && settingsCase.bassRaised === true);
  },
);

const isFlat = ({ subNotches, bassRaised }: SettingsCase): boolean => subNotches === undefined && bassRaised !== true;

/** Lift at the lowest step that both tables have, where neither clips yet. */
function liftOf(flat: CeilingCurve, curve: CeilingCurve): number | undefined {
  for (const { step, voltageRms } of curve.rows) {
    const below = flat.rows.find((row) => row.step === step)?.voltageRms;
    if (voltageRms !== undefined && voltageRms > 0 && below !== undefined && below > 0) return voltageRatioDb(voltageRms, below);
  }
  return undefined;
}

function safeStepOf(flat: CeilingCurve, curve: CeilingCurve, workingVolume: number): number | undefined {
  const most = flat.rows.find(({ step }) => step === workingVolume)?.voltageRms;
  if (most === undefined) return undefined;
  return curve.rows.findLast(({ voltageRms }) => voltageRms !== undefined && voltageRms <= most * 1.01)?.step;
}

/** Up to which volume one way to set the source is safe for everything after it. */
export interface SafeVolume {
  settingsCase: SettingsCase;
  /** the highest safe step; left out where it was not measured */
  step?: number;
  basis: 'measured' | 'assumed' | 'unknown';
}

/**
 * The highest safe volume of every way the source is likely to be set: where it gives no more than flat does at the working volume, at
 * every output; gains are set there, and anything hotter clips an amplifier. Flat itself is safe up to the working volume.
 */
export const safeVolumes = once((now: Situation): SafeVolume[] => {
  const { source } = now.chain;
  const outputs = ceilingSubjects(now);
  const all = new Map(outputs.flatMap(({ output }) => casesAt(source, output).filter(({ used }) => used)).map((each) => [each.id, each]));
  return [...all.values()].map((settingsCase): SafeVolume => {
    if (isFlat(settingsCase)) {
      // A table that says otherwise counts for more than a volume that was assumed, or set before it.
      const clean = outputs.flatMap((subject) => {
        const curve = ceilingTables(now, subject).curves.find((each) => isFlat(each.settingsCase) && each.toneHz === subject.toneHz);
        return curve?.fullScaleStep ?? [];
      });
      const step = Math.min(source.workingVolume, ...clean);
      return { settingsCase, step, basis: source.volumeBasis === 'assumed' && clean.length === 0 ? 'assumed' : 'measured' };
    }
    const steps = outputs
      .filter(({ output }) => casesAt(source, output).some(({ id, used }) => used && id === settingsCase.id))
      .map((subject) => {
        const { curves } = ceilingTables(now, subject);
        const at = (wanted: (each: SettingsCase) => boolean): CeilingCurve | undefined =>
          curves.find((curve) => wanted(curve.settingsCase) && curve.toneHz === subject.toneHz);
        const [flat, curve] = [at(isFlat), at(({ id }) => id === settingsCase.id)];
        const even = flat === undefined || curve === undefined ? undefined : safeStepOf(flat, curve, source.workingVolume);
        // Never over what the source itself makes clean in that setting.
        return even === undefined ? undefined : Math.min(even, curve?.fullScaleStep ?? even);
      });
    // One output that was not measured leaves the whole case open.
    if (steps.length === 0 || steps.some((step) => step === undefined)) return { settingsCase, basis: 'unknown' };
    return { settingsCase, step: Math.min(source.workingVolume, ...(steps as number[])), basis: 'measured' };
  });
});
