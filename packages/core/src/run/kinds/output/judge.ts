import { findingOf, type Action, type Finding } from '../../../findings.ts';
import { compareFigures, judgeGain, type GainAdvice } from '../../../gain/meter.ts';
import type { Channel, HouseRules, Processor } from '../../../job/chain.ts';
import type { LineConditions } from '../../../job/conditions.ts';
import type { LineReading, LineTrace } from '../../../job/records.ts';
import { processorIdOf, sourceIdOf } from '../../../job/source.ts';
import { voltageFactor, voltageRatioDb } from '../../../levels/decibels.ts';
import { formatQuantity } from '../../../units/formatQuantity.ts';
import { lineConditions } from '../../frame/played.ts';
import { staleFinding, type Judgement } from '../../frame/judgement.ts';
import { lineToneHz } from '../../frame/lineTone.ts';
import type { Check } from '../../frame/stepKind.ts';
import { markAt, once, readingsAt, stepId, tracesAt, type Situation } from '../../frame/situation.ts';
import { coarseFinding } from '../../frame/typedDigits.ts';
import { staleReasons, type ConditionKey } from '../../frame/staleness.ts';
import { ALIKE_RATIO, beforeOutput } from '../../frame/upstream.ts';

/** A processor's output, at its target. */
export interface OutputSubject {
  processor: Processor;
  output: Processor['outputs'][number];
  toneHz: number;
  /** channels that hang on it */
  channels: Channel[];
  target: OutputTarget;
}

export interface OutputTarget {
  /** RMS of a full-scale tone */
  fullScaleVoltRms: number;
  /** RMS of the tone as recorded */
  settingVolt: number;
  limitedBy: 'wish' | 'processor' | 'amplifier';
}

export interface OutputFigures {
  reading?: LineReading;
  advice?: GainAdvice;
}

export const OUTPUT_STANDS_ON: readonly ConditionKey[] = ['source', 'volume', 'tone', 'level', 'processor', 'input', 'settings'];

/** Every output of the processor, with the channels that it feeds. */
export const outputSubjects = once((now: Situation): OutputSubject[] => {
  const { processor, channels } = now.chain;
  return (processor?.outputs ?? []).flatMap((output): OutputSubject[] => {
    if (processor === undefined) return [];
    const fed = channels.filter(({ processorOutputId }) => processorOutputId === output.id);
    // Where somebody said what hangs where, an output that feeds nothing wants nothing.
    if (fed.length === 0 && channels.some(({ processorOutputId }) => processorOutputId !== undefined)) return [];
    return [
      {
        processor,
        output,
        toneHz: lineToneHz(now),
        channels: fed,
        target: outputTarget(processor, fed, now, seenCleanVolt(now, processor, output.id)),
      },
    ];
  });
});

/** The newest capture of an output at the working volume. */
const outputTrace = (now: Situation, outputId: string): LineTrace | undefined => {
  const { source, processor } = now.chain;
  return tracesAt(now, stepId('output', outputId), 'line')
    .filter(({ conditions }) => processor !== undefined && conditions.processorId === processorIdOf(processor))
    .filter(({ conditions }) => conditions.sourceId === sourceIdOf(source) && conditions.sourceVolume === source.workingVolume)
    .at(-1);
};

/** A sine this much below the rails of a clipped one is clean: less than 1 % of distortion, by the Fourier series. */
const BELOW_RAIL_DB = 0.1;

/** What an output was seen to give clean, of a full-scale tone, where a capture of it was flat; undefined where none was. */
function seenCleanVolt(now: Situation, processor: Processor, outputId: string): number | undefined {
  let clean: number | undefined;
  const before = beforeOutput(now, outputId);
  for (const { analysis, channelIndex, conditions } of tracesAt(now, stepId('output', outputId), 'line')) {
    const shown = analysis.channels[channelIndex];
    // Another unit's rails say nothing of this one's.
    if (conditions.processorId !== processorIdOf(processor)) continue;
    if (shown?.fit === undefined || shown.warnings.includes('uncalibrated') || shown.warnings.includes('other-tone')) continue;
    // What came in like that says nothing of where this output ends.
    if (before !== undefined && (shown.thdPercent ?? 0) <= ALIKE_RATIO * before.thdPercent) continue;
    const { verdict } = shown.clipping;
    const rail = Math.min(Math.abs(shown.peakPositiveVolt), Math.abs(shown.peakNegativeVolt)) / Math.SQRT2;
    // What it gives of a full-scale tone is no more than its rails, however low the tone that was played; and a clean one proves what it reached.
    if (verdict === 'clipped' || verdict === 'onset') clean = rail * voltageFactor(-BELOW_RAIL_DB);
    else if (verdict === 'clean' && clean !== undefined && shown.voltageRms > clean * voltageFactor(BELOW_RAIL_DB)) clean = undefined;
  }
  return clean;
}

/**
 * What was wished for, unless the processor cannot give it or an amplifier's input cannot take it.
 *
 * Gain overlap belongs to the amplifiers alone: a line stage that clips is heard whatever the gain.
 */
function outputTarget(
  processor: Processor,
  channels: readonly Channel[],
  { chain, settings }: Situation,
  cleanVolt: number | undefined,
): OutputTarget {
  // Where nobody said what hangs on this output, any of the amplifiers may.
  const fed = channels.length === 0 ? chain.amplifiers : chain.amplifiers.filter(({ id }) => channels.some((c) => c.amplifierId === id));
  const { toneLevelDbfs, outputsWith } = settings.rules;
  // A school of its own: the wish is what the meter shows with the tone as it is recorded.
  const wishedVolt = outputsWith === 'tone' ? processor.outputVolt * voltageFactor(-toneLevelDbfs) : processor.outputVolt;
  const limits: [number, OutputTarget['limitedBy']][] = [
    [wishedVolt, 'wish'],
    [Math.min(processor.mostOutputVolt ?? Infinity, cleanVolt ?? Infinity), 'processor'],
    [Math.min(...fed.map(({ inputMaxVolt }) => inputMaxVolt ?? Infinity)), 'amplifier'],
  ];
  const [fullScaleVoltRms, limitedBy] = limits.reduce((least, limit) => (limit[0] < least[0] ? limit : least));
  return { fullScaleVoltRms, settingVolt: fullScaleVoltRms * voltageFactor(toneLevelDbfs), limitedBy };
}

export const outputConditions = ({ processor, toneHz, target }: OutputSubject, now: Situation): LineConditions => ({
  ...lineConditions(now, toneHz),
  processorId: processorIdOf(processor),
  processorName: processor.name,
  targetVolt: target.settingVolt,
});

/** The newest voltage of an output. */
export const outputReading = (now: Situation, outputId: string): LineReading | undefined =>
  readingsAt(now, stepId('output', outputId), 'output-voltage', 'line').at(-1);

/** Where a processor's output stands: against its target, and against the other outputs. */
export function judgeOutput(subject: OutputSubject, now: Situation): Judgement<OutputFigures> {
  const { rules, meter } = now.settings;
  const reading = outputReading(now, subject.output.id);
  const wish = [...wishFinding(subject), ...schoolFinding(subject, rules)];
  const action: Action = { kind: 'read', reading: 'output-voltage', unit: 'V' };
  if (reading === undefined) return { status: 'open', figures: {}, findings: wish, action };
  const reasons = staleReasons(OUTPUT_STANDS_ON, reading.conditions, outputConditions(subject, now));
  if (reasons.length > 0) {
    return {
      status: 'stale',
      figures: { reading },
      action,
      findings: [staleFinding('The last reading', reasons, 'Read the voltage again.')],
    };
  }
  if (reading.value <= 0) {
    return {
      status: 'out-of-tolerance',
      figures: { reading },
      action,
      findings: [
        {
          code: 'reads-nothing',
          grade: 'attention',
          figures: { at: 'output', voltageRms: reading.value },
          action,
        },
      ],
    };
  }
  const advice = judgeGain(reading.value, reading.resolution, subject.target.settingVolt, rules.toleranceDb, meter);
  const level =
    atEndFinding(subject, advice, now) ??
    (advice.verdict === 'too-coarse' ? [coarseFinding(reading, now, 'output-voltage')] : levelFinding(subject, advice));
  const all = [
    ...clipsFinding(subject, reading, now),
    ...declaredFinding(subject, reading),
    ...level,
    ...matchFindings(subject, reading, now),
    ...wish,
  ];
  const figures = { reading, advice };
  const off = all.find(({ grade }) => grade === 'attention');
  return off === undefined
    ? { status: 'done', figures, findings: all }
    : { status: 'out-of-tolerance', figures, findings: all, action: off.action ?? action };
}

/** An output that is flat at its level: every amplifier behind it plays that, whatever its gain. */
function clipsFinding({ output, target }: OutputSubject, reading: LineReading, now: Situation): Finding[] {
  const trace = outputTrace(now, output.id);
  const shown = trace?.analysis.channels[trace.channelIndex];
  if (trace === undefined || shown?.fit === undefined) return [];
  const { verdict } = shown.clipping;
  if (verdict !== 'onset' && verdict !== 'clipped' && verdict !== 'distorted') return [];
  // Turned down since, it is another level.
  if (reading.takenAt > trace.takenAt && reading.value < shown.voltageRms * voltageFactor(-PASSED_DB)) return [];
  const before = beforeOutput(now, output.id);
  if (before !== undefined) {
    // Within the house's limit it is what the source gives; beyond it, less goes into the processor.
    if (before.thdPercent <= now.settings.rules.limitThdPercent) return [];
    const [input] = now.chain.processor?.inputs ?? [];
    const again: Action = { kind: 'capture', judged: 'tone' };
    const action: Action =
      isLookedAtSince(before.takenAt, now) || input === undefined ? again : { kind: 'go', to: stepId('input', input.id) };
    return [{ code: 'output-distorts-before', grade: 'attention', figures: { thdPercent: before.thdPercent }, action }];
  }
  const byDb = Math.max(LEAST_TURN_DB, voltageRatioDb(shown.voltageRms, target.settingVolt));
  return [
    {
      code: 'output-clips',
      grade: 'attention',
      figures: { verdict, byDb, ...(shown.thdPercent === undefined ? {} : { thdPercent: shown.thdPercent }) },
      action: verdict === 'distorted' ? { kind: 'capture', judged: 'tone' } : { kind: 'turn-output', byDb: -byDb },
    },
  ];
}
/** The processor's input was captured clean since: what comes out now is to be seen. */
const isLookedAtSince = (since: string, now: Situation): boolean =>
  (now.chain.processor?.inputs ?? []).some(({ id }) =>
    tracesAt(now, stepId('input', id), 'line').some(
      ({ takenAt, analysis, channelIndex }) => takenAt > since && analysis.channels[channelIndex]?.clipping.verdict === 'clean',
    ),
  );

const PASSED_DB = 0.2;
/** So far that two looks tell an output's own clipping from what comes in. */
const LEAST_TURN_DB = 1;

/** More than a meter and a data sheet may differ by. Common practice, no source. */
const OVER_DECLARED_DB = 1.5;

/** What an output cannot give was read on another range, or is declared wrong. */
function declaredFinding({ processor: { mostOutputVolt } }: OutputSubject, { value, conditions }: LineReading): Finding[] {
  if (mostOutputVolt === undefined) return [];
  const declaredVolt = mostOutputVolt * voltageFactor(conditions.toneLevelDbfs);
  if (voltageRatioDb(value, declaredVolt) <= OVER_DECLARED_DB) return [];
  return [
    {
      code: 'above-declared',
      grade: 'attention',
      figures: { voltageRms: value, declaredVolt },
      action: { kind: 'read', reading: 'output-voltage', unit: 'V' },
    },
  ];
}

/** Three readings alike, each asked to rise: the output is at its end. */
const STILL_READINGS = 3;

/**
 * Short of what was wished for and no longer rising: it gives no more, and the amplifier's gain makes up for it, unless so much is missing
 * that noise comes up with it.
 */
function atEndFinding({ output, target }: OutputSubject, { verdict, differenceDb }: GainAdvice, now: Situation): Finding[] | undefined {
  const { meter } = now.settings;
  if (verdict !== 'up') return undefined;
  const last = readingsAt(now, stepId('output', output.id), 'output-voltage', 'line').slice(-STILL_READINGS);
  const newest = last.at(-1);
  if (newest === undefined || last.length < STILL_READINGS) return undefined;
  const isStill = last.every(
    ({ value, resolution }) =>
      compareFigures({ value, resolution, meter }, { value: newest.value, resolution: newest.resolution, meter }, true).same,
  );
  if (!isStill) return undefined;
  const figures = { voltageRms: newest.value, targetVolt: target.settingVolt, differenceDb };
  // Nobody turned it, or it is at its end: only the tuner can say.
  const { id } = outputEndCheck(newest.value);
  const mark = markAt(now, stepId('output', output.id));
  if (mark?.checks.includes(id) === true) return [{ code: 'output-at-end', grade: 'note', figures }];
  return [{ code: 'output-at-end', grade: 'attention', figures, action: { kind: 'tick', checks: [id] } }];
}

/** The tick stands for the voltage that it was given at: turned since, it is asked for anew. */
const outputEndCheck = (volt: number): Check => ({
  id: `output-at-end-${volt.toPrecision(2)}`,
  words: `output level at its end, reading ${formatQuantity(volt, 'V')}`,
});

/** What is to be ticked at an output: only that it is at its end, where it stands still below its target. */
export function outputChecks(subject: OutputSubject, now: Situation): Check[] {
  const { findings } = judgeOutput(subject, now);
  const ended = findingOf(findings, 'output-at-end');
  return ended === undefined ? [] : [outputEndCheck(ended.figures.voltageRms)];
}

function levelFinding({ target }: OutputSubject, { verdict, differenceDb, withinMeterOnly }: GainAdvice): Finding[] {
  const figures = { differenceDb, targetVolt: target.settingVolt };
  if (verdict === 'on-target') {
    return [
      {
        code: 'on-target',
        grade: 'good',
        figures: { ...figures, withinMeterOnly },
      },
    ];
  }
  return [
    {
      code: verdict === 'up' ? 'level-low' : 'level-high',
      grade: 'attention',
      figures: { at: 'output', ...figures },
      action: { kind: 'turn-output', byDb: -differenceDb, to: target.settingVolt, unit: 'V' },
    },
  ];
}

/** What it means to set the outputs with a tone that is recorded lower. */
function schoolFinding(
  { target: { settingVolt, fullScaleVoltRms } }: OutputSubject,
  { outputsWith, toneLevelDbfs }: HouseRules,
): Finding[] {
  if (outputsWith !== 'tone' || toneLevelDbfs >= 0) return [];
  return [
    {
      code: 'set-with-tone',
      grade: 'note',
      figures: { settingVolt, fullScaleVolt: fullScaleVoltRms },
    },
  ];
}

function wishFinding({ target, processor }: OutputSubject): Finding[] {
  if (target.limitedBy === 'wish') return [];
  return [
    {
      code: 'wish-limited',
      grade: 'note',
      figures: { wishedVolt: processor.outputVolt, mostVolt: target.fullScaleVoltRms, limitedBy: target.limitedBy },
    },
  ];
}

/** Every other output with the same target, where the two differ by more than the tolerance and more than the meter can tell. */
function matchFindings(subject: OutputSubject, reading: LineReading, now: Situation): Finding[] {
  const { meter, rules } = now.settings;
  const shown = ({ value, resolution }: LineReading) => ({ value, resolution, meter });
  const matched: string[] = [];
  const apart: Finding[] = [];
  for (const other of outputSubjects(now)) {
    if (other.output.id === subject.output.id || other.target.settingVolt !== subject.target.settingVolt) continue;
    const theirs = outputReading(now, other.output.id);
    if (theirs === undefined || theirs.value <= 0) continue;
    if (staleReasons(OUTPUT_STANDS_ON, theirs.conditions, outputConditions(other, now)).length > 0) continue;
    const { same, differenceDb } = compareFigures(shown(theirs), shown(reading), true);
    const pair = `${formatQuantity(reading.value, 'V')} against ${formatQuantity(theirs.value, 'V')} of ${other.output.name}`;
    if (same) matched.push(`${pair} is no difference with this meter`);
    else if (Math.abs(differenceDb) <= rules.toleranceDb) matched.push(`${pair} is within the tolerance`);
    else if (nearer(reading.value, theirs.value, subject.target.settingVolt)) {
      // The nearer one is right as it is: the other step wants the work, and says so itself.
      apart.push({
        code: 'other-output-off',
        grade: 'note',
        figures: {
          otherId: other.output.id,
          differenceDb,
          ownVolt: reading.value,
          otherVolt: theirs.value,
          otherName: other.output.name,
          settingVolt: subject.target.settingVolt,
        },
      });
    } else {
      apart.push({
        code: 'outputs-apart',
        grade: 'attention',
        figures: {
          otherId: other.output.id,
          differenceDb,
          ownVolt: reading.value,
          otherVolt: theirs.value,
          otherName: other.output.name,
          settingVolt: subject.target.settingVolt,
        },
        action: {
          kind: 'turn-output',
          byDb: voltageRatioDb(subject.target.settingVolt, reading.value),
          to: subject.target.settingVolt,
          unit: 'V',
        },
      });
    }
  }
  return [
    ...apart,
    ...(matched.length === 0
      ? []
      : [
          {
            code: 'outputs-matched' as const,
            grade: 'good' as const,
            figures: { others: matched.length, matches: matched },
          },
        ]),
  ];
}

/** Whether the first voltage lies nearer to the target than the second: then the other one is to be brought there. */
const nearer = (first: number, second: number, target: number): boolean =>
  Math.abs(voltageRatioDb(first, target)) <= Math.abs(voltageRatioDb(second, target));
