import { checkNumbers, CoreError, type Fault } from '../coreError.ts';
import { voltageRatioDb } from '../levels/decibels.ts';
import { compressedFrom, USUAL_COMPRESSION_DB, type MeasuredStep } from './compression.ts';

/** What a scope's picture looked like, where no capture was judged. */
export type EyeVerdict = 'clean' | 'fuzzy' | 'clipped';

/** One row of a volume table: what the output showed at a step of the volume. */
export interface VolumeStep {
  step: number;
  /** RMS of the tone; may be left out where the step was judged otherwise */
  voltageRms?: number;
  /** where a capture was judged */
  thdPercent?: number;
  /** where a picture was looked at; fuzzy counts as dirty */
  eye?: EyeVerdict;
  /** read more than once, and alike: an uneven control, no slip */
  isRepeated?: boolean;
}

export interface SourceCeilingInput {
  steps: VolumeStep[];
  limitThdPercent?: number;
  /** so much less growth than the steps before is compression */
  compressionDb?: number;
}

export interface SourceCeiling {
  /** left out where the first step is dirty already */
  maxCleanStep?: number;
  /** left out where none is */
  firstDirtyStep?: number;
  method: 'distortion' | 'eye' | 'compression' | 'not-reached';
  /** RMS at the highest clean step */
  voltageAtCeiling?: number;
  /** a step at which the voltage stood still, though it goes on growing above: no source does that, so that a reading is wrong */
  contradictsAt?: number;
  warnings: string[];
}

export const DEFAULT_LIMIT_THD_PERCENT = 1;

/**
 * How far the volume may go before the output is dirty.
 *
 * With distortion figures: the last step known or implied clean before the first over the limit. With pictures judged by eye: the
 * same, or the voltage's own answer where that is lower, since flat tops are seen late. With voltages alone: the step before the
 * voltage stops growing as its own earlier steps did.
 *
 * @throws {CoreError} `INPUT_INVALID` for no steps, a step that is no whole number, a voltage not above 0, a step with nothing known
 * @example sourceCeiling({ steps: [{ step: 1, voltageRms: 1, thdPercent: 0.1 }, { step: 2, voltageRms: 1.2, thdPercent: 3 }] }).maxCleanStep // 1
 */
export function sourceCeiling(input: SourceCeilingInput): SourceCeiling {
  checkInput(input);
  const { limitThdPercent = DEFAULT_LIMIT_THD_PERCENT, compressionDb = USUAL_COMPRESSION_DB } = input;
  const { steps, warnings } = inOrder(input.steps);
  const captured = steps.some(({ thdPercent }) => thdPercent !== undefined);
  if (captured)
    return ceilingOf(
      steps,
      steps.findIndex((row) => isDirty(row, limitThdPercent)),
      'distortion',
      warnings,
    );

  const measured = steps.filter(({ voltageRms }) => voltageRms !== undefined);
  const bent = measured[compressedFrom(measured as MeasuredStep[], compressionDb)];
  const goesOn = bent !== undefined && growsOnAfter(measured as MeasuredStep[], measured.indexOf(bent));
  // Seen clean there, or read twice alike, it is the control that is uneven, not the source that gives way.
  const isUneven = goesOn && (bent.eye === 'clean' || bent.isRepeated === true);
  const bentIndex = bent === undefined || isUneven ? -1 : steps.indexOf(bent);
  const seenIndex = steps.findIndex((row) => isDirty(row, limitThdPercent));
  const seen = steps.some(({ eye }) => eye !== undefined);
  if (!seen && steps.length < 4) warnings.push('Under four steps say little of how the volume control grows: take more, or captures.');
  if (seenIndex !== -1 && (bentIndex === -1 || seenIndex <= bentIndex)) return ceilingOf(steps, seenIndex, 'eye', warnings);
  if (seen && bentIndex !== -1) {
    warnings.push(`By eye it was clean beyond step ${steps[bentIndex]!.step}, but the voltage stops rising there, so the voltage decides.`);
  }
  if (isUneven) warnings.push(`The voltage barely rises at step ${bent.step} but keeps rising above: an uneven control, confirmed clean.`);
  else if (goesOn)
    warnings.push(`The voltage barely rises at step ${bent.step} but keeps rising above: one reading is wrong, or the control is uneven.`);
  const ceiling = ceilingOf(steps, bentIndex, 'compression', warnings);
  return goesOn && !isUneven ? { ...ceiling, contradictsAt: bent.step } : ceiling;
}

/** So much of its earlier growth a step never has beyond a ceiling. */
const GROWS_ON_SHARE = 0.8;
const MIN_GROWTH_DB = 0.8;

/** Whether a table that stood still at a step goes on growing above it as it did below. */
function growsOnAfter(steps: readonly MeasuredStep[], bent: number): boolean {
  const growth = (i: number): number =>
    voltageRatioDb(steps[i]!.voltageRms, steps[i - 1]!.voltageRms) / Math.max(1, steps[i]!.step - steps[i - 1]!.step);
  const before = steps.flatMap((_, i) => (i > 0 && i < bent ? [growth(i)] : [])).sort((a, b) => a - b);
  const usual = before[Math.floor(before.length / 2)] ?? MIN_GROWTH_DB;
  return steps.some((_, i) => i > bent && growth(i) > Math.max(MIN_GROWTH_DB, GROWS_ON_SHARE * usual));
}

const isJudged = ({ thdPercent, eye }: VolumeStep): boolean => thdPercent !== undefined || eye !== undefined;

function isDirty({ thdPercent, eye }: VolumeStep, limitThdPercent: number): boolean {
  return thdPercent === undefined ? eye === 'fuzzy' || eye === 'clipped' : thdPercent > limitThdPercent;
}

function ceilingOf(steps: readonly VolumeStep[], dirtyIndex: number, method: SourceCeiling['method'], warnings: string[]): SourceCeiling {
  if (dirtyIndex === -1) {
    const last = steps.at(-1)!;
    if (method === 'distortion' && !isJudged(last))
      warnings.push('The highest steps have no distortion figure: above the last one that has, nothing is known.');
    return { maxCleanStep: last.step, method: 'not-reached', ...voltageOf(last), warnings };
  }
  const dirty = steps[dirtyIndex]!;
  // Among captures, a step without one is implied clean by a clean one above it, and unknown above the last clean one. By eye,
  // what nobody called dirty was seen clean.
  const clean = steps.slice(0, dirtyIndex).findLast((row) => method !== 'distortion' || isJudged(row));
  if (clean === undefined) {
    warnings.push(
      dirtyIndex === 0
        ? 'Dirty from the first step on: begin lower, and look at tone controls, loudness and boosts.'
        : `No step below ${dirty.step} has a distortion figure: capture one that is clean.`,
    );
    return { firstDirtyStep: dirty.step, method, warnings };
  }
  if (dirty.step - clean.step > 1) {
    warnings.push(
      `Nothing is known of the steps between ${clean.step} and ${dirty.step}: the ceiling may be as high as ${dirty.step - 1}.`,
    );
  }
  return { maxCleanStep: clean.step, firstDirtyStep: dirty.step, method, ...voltageOf(clean), warnings };
}

const voltageOf = ({ voltageRms }: VolumeStep): { voltageAtCeiling?: number } =>
  voltageRms === undefined ? {} : { voltageAtCeiling: voltageRms };

/** Sorted, one row a step; what was out of order, doubled or missing is said. */
function inOrder(given: readonly VolumeStep[]): { steps: VolumeStep[]; warnings: string[] } {
  const warnings: string[] = [];
  const sorted = [...given].sort((a, b) => a.step - b.step);
  if (sorted.some(({ step }, i) => step !== given[i]?.step)) warnings.push('The steps were out of order and were sorted.');
  const steps: VolumeStep[] = [];
  for (const row of sorted) {
    const last = steps.at(-1);
    if (last?.step !== row.step) {
      steps.push(row);
      continue;
    }
    warnings.push(`Step ${row.step} appears twice: the worse reading counts.`);
    steps[steps.length - 1] = worse(last, row);
  }
  const gaps = steps.slice(1).flatMap(({ step }, i) => (step - steps[i]!.step > 1 ? [`${steps[i]!.step} to ${step}`] : []));
  if (gaps.length > 0) warnings.push(`Steps are missing: ${gaps.join(', ')}.`);
  return { steps, warnings };
}

const EYE_BY_GRAVITY: readonly EyeVerdict[] = ['clipped', 'fuzzy', 'clean'];

function worse(a: VolumeStep, b: VolumeStep): VolumeStep {
  const volts = [a.voltageRms, b.voltageRms].filter((volt) => volt !== undefined);
  const thd = [a.thdPercent, b.thdPercent].filter((percent) => percent !== undefined);
  const eye = EYE_BY_GRAVITY.find((verdict) => a.eye === verdict || b.eye === verdict);
  return {
    step: a.step,
    ...(volts.length === 0 ? {} : { voltageRms: Math.min(...volts) }),
    ...(thd.length === 0 ? {} : { thdPercent: Math.max(...thd) }),
    ...(eye === undefined ? {} : { eye }),
    ...(a.isRepeated === true || b.isRepeated === true ? { isRepeated: true } : {}),
  };
}

function checkInput({ steps, limitThdPercent, compressionDb }: SourceCeilingInput): void {
  checkNumbers(
    { limitThdPercent, compressionDb },
    {
      limitThdPercent: { name: 'distortion limit', unit: '%', above: 0, atMost: 100 },
      compressionDb: { name: 'compression', unit: 'dB', above: 0, atMost: 20 },
    },
  );
  if (steps.length === 0) throw new CoreError('INPUT_INVALID', [{ pointer: '/steps', message: 'the volume table is empty' }]);
  const faults: Fault[] = steps.flatMap(({ step, voltageRms, thdPercent, eye }, i): Fault[] => [
    ...(Number.isInteger(step) && step >= 0 ? [] : [{ pointer: `/steps/${i}/step`, message: 'a volume step must be a whole number' }]),
    ...(voltageRms === undefined || (Number.isFinite(voltageRms) && voltageRms > 0)
      ? []
      : [{ pointer: `/steps/${i}/voltageRms`, message: 'voltage must be above 0 V' }]),
    ...(voltageRms === undefined && thdPercent === undefined && eye === undefined
      ? [{ pointer: `/steps/${i}`, message: 'a step needs a voltage, a distortion figure or a verdict by eye' }]
      : []),
    ...(thdPercent === undefined || (Number.isFinite(thdPercent) && thdPercent >= 0)
      ? []
      : [{ pointer: `/steps/${i}/thdPercent`, message: 'distortion must be at least 0 %' }]),
  ]);
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults);
}
