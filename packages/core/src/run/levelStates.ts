import type { Finding } from '../findings.ts';
import { compareFigures, judgeGain } from '../gain/meter.ts';
import { formatQuantity, signedDb } from '../units/formatQuantity.ts';
import type { Chain, HouseRules } from './chain.ts';
import { isLineReading, isLineTrace, type LineReading, type TuneSettings } from './records.ts';
import { sourceSettingsNow, toneInput } from './source.ts';
import { lineStaleReasons } from './staleness.ts';
import { newest, type RunRecords, type StepState } from './state.ts';
import { lineConditionsNow, stepsOf, type InputStep, type OutputStep } from './steps.ts';

/** What is seen to at a processor's input, in this order. */
export function inputChecks({ processor }: InputStep): { id: string; words: string }[] {
  const begins = { id: 'start', words: 'input at its lowest, equaliser and filters off' };
  return processor.hasClipLight
    ? [begins, { id: 'light-on', words: 'raised until the clip light came on' }, { id: 'light-off', words: 'back until it went out' }]
    : [begins];
}

/** What the ticks at a processor's input stand for: another volume, or other settings, drive it to another level. */
export function inputBasis(chain: Chain, rules: HouseRules, marks: RunRecords['marks']): string {
  const { source } = chain;
  const settings = Object.values(sourceSettingsNow(source, marks) ?? {}).join(' ');
  return [`${source.name} at ${source.workingVolume}`, toneInput(source), formatQuantity(rules.toneLevelDbfs, 'dBFS'), settings]
    .filter((part) => part !== '')
    .join(', ');
}

/** Where a processor's input level stands: by its own light, or by a capture of what comes out. */
export function inputState(step: InputStep, chain: Chain, settings: TuneSettings, records: RunRecords): StepState {
  const { rules } = settings;
  const mark = records.marks.find(({ stepId }) => stepId === step.id);
  const now = lineConditionsNow(step, chain, rules, records.marks);
  const trace = newest(records.traces.filter(isLineTrace), (t) => t.stepId === step.id);
  const basis = inputBasis(chain, rules, records.marks);
  const ticked = new Set(mark?.checks ?? []);
  const isTickStale = ticked.size > 0 && mark?.basis !== undefined && mark.basis !== basis;
  const traceReasons = trace === undefined ? [] : lineStaleReasons(trace.conditions, now);
  const checks = inputChecks(step);
  const isTicked = !isTickStale && checks.every(({ id }) => ticked.has(id)) && step.processor.hasClipLight;
  const level = levelNote(rules);
  const line = trace === undefined ? {} : { line: { trace } };

  if (trace !== undefined && traceReasons.length === 0) {
    const verdict = trace.analysis.channels[trace.channelIndex]?.clipping.verdict;
    if (verdict === 'clean')
      return { status: 'done', ...line, findings: [{ grade: 'good', text: 'Clean at the working volume.' }, ...level] };
    return {
      status: 'out-of-tolerance',
      ...line,
      findings: [
        verdict === 'unusable' || verdict === 'over-range'
          ? {
              grade: 'attention',
              text: 'The capture cannot be judged.',
              next: 'Choose a larger range, capture five cycles or more while the tone plays.',
            }
          : {
              grade: 'attention',
              text: 'The input clips at the working volume.',
              next: 'Turn the input level down a little, and capture again.',
            },
      ],
    };
  }
  // Ticked anew, it stands, whatever an older capture said.
  if (isTicked)
    return { status: 'done', findings: [{ grade: 'good', text: 'Just under its own clipping at the working volume.' }, ...level] };
  if (isTickStale || traceReasons.length > 0) {
    const why = isTickStale ? `it was ticked for ${mark.basis ?? ''}; it is now ${basis}` : traceReasons.join('; ');
    return {
      status: 'stale',
      ...line,
      findings: [{ grade: 'stale', text: `The input level no longer counts: ${why}.`, next: 'Raise it to the light and back again.' }],
    };
  }
  return { status: 'open', findings: level };
}

/** A tone recorded below full scale lets the input be set so much too high. */
function levelNote(rules: HouseRules): Finding[] {
  if (rules.toneLevelDbfs >= 0) return [];
  const size = formatQuantity(-rules.toneLevelDbfs, 'dB');
  return [
    {
      grade: 'note',
      text: `The tone is recorded ${size} under full scale: music goes ${size} higher.`,
      next: `After the light goes out take the input back ${size} more, or use a tone at full scale.`,
    },
  ];
}

/** Where a processor's output stands: against its target, and against the other outputs. */
export function outputState(step: OutputStep, chain: Chain, settings: TuneSettings, records: RunRecords): StepState {
  const { rules, meter } = settings;
  const reading = outputReading(step, records);
  const wish = wishFinding(step);
  if (reading === undefined) return { status: 'open', findings: wish };
  const reasons = lineStaleReasons(reading.conditions, lineConditionsNow(step, chain, rules, records.marks));
  if (reasons.length > 0) {
    return {
      status: 'stale',
      line: { reading },
      findings: [{ grade: 'stale', text: `The last reading no longer counts: ${reasons.join('; ')}.`, next: 'Read the voltage again.' }],
    };
  }
  if (reading.value <= 0) {
    return {
      status: 'out-of-tolerance',
      line: { reading },
      findings: [
        {
          grade: 'attention',
          text: 'The meter reads nothing.',
          next: 'Check that the tone plays, the meter is on AC volts, and the probes sit on this output’s centre pin and shell.',
        },
      ],
    };
  }
  const advice = judgeGain(reading.value, reading.resolution, step.target.settingVolt, rules.toleranceDb, meter);
  const size = signedDb(Math.abs(advice.differenceDb)).replace('+', '');
  const findings: Finding[] =
    advice.verdict === 'on-target'
      ? [
          {
            grade: 'good',
            text: advice.withinMeterOnly
              ? `On target: ${signedDb(advice.differenceDb)} is less than this meter can tell apart.`
              : `On target: ${signedDb(advice.differenceDb)} from the figure.`,
          },
        ]
      : [
          {
            grade: 'attention',
            text: `${size} too ${advice.verdict === 'up' ? 'low' : 'high'}.`,
            next: `Turn this output ${advice.verdict} ${size}, then read again.`,
          },
        ];
  const matching = matchFindings(step, reading, chain, settings, records);
  const all = [...findings, ...matching, ...wish];
  return { status: all.some(({ grade }) => grade === 'attention') ? 'out-of-tolerance' : 'done', line: { reading, advice }, findings: all };
}

const outputReading = ({ id }: Pick<OutputStep, 'id'>, { readings }: RunRecords): LineReading | undefined =>
  newest(readings.filter(isLineReading), (r) => r.stepId === id && r.kind === 'output-voltage');

function wishFinding({ target, processor }: OutputStep): Finding[] {
  if (target.limitedBy === 'wish') return [];
  const wish = formatQuantity(processor.outputVolt, 'V');
  const most = formatQuantity(target.fullScaleVolt, 'V');
  return [
    target.limitedBy === 'amplifier'
      ? { grade: 'note', text: `${wish} were wished for; the amplifier’s input takes ${most} at most.` }
      : { grade: 'note', text: `${wish} were wished for; the processor gives ${most} clean at most.` },
  ];
}

/** Every other output with the same target, where the two differ by more than the tolerance and more than the meter can tell. */
function matchFindings(step: OutputStep, reading: LineReading, chain: Chain, settings: TuneSettings, records: RunRecords): Finding[] {
  const others = stepsOf(chain, settings.rules).filter(
    (s): s is OutputStep => s.kind === 'output' && s.id !== step.id && s.target.settingVolt === step.target.settingVolt,
  );
  const shown = ({ value, resolution }: LineReading) => ({ value, resolution, meter: settings.meter });
  const matched: string[] = [];
  const apart: Finding[] = [];
  for (const other of others) {
    const theirs = outputReading(other, records);
    if (theirs === undefined || theirs.value <= 0) continue;
    if (lineStaleReasons(theirs.conditions, lineConditionsNow(other, chain, settings.rules, records.marks)).length > 0) continue;
    const { same, differenceDb } = compareFigures(shown(theirs), shown(reading), true);
    const pair = `${formatQuantity(reading.value, 'V')} against ${formatQuantity(theirs.value, 'V')} of ${other.output.name}`;
    if (same) matched.push(`${pair} is no difference with this meter`);
    else if (Math.abs(differenceDb) <= settings.rules.toleranceDb) matched.push(`${pair} is within the tolerance`);
    else
      apart.push({
        grade: 'attention',
        text: `${pair}: ${signedDb(differenceDb)} apart.`,
        next: `Bring both to ${formatQuantity(step.target.settingVolt, 'V')}.`,
      });
  }
  return [...apart, ...(matched.length === 0 ? [] : [{ grade: 'good' as const, text: `Matched: ${matched.join('; ')}.` }])];
}
