import type { SettingsCase } from '../../../job/chain.ts';
import { casesAt } from '../../../job/source.ts';
import { voltageRatioDb } from '../../../levels/decibels.ts';
import type { SourceOutput } from '../../../source/sourceControls.ts';
import { onceEach } from '../../frame/situation.ts';
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
