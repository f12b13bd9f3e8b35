import type { HouseRules, SettingsCase } from '../../../job/chain.ts';
import type { LineReading, LineTrace } from '../../../job/records.ts';
import { casesAt } from '../../../job/source.ts';
import { voltageFactor, voltageRatioDb } from '../../../levels/decibels.ts';
import { lastResult } from '../../../numerics/lastResult.ts';
import { oddStep, type OddStep } from '../../../source/oddStep.ts';
import { sourceCeiling, type EyeVerdict, type SourceCeiling } from '../../../source/sourceCeiling.ts';
import type { SourceOutput } from '../../../source/sourceControls.ts';
import type { TraceVerdict } from '../../../traces/analyseTrace.ts';
import { lineConditions } from '../../frame/played.ts';
import { onceEach, readingsAt, stepId, tracesAt } from '../../frame/situation.ts';
import { staleReasons, type ConditionKey } from '../../frame/staleness.ts';

/** How far the volume may go, at one output of the source. */
export interface CeilingSubject {
  output: SourceOutput;
  toneHz: number;
  /** recorded level of the tone, in dBFS */
  toneLevelDbfs: number;
}

/** One row of a volume table: the newest voltage and the newest capture of a step of the volume. */
export interface CeilingRow {
  step: number;
  voltageRms?: number;
  thdPercent?: number;
  eye?: EyeVerdict;
  /** of the capture, where there is one */
  verdict?: TraceVerdict;
  readingId?: string;
  traceId?: string;
}

/** The volume table of one settings case with one tone, and the clean ceiling in it. */
export interface CeilingCurve {
  settingsCase: SettingsCase;
  output: SourceOutput;
  toneHz: number;
  toneLevelDbfs: number;
  rows: CeilingRow[];
  /** with the tone as it is recorded; undefined while there are no rows to judge */
  ceiling?: SourceCeiling;
  /** the same for a full-scale tone: lower where the tone is recorded lower */
  fullScaleStep?: number;
  /** RMS of a full-scale tone at that step */
  fullScaleVoltRms?: number;
  sureness?: string;
  /** clean at the end of the scale by its voltage alone: a capture there decides whether the last step counts */
  isUnconfirmed?: boolean;
  /** a figure that cannot stand in its row: nothing is told from the table until it is read again */
  odd?: OddStep;
}

export interface CeilingTables {
  curves: CeilingCurve[];
  /** why tables of before no longer count */
  staleReasons: string[];
}

/** The tone and the volume change from row to row. */
export const CEILING_STANDS_ON: readonly ConditionKey[] = ['source', 'level', 'input', 'settings'];

const keptCurves = lastResult<CeilingCurve>();

/** Volume tables at one output of the source, a curve for each case and tone. */
export const ceilingTables = onceEach(
  ({ output, toneHz }: CeilingSubject) => `${output}/${toneHz}`,
  (now, { output, toneHz: usualHz, toneLevelDbfs }): CeilingTables => {
    const id = stepId('ceiling', output);
    const present = lineConditions(now, usualHz, toneLevelDbfs);
    const reasons = new Set<string>();
    const counts = ({ conditions }: LineReading | LineTrace): boolean => {
      if (conditions.caseId === undefined) return false;
      const stale = staleReasons(CEILING_STANDS_ON, conditions, present);
      stale.forEach((reason) => reasons.add(reason));
      return stale.length === 0;
    };
    const readings = readingsAt(now, id, 'source-voltage', 'line').filter(counts);
    const traces = tracesAt(now, id, 'line').filter(counts);
    const curves = casesAt(now.chain.source, output).flatMap((settingsCase) => {
      const isOfCase = ({ conditions }: LineReading | LineTrace): boolean => conditions.caseId === settingsCase.id;
      const [ownReadings, ownTraces] = [readings.filter(isOfCase), traces.filter(isOfCase)];
      const tones = new Set([...ownReadings, ...ownTraces].map(({ conditions }) => conditions.toneHz).concat(usualHz));
      return [...tones]
        .sort((a, b) => a - b)
        .map((toneHz) => {
          const isOfTone = ({ conditions }: LineReading | LineTrace): boolean => conditions.toneHz === toneHz;
          const { rules } = now.settings;
          const [volts, captures] = [ownReadings.filter(isOfTone), ownTraces.filter(isOfTone)];
          const key = `${output}/${settingsCase.id}/${toneHz}`;
          const { volumeSteps, preampClaimVolt } = now.chain.source;
          return keptCurves(rules, key, [settingsCase, toneLevelDbfs, volumeSteps, preampClaimVolt, ...volts, '|', ...captures], () =>
            curveOf(settingsCase, output, { toneHz, toneLevelDbfs }, rules, { volumeSteps, preampClaimVolt }, volts, captures),
          );
        })
        .filter(({ rows, toneHz }) => rows.length > 0 || toneHz === usualHz);
    });
    return { curves, staleReasons: [...reasons] };
  },
);

function curveOf(
  settingsCase: SettingsCase,
  output: SourceOutput,
  { toneHz, toneLevelDbfs }: { toneHz: number; toneLevelDbfs: number },
  rules: HouseRules,
  { volumeSteps, preampClaimVolt }: { volumeSteps: number; preampClaimVolt: number | undefined },
  readings: readonly LineReading[],
  traces: readonly LineTrace[],
): CeilingCurve {
  const rows = rowsOf(readings, traces);
  const curve = { settingsCase, output, toneHz, toneLevelDbfs, rows };
  const judgeable = rows.filter((row) => (row.voltageRms ?? 0) > 0 || row.thdPercent !== undefined || row.eye !== undefined);
  if (judgeable.length === 0) return curve;
  const repeated = repeatedSteps(readings);
  const ceiling = sourceCeiling({
    steps: judgeable.map(({ step, voltageRms, thdPercent, eye }) => ({
      step,
      ...(voltageRms === undefined || voltageRms <= 0 ? {} : { voltageRms }),
      ...(thdPercent === undefined ? {} : { thdPercent }),
      ...(eye === undefined ? {} : { eye }),
      ...(repeated.has(step) ? { isRepeated: true } : {}),
    })),
    limitThdPercent: rules.limitThdPercent,
  });
  const read = rows.flatMap(({ step, voltageRms = 0 }) => (voltageRms > 0 ? [{ step, voltageRms, isRepeated: repeated.has(step) }] : []));
  const odd = oddStep(read, output, preampClaimVolt);
  if (odd !== undefined) return { ...curve, ceiling, odd };
  // Nothing above the end of the scale confirms its last step: a capture there does, or the step below is taken.
  const last = rows.at(-1);
  const isUnconfirmed =
    ceiling.method === 'not-reached' && ceiling.maxCleanStep === volumeSteps && last?.thdPercent === undefined && last?.eye === undefined;
  const sure = isUnconfirmed ? belowLast(rows, ceiling) : ceiling;
  return {
    ...curve,
    ceiling: sure,
    ...fullScaleOf(rows, sure, curve.toneLevelDbfs),
    sureness: surenessOf(sure, volumeSteps, isUnconfirmed),
    ...(isUnconfirmed ? { isUnconfirmed } : {}),
  };
}

/** Two readings of one step within a hundredth of each other are no slip. */
const ALIKE_RATIO = 1.01;

function repeatedSteps(readings: readonly LineReading[]): ReadonlySet<number> {
  const repeated = new Set<number>();
  readings.forEach(({ value, conditions: { sourceVolume } }, i) => {
    const isAlike = readings
      .slice(0, i)
      .some(
        (other) =>
          other.conditions.sourceVolume === sourceVolume && Math.max(value, other.value) <= ALIKE_RATIO * Math.min(value, other.value),
      );
    if (isAlike) repeated.add(sourceVolume);
  });
  return repeated;
}

/** The same ceiling, a row lower; none where there is no lower row. */
function belowLast(rows: readonly CeilingRow[], ceiling: SourceCeiling): SourceCeiling {
  const { voltageAtCeiling: _voltage, maxCleanStep: _step, ...rest } = ceiling;
  const below = rows.at(-2);
  if (below === undefined) return rest;
  return { ...rest, maxCleanStep: below.step, ...(below.voltageRms === undefined ? {} : { voltageAtCeiling: below.voltageRms }) };
}

function rowsOf(readings: readonly LineReading[], traces: readonly LineTrace[]): CeilingRow[] {
  const rows = new Map<number, CeilingRow>();
  const rowAt = (step: number): CeilingRow => {
    const row = rows.get(step) ?? { step };
    rows.set(step, row);
    return row;
  };
  for (const { id, conditions, analysis, channelIndex } of traces) {
    const channel = analysis.channels[channelIndex];
    if (channel === undefined) continue;
    const row = rowAt(conditions.sourceVolume);
    row.traceId = id;
    row.verdict = channel.clipping.verdict;
    // A capture that cannot be judged says nothing of the source.
    if (row.verdict === 'unusable' || row.verdict === 'over-range' || channel.warnings.includes('other-tone')) {
      delete row.thdPercent;
      continue;
    }
    if (channel.thdPercent !== undefined) row.thdPercent = channel.thdPercent;
    if (!channel.warnings.includes('uncalibrated')) row.voltageRms = channel.voltageRms;
  }
  for (const { id, value, conditions } of readings) {
    const row = rowAt(conditions.sourceVolume);
    row.readingId = id;
    row.voltageRms = value;
    if (conditions.eye === undefined) delete row.eye;
    else row.eye = conditions.eye;
  }
  return [...rows.values()].sort((a, b) => a.step - b.step);
}

/** Less than a meter can tell apart at line level. */
const LEVEL_SLACK_DB = 0.05;

/** A tone recorded below full scale finds a ceiling that full-scale music is already over: so much lower is the step for that. */
function fullScaleOf(
  rows: readonly CeilingRow[],
  { maxCleanStep, voltageAtCeiling, contradictsAt }: SourceCeiling,
  toneLevelDbfs: number,
): Pick<CeilingCurve, 'fullScaleStep' | 'fullScaleVoltRms'> {
  // What rests on readings against each other is no volume to be taken over.
  if (maxCleanStep === undefined || contradictsAt !== undefined) return {};
  if (voltageAtCeiling === undefined) return toneLevelDbfs === 0 ? { fullScaleStep: maxCleanStep } : {};
  const fits = rows.findLast(
    ({ step, voltageRms }) =>
      step <= maxCleanStep && voltageRms !== undefined && voltageRatioDb(voltageRms, voltageAtCeiling) - toneLevelDbfs <= LEVEL_SLACK_DB,
  );
  return fits === undefined ? {} : { fullScaleStep: fits.step, fullScaleVoltRms: fits.voltageRms! * voltageFactor(-toneLevelDbfs) };
}

function surenessOf({ method, maxCleanStep, firstDirtyStep }: SourceCeiling, volumeSteps: number, isUnconfirmed: boolean): string {
  if (isUnconfirmed) return 'One step below the end of the scale: nothing above confirms the last step. A capture there decides.';
  if (method === 'not-reached') return maxCleanStep === volumeSteps ? 'Clean to the end of the scale.' : 'Not reached yet: go further up.';
  if (maxCleanStep === undefined) return 'Nothing clean was found.';
  const gap = firstDirtyStep !== undefined && firstDirtyStep - maxCleanStep > 1;
  switch (method) {
    case 'distortion':
      return gap ? 'Sure from captures, but steps between were left out.' : 'Sure: captures on both sides of the ceiling.';
    case 'eye':
      return 'Fairly sure: judged by eye, which sees flat tops from some 3 % of distortion. A capture finds it sooner.';
    case 'compression':
      return 'Within about one step, from voltages alone. A capture on either side confirms it.';
  }
}
