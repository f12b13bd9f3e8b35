import type { Finding } from '../findings.ts';
import { voltageFactor, voltageRatioDb } from '../levels/decibels.ts';
import { sourceCeiling, type SourceCeiling } from '../source/sourceCeiling.ts';
import { INPUT_NAMES, OUTPUT_NAMES, type SourceOutput } from '../source/sourceControls.ts';
import { formatQuantity, plainFigure } from '../units/formatQuantity.ts';
import type { Chain, HouseRules, SettingsCase } from './chain.ts';
import { isLineReading, isLineTrace, type LineConditions, type LineReading, type LineTrace, type TuneSettings } from './records.ts';
import { casesAt, sourceOutputs, sourceSettingsNow, toneInput } from './source.ts';
import { lineStaleReasons } from './staleness.ts';
import type { CeilingCurve, CeilingFigures, CeilingRow, RunRecords, StepState } from './state.ts';
import { lineConditionsNow, stepsOf, type CeilingStep } from './steps.ts';

/** Volume tables at one output of the source, a curve for each case and tone. */
export function ceilingCurves(
  step: CeilingStep,
  chain: Chain,
  settings: TuneSettings,
  { readings, traces, marks }: RunRecords,
): { curves: CeilingCurve[]; staleReasons: string[] } {
  const now = lineConditionsNow(step, chain, settings.rules, marks);
  const cases = casesAt(chain.source, step.output);
  const reasons = new Set<string>();
  const counts = ({ conditions, voidedReason, stepId }: { conditions: LineConditions; voidedReason?: string; stepId: string }): boolean => {
    if (voidedReason !== undefined || stepId !== step.id || conditions.caseId === undefined) return false;
    // The tone and the volume change from row to row.
    const stale = lineStaleReasons(conditions, now, ['sourceVolume', 'toneHz']);
    stale.forEach((reason) => reasons.add(reason));
    return stale.length === 0;
  };
  const ownReadings = readings.filter(isLineReading).filter((r) => r.kind === 'source-voltage' && counts(r));
  const ownTraces = traces.filter(isLineTrace).filter(counts);
  const curves = cases.flatMap((settingsCase) => {
    const of = ({ conditions }: { conditions: LineConditions }): boolean => conditions.caseId === settingsCase.id;
    const caseReadings = ownReadings.filter(of);
    const caseTraces = ownTraces.filter(of);
    const tones = new Set([...caseReadings, ...caseTraces].map(({ conditions }) => conditions.toneHz).concat(step.toneHz));
    return [...tones]
      .sort((a, b) => a - b)
      .map((toneHz) => {
        const ofTone = ({ conditions }: { conditions: LineConditions }): boolean => conditions.toneHz === toneHz;
        return curveOf(settingsCase, step.output, toneHz, settings.rules, caseReadings.filter(ofTone), caseTraces.filter(ofTone));
      })
      .filter(({ rows, toneHz }) => rows.length > 0 || toneHz === step.toneHz);
  });
  return { curves, staleReasons: [...reasons] };
}

function curveOf(
  settingsCase: SettingsCase,
  output: SourceOutput,
  toneHz: number,
  rules: HouseRules,
  readings: readonly LineReading[],
  traces: readonly LineTrace[],
): CeilingCurve {
  const rows = rowsOf(readings, traces);
  const curve = { settingsCase, output, toneHz, toneLevelDbfs: rules.toneLevelDbfs, rows };
  const judgeable = rows.filter((row) => (row.voltageRms ?? 0) > 0 || row.thdPercent !== undefined || row.eye !== undefined);
  if (judgeable.length === 0) return curve;
  const ceiling = sourceCeiling({
    steps: judgeable.map(({ step, voltageRms, thdPercent, eye }) => ({
      step,
      ...(voltageRms === undefined || voltageRms <= 0 ? {} : { voltageRms }),
      ...(thdPercent === undefined ? {} : { thdPercent }),
      ...(eye === undefined ? {} : { eye }),
    })),
    limitThdPercent: rules.limitThdPercent,
  });
  return { ...curve, ceiling, ...fullScaleOf(rows, ceiling, curve.toneLevelDbfs), sureness: surenessOf(ceiling) };
}

function rowsOf(readings: readonly LineReading[], traces: readonly LineTrace[]): CeilingRow[] {
  const rows = new Map<number, CeilingRow>();
  const rowAt = (step: number): CeilingRow => {
    const row = rows.get(step) ?? { step };
    rows.set(step, row);
    return row;
  };
  const byTime = (a: { takenAt: string }, b: { takenAt: string }): number => a.takenAt.localeCompare(b.takenAt);
  for (const { id, conditions, analysis, channelIndex } of [...traces].sort(byTime)) {
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
  for (const { id, value, conditions } of [...readings].sort(byTime)) {
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
  { maxCleanStep, voltageAtCeiling }: SourceCeiling,
  toneLevelDbfs: number,
): Pick<CeilingCurve, 'fullScaleStep' | 'fullScaleVolt'> {
  if (maxCleanStep === undefined) return {};
  if (voltageAtCeiling === undefined) return toneLevelDbfs === 0 ? { fullScaleStep: maxCleanStep } : {};
  const fits = rows.findLast(
    ({ step, voltageRms }) =>
      step <= maxCleanStep && voltageRms !== undefined && voltageRatioDb(voltageRms, voltageAtCeiling) - toneLevelDbfs <= LEVEL_SLACK_DB,
  );
  return fits === undefined ? {} : { fullScaleStep: fits.step, fullScaleVolt: fits.voltageRms! * voltageFactor(-toneLevelDbfs) };
}

function surenessOf({ method, maxCleanStep, firstDirtyStep }: SourceCeiling): string {
  if (method === 'not-reached') return 'Not reached yet: go further up.';
  if (maxCleanStep === undefined) return 'Nothing clean was found.';
  const gap = firstDirtyStep !== undefined && firstDirtyStep - maxCleanStep > 1;
  switch (method) {
    case 'distortion':
      return gap ? 'Sure from captures, but steps between were left out.' : 'Sure: captures on both sides of the ceiling.';
    case 'eye':
      return 'Fairly sure: judged by eye, which sees flat tops from some 3 % of distortion. A capture finds it sooner.';
    case 'compression':
      return 'Within a step or so: found by the voltage alone. A capture on either side makes it sure.';
  }
}

/** Where finding the ceiling at one output stands. */
export function ceilingState(step: CeilingStep, chain: Chain, settings: TuneSettings, records: RunRecords): StepState {
  const { curves, staleReasons } = ceilingCurves(step, chain, settings, records);
  const { source } = chain;
  const working = workingVolume(chain, settings, records);
  const ceiling: CeilingFigures = { curves, staleReasons, ...(working === undefined ? {} : { working }) };
  const used = curves.filter(({ settingsCase, rows }) => settingsCase.used && rows.length > 0);
  const empty = used.length === 0;
  if (empty && staleReasons.length > 0) {
    return {
      status: 'stale',
      ceiling,
      findings: [
        {
          grade: 'stale',
          text: `The volume table no longer counts: ${staleReasons.join('; ')}.`,
          next: 'Go up the volume again with the settings as they are now.',
        },
      ],
    };
  }
  if (empty) return { status: 'open', ceiling, findings: assumedFinding(chain) };
  const own = lowestOf(used);
  const missing = casesAt(source, step.output).filter(
    ({ id, used: isUsed }) => isUsed && !used.some(({ settingsCase }) => settingsCase.id === id),
  );
  const findings = [
    ...volumeFindings(chain, own),
    ...missing.map(({ name }): Finding => ({
      grade: 'note',
      text: `“${name}” is likely to be used and has no ceiling yet.`,
      next: 'Set the source that way and go up the volume again.',
    })),
    ...flatFinding(chain, records),
    ...claimFinding(step, chain, curves),
    ...toneFinding(curves),
    ...subFinding(curves),
  ];
  const isOver = findings.some(({ grade }) => grade === 'attention' || grade === 'stop');
  const complete = missing.length === 0 && used.every((curve) => isFound(curve, chain));
  const set = own !== undefined && source.volumeBasis === 'measured';
  return { status: isOver ? 'out-of-tolerance' : complete && set ? 'done' : 'open', ceiling, findings };
}

/** The lowest ceiling among the used cases of every output in use; undefined while there is none. */
export function workingVolume(chain: Chain, settings: TuneSettings, records: RunRecords): CeilingFigures['working'] {
  const steps = stepsOf(chain, settings.rules).filter((step): step is CeilingStep => step.kind === 'ceiling');
  const used = steps.flatMap((step) =>
    ceilingCurves(step, chain, settings, records).curves.filter(({ settingsCase }) => settingsCase.used),
  );
  const lowest = lowestOf(used);
  if (lowest?.fullScaleStep === undefined) return undefined;
  const complete = steps.every(({ output }) =>
    casesAt(chain.source, output)
      .filter((c) => c.used)
      .every(({ id }) => used.some((curve) => curve.output === output && curve.settingsCase.id === id && isFound(curve, chain))),
  );
  return { step: lowest.fullScaleStep, limitedBy: lowest, complete };
}

/** Found is a ceiling with something dirty above it, or the end of the scale. */
function isFound({ fullScaleStep, ceiling }: CeilingCurve, { source }: Chain): boolean {
  return fullScaleStep !== undefined && (ceiling?.method !== 'not-reached' || ceiling.maxCleanStep === source.volumeSteps);
}

function lowestOf(curves: readonly CeilingCurve[]): CeilingCurve | undefined {
  return curves
    .filter(({ fullScaleStep }) => fullScaleStep !== undefined)
    .reduce<CeilingCurve | undefined>(
      (low, curve) => (low === undefined || curve.fullScaleStep! < low.fullScaleStep! ? curve : low),
      undefined,
    );
}

/**
 * The chain with the working volume that was found: a full-scale tone's voltage there, at the output that feeds the amplifiers,
 * flat, and the highest clean one.
 */
export function withWorkingVolume(chain: Chain, settings: TuneSettings, records: RunRecords): Chain | undefined {
  const working = workingVolume(chain, settings, records);
  if (working === undefined) return undefined;
  const { outputVolt: _outputVolt, ceilingVolt: _ceilingVolt, ...source } = chain.source;
  const first = stepsOf(chain, settings.rules).find(
    (step): step is CeilingStep => step.kind === 'ceiling' && step.output === sourceOutputs(source)[0],
  );
  const flat =
    first === undefined ? undefined : ceilingCurves(first, chain, settings, records).curves.find(({ settingsCase }) => settingsCase.used);
  const volt = flat?.rows.find(({ step }) => step === working.step)?.voltageRms;
  const ceilingVolt = flat?.ceiling?.voltageAtCeiling;
  return {
    ...chain,
    source: {
      ...source,
      workingVolume: working.step,
      volumeBasis: 'measured',
      ...(flat === undefined || volt === undefined ? {} : { outputVolt: volt * voltageFactor(-flat.toneLevelDbfs) }),
      ...(ceilingVolt === undefined ? {} : { ceilingVolt }),
    },
  };
}

export const DEFAULT_ASSUMED_PERCENT = 75;

/** A volume for a source that cannot be measured: a share of its scale, and marked as such. */
export function assumedVolume(chain: Chain, rules: HouseRules): number {
  return Math.max(1, Math.floor((chain.source.volumeSteps * (rules.assumedVolumePercent ?? DEFAULT_ASSUMED_PERCENT)) / 100));
}

function assumedFinding({ source }: Chain): Finding[] {
  if (source.volumeBasis === 'measured') return [];
  return [
    {
      grade: 'note',
      text: `The working volume, ${source.workingVolume} of ${source.volumeSteps}, is assumed: every gain rests on it.`,
      next: 'Find the clean ceiling, and it is measured.',
    },
  ];
}

function volumeFindings(chain: Chain, lowest: CeilingCurve | undefined): Finding[] {
  const { source } = chain;
  if (lowest?.fullScaleStep === undefined)
    return [{ grade: 'note', text: 'No ceiling yet.', next: 'Go up a step at a time until it clips.' }];
  const { fullScaleStep, settingsCase } = lowest;
  if (!isFound(lowest, chain)) {
    return [{ grade: 'note', text: `Clean so far, up to ${fullScaleStep}.`, next: 'Go on a step at a time until it clips.' }];
  }
  if (source.workingVolume > fullScaleStep) {
    return [
      {
        grade: 'attention',
        text: `The working volume is ${source.workingVolume}, and the source is clean up to ${fullScaleStep} (${settingsCase.name.toLowerCase()}).`,
        next: `Take ${fullScaleStep} as the working volume: whatever comes later would carry the source’s own clipping.`,
      },
    ];
  }
  if (source.volumeBasis === 'assumed') {
    return [
      {
        grade: 'note',
        text: `Clean up to ${fullScaleStep}; the working volume ${source.workingVolume} is still an assumed one.`,
        next: 'Take over what was found.',
      },
    ];
  }
  return [{ grade: 'good', text: `Clean up to ${fullScaleStep} of ${source.volumeSteps}; the working volume is ${source.workingVolume}.` }];
}

function flatFinding({ source }: Chain, { marks }: RunRecords): Finding[] {
  if (sourceSettingsNow(source, marks) !== undefined) return [];
  return [
    {
      grade: 'note',
      text: `The Flat list of ${INPUT_NAMES[toneInput(source)].toLowerCase()} is not ticked: this holds for wherever its controls stand.`,
      next: 'Go through it, so that a control that is moved later is noticed.',
    },
  ];
}

/** The voltage against what the source claims, or the power of its own amplifier. */
function claimFinding({ output }: CeilingStep, { source }: Chain, curves: readonly CeilingCurve[]): Finding[] {
  const volt = curves[0]?.ceiling?.voltageAtCeiling;
  if (volt === undefined) return [];
  if (output === 'speakers') {
    const loadOhm = source.speakerLoadOhm;
    if (loadOhm === undefined) return [];
    return [
      {
        grade: 'note',
        text: `The source’s own amplifier makes ${formatQuantity(volt ** 2 / loadOhm, 'W')} clean into ${formatQuantity(loadOhm, 'ohm')}.`,
      },
    ];
  }
  const claim = source.preampClaimVolt;
  if (claim === undefined) return [];
  const differenceDb = voltageRatioDb(volt, claim);
  return [
    differenceDb < -0.5
      ? {
          grade: 'note',
          text: `${OUTPUT_NAMES[output]} gives ${formatQuantity(volt, 'V')} clean, ${formatQuantity(-differenceDb, 'dB')} under the ${formatQuantity(claim, 'V')} that is claimed.`,
          next: 'Claims are often peak, or without load. The gains make up for it.',
        }
      : {
          grade: 'note',
          text: `${OUTPUT_NAMES[output]} gives ${formatQuantity(volt, 'V')} clean: the ${formatQuantity(claim, 'V')} claimed are there.`,
        },
  ];
}

/** Tones that clip at different steps with the same settings: something boosts a range. */
function toneFinding(curves: readonly CeilingCurve[]): Finding[] {
  return [...new Set(curves.map(({ settingsCase }) => settingsCase.id))].flatMap((id) => {
    const own = curves.filter((c) => c.settingsCase.id === id && c.fullScaleStep !== undefined && c.ceiling?.method !== 'not-reached');
    if (own.length < 2) return [];
    const [low, high] = [lowestOf(own)!, own.reduce((best, c) => (c.fullScaleStep! > best.fullScaleStep! ? c : best))];
    if (high.fullScaleStep! - low.fullScaleStep! < 2) return [];
    return [
      {
        grade: 'note' as const,
        text: `${formatQuantity(low.toneHz, 'Hz')} clips from ${low.fullScaleStep! + 1} on, ${formatQuantity(high.toneHz, 'Hz')} only from ${high.fullScaleStep! + 1} (${low.settingsCase.name.toLowerCase()}).`,
        next: `Something lifts the range around ${formatQuantity(low.toneHz, 'Hz')}: look for loudness, boost or an equaliser that is still on.`,
      },
    ];
  });
}

/** What a raised sub level takes from the volume. */
function subFinding(curves: readonly CeilingCurve[]): Finding[] {
  const flat = curves.find(({ settingsCase, fullScaleStep }) => (settingsCase.subNotches ?? 0) === 0 && fullScaleStep !== undefined);
  if (flat === undefined) return [];
  return curves.flatMap((curve) => {
    const notches = curve.settingsCase.subNotches ?? 0;
    if (notches === 0 || curve.fullScaleStep === undefined || curve.toneHz !== flat.toneHz) return [];
    const steps = flat.fullScaleStep! - curve.fullScaleStep;
    if (steps <= 0) return [];
    const at = (step: number): number | undefined => flat.rows.find((row) => row.step === step)?.voltageRms;
    const [high, low] = [at(flat.fullScaleStep!), at(curve.fullScaleStep)];
    const db = high === undefined || low === undefined ? undefined : voltageRatioDb(high, low);
    const level = db === undefined ? '' : `, ${formatQuantity(db, 'dB')}`;
    const each = db === undefined ? `${plainFigure(steps / notches)} of a step` : formatQuantity(db / notches, 'dB');
    return [
      {
        grade: 'note' as const,
        text: `“${curve.settingsCase.name}” costs ${steps} ${steps === 1 ? 'step' : 'steps'} of volume${level}: one notch of sub level costs ${each}.`,
      },
    ];
  });
}
