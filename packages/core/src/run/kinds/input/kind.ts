import type { Finding } from '../../../findings.ts';
import { basisOf, type Basis } from '../../../job/basis.ts';
import type { Processor } from '../../../job/chain.ts';
import type { LineConditions, SourceSettings } from '../../../job/conditions.ts';
import type { LineTrace } from '../../../job/records.ts';
import { processorIdOf, sourceIdOf, toneInput } from '../../../job/source.ts';
import { isNeutral, SOURCE_CONTROLS } from '../../../source/sourceControls.ts';
import { formatQuantity } from '../../../units/formatQuantity.ts';
import { lineConditions, sourceSettingsNow } from '../../frame/played.ts';
import { staleFinding, type Judgement } from '../../frame/judgement.ts';
import { lineToneHz } from '../../frame/lineTone.ts';
import { markAt, tracesAt, type Situation } from '../../frame/situation.ts';
import { staleReasons, type ConditionKey } from '../../frame/staleness.ts';
import { beforeOutput } from '../../frame/upstream.ts';
import { defineKind, type Check, type Step } from '../../frame/stepKind.ts';
import { volumeBelow } from '../ceiling/workingVolume.ts';
import { hottestCase, type HottestCase } from '../ceiling/caseLift.ts';

/** A processor's input, just under its clipping. */
export interface InputSubject {
  processor: Processor;
  input: Processor['inputs'][number];
  toneHz: number;
}

export interface InputFigures {
  trace?: LineTrace;
}

/** With a softer tone an input would be set too high by what the tone lacks: music reaches full scale. */
const FULL_SCALE_DBFS = 0;

const STANDS_ON: readonly ConditionKey[] = ['source', 'volume', 'tone', 'level', 'processor', 'input', 'settings'];

export const input = defineKind({
  kind: 'input',
  stage: 'levels',
  title: 'Input level',
  part: 'input',
  help: 'a processor’s input just under its clipping',
  plays: 'line',
  intakes: [{ type: 'capture', at: 'line', judged: 'tone' }],
  dependsOn: STANDS_ON,
  subjects: (now): InputSubject[] => {
    const { processor } = now.chain;
    return processor === undefined ? [] : processor.inputs.map((each) => ({ processor, input: each, toneHz: lineToneHz(now) }));
  },
  keyOf: ({ input: { id } }) => id,
  words: ({ input: { name }, processor }) => ({ subject: name, where: processor.name }),
  channelsOf: () => [],
  checks: (step, now) => ({ items: inputChecks(step, now), basis: inputBasis(step, now) }),
  caution: ({ toneHz }) =>
    `Amplifiers off while an input is raised: what clips here comes out of every speaker. A tone of ${formatQuantity(toneHz, 'Hz')} at full level destroys tweeters. The processor’s manual comes first.`,
  conditions: inputConditions,
  speaksOf: { 'input-clips': 'line', 'capture-unjudged': 'line' },
  standsOn: ['source'],
  judge: judgeInput,
});

/** What is seen to at a processor's input, in this order. */
function inputChecks({ processor, input: { output } }: InputSubject, now: Situation): Check[] {
  const hot = hottestCase(now, output)?.settingsCase.name;
  return [
    { id: 'start', words: 'input at its lowest, equaliser and filters off' },
    // Set flat, the likeliest way to drive it harder would clip it.
    ...(hot === undefined ? [] : [{ id: 'case', words: `source set to “${hot}”` }]),
    ...(processor.hasClipLight
      ? [
          { id: 'light-on', words: 'raised until the clip light came on' },
          { id: 'light-off', words: 'back until it went out' },
        ]
      : []),
    ...(hot === undefined ? [] : [{ id: 'flat-again', words: 'source back to flat' }]),
  ];
}

/** What the ticks at a processor's input stand for: another volume, or other settings, drive it to another level. */
function inputBasis({ input: { output } }: InputSubject, now: Situation): Basis {
  const { source } = now.chain;
  const settings = sourceSettingsNow(now);
  const hot = hottestCase(now, output)?.settingsCase;
  const words = [
    `${source.name} at ${source.workingVolume}`,
    hot === undefined ? '' : `“${hot.name}”`,
    toneInput(source),
    formatQuantity(FULL_SCALE_DBFS, 'dBFS'),
    settingsWords(settings),
  ];
  return basisOf(
    {
      sourceId: sourceIdOf(source),
      sourceVolume: source.workingVolume,
      sourceInput: toneInput(source),
      toneLevelDbfs: FULL_SCALE_DBFS,
      settings,
      caseId: hot?.id,
    },
    words.filter((part) => part !== '').join(', '),
  );
}

/** What of the source does not stand at neutral; a list of zeros tells nobody anything. */
function settingsWords(settings: SourceSettings | undefined): string {
  if (settings === undefined) return '';
  const bent = SOURCE_CONTROLS.filter(({ id }) => settings[id] !== undefined && !isNeutral(id, settings[id]));
  return bent.length === 0 ? 'flat' : bent.map(({ id, name }) => `${name.toLowerCase()} at ${settings[id] ?? ''}`).join(', ');
}

/** The conditions under which a processor's input is looked at now. */
export function inputConditions({ processor, input: { output }, toneHz }: InputSubject, now: Situation): LineConditions {
  const hot = hottestCase(now, output);
  return {
    ...lineConditions(now, toneHz),
    toneLevelDbfs: FULL_SCALE_DBFS,
    processorId: processorIdOf(processor),
    processorName: processor.name,
    ...(hot === undefined ? {} : { caseId: hot.settingsCase.id }),
  };
}

/** Where a processor's input level stands: by its own light, or by a capture of what comes out. */
function judgeInput(step: Step<'input', InputSubject>, now: Situation): Judgement<InputFigures> {
  const mark = markAt(now, step.id);
  const trace = tracesAt(now, step.id, 'line').at(-1);
  const basis = inputBasis(step, now);
  const checks = inputChecks(step, now).map(({ id }) => id);
  const hot = hottestCase(now, step.input.output);
  const ticked = new Set(mark?.checks);
  const isTickStale = ticked.size > 0 && mark?.basis !== undefined && mark.basis !== basis.key;
  const traceReasons =
    trace === undefined
      ? []
      : [
          ...staleReasons(STANDS_ON, trace.conditions, inputConditions(step, now)),
          ...(hot !== undefined && trace.conditions.caseId !== hot.settingsCase.id
            ? [`the source was not set to “${hot.settingsCase.name}”`]
            : []),
        ];
  const { hasClipLight } = step.processor;
  const isTicked = !isTickStale && checks.every((id) => ticked.has(id)) && hasClipLight;
  const level = caseNote(hot);
  const figures: InputFigures = trace === undefined ? {} : { trace };
  const action = hasClipLight
    ? ({ kind: 'tick', checks, basis: basis.key, basisWords: basis.words } as const)
    : ({ kind: 'capture', judged: 'tone' } as const);

  // An output that distorts alike at every level: less goes in, whatever was ticked.
  const late = step.processor.outputs
    .flatMap(({ id }) => beforeOutput(now, id) ?? [])
    .find(({ thdPercent, takenAt }) => thdPercent > now.settings.rules.limitThdPercent && (trace === undefined || trace.takenAt < takenAt));
  if (late !== undefined) {
    const turn = { kind: 'turn-input', byDb: -LATE_STEP_DB } as const;
    const clips: Finding = {
      code: 'input-clips',
      grade: 'attention',
      figures: { verdict: 'distorted', byDb: -LATE_STEP_DB },
      action: turn,
    };
    return { status: 'out-of-tolerance', figures, findings: [clips], action: turn };
  }
  if (trace !== undefined && traceReasons.length === 0) {
    const clipping = trace.analysis.channels[trace.channelIndex]?.clipping;
    if (clipping?.verdict === 'clean') {
      return {
        status: 'done',
        figures,
        findings: [{ code: 'input-clean', grade: 'good', figures: {} }, ...level],
      };
    }
    const isUnjudged = clipping === undefined || clipping.verdict === 'unusable' || clipping.verdict === 'over-range';
    const byDb = -(clipping?.estimatedOverdriveDb ?? 0.5);
    const finding: Finding = isUnjudged
      ? {
          code: 'capture-unjudged',
          grade: 'attention',
          figures: { verdict: clipping?.verdict ?? 'none' },
          action: { kind: 'capture', judged: 'tone' },
        }
      : (stillClipped(step, now) ?? {
          code: 'input-clips',
          grade: 'attention',
          figures: { verdict: clipping.verdict, byDb },
          action: { kind: 'turn-input', byDb },
        });
    return {
      status: 'out-of-tolerance',
      figures,
      findings: [finding],
      ...(finding.action === undefined ? {} : { action: finding.action }),
    };
  }
  // Ticked anew, it stands, whatever an older capture said.
  if (isTicked) {
    const done: Finding = { code: 'input-set', grade: 'good', figures: {} };
    return { status: 'done', figures: {}, findings: [done, ...level] };
  }
  if (isTickStale || traceReasons.length > 0) {
    const why = `it was ticked for ${mark?.basisWords ?? 'something else'}; it is now ${basis.words}`;
    return {
      status: 'stale',
      figures,
      action,
      findings: [
        isTickStale
          ? { code: 'ticks-stale', grade: 'stale', figures: { at: 'input', why } }
          : staleFinding('The input level', traceReasons, 'Raise it until the clip light comes on, then back it off.'),
      ],
    };
  }
  return { status: 'open', figures, findings: level, action };
}

/** Down in steps that show. */
const LATE_STEP_DB = 1;

/** Turned down between them, these captures are over by the same: the input is at its lowest, or it comes in like that. */
const STILL_CAPTURES = 3;
const STILL_DB = 0.1;

function stillClipped(step: Step<'input', InputSubject>, now: Situation): Finding | undefined {
  const last = tracesAt(now, step.id, 'line').slice(-STILL_CAPTURES);
  const overs = last.flatMap(({ conditions, analysis, channelIndex }) =>
    staleReasons(STANDS_ON, conditions, inputConditions(step, now)).length > 0
      ? []
      : (analysis.channels[channelIndex]?.clipping.estimatedOverdriveDb ?? []),
  );
  if (overs.length < STILL_CAPTURES || Math.max(...overs) - Math.min(...overs) > STILL_DB) return undefined;
  const byDb = Math.max(...overs);
  const volume = volumeBelow(now, byDb);
  return {
    code: 'input-at-lowest',
    grade: 'attention',
    figures: { byDb, ...(volume === undefined ? {} : { toVolume: volume.workingVolume }) },
    action:
      volume === undefined
        ? { kind: 'describe', what: 'level-before-processor' }
        : { kind: 'set-volume', to: volume.workingVolume, unit: 'step', source: { ...volume } },
  };
}

/** Set flat, an input would be driven over by as much as the likeliest other setting lifts it. */
function caseNote(hot: HottestCase | undefined): Finding[] {
  if (hot === undefined) return [];
  const { settingsCase, liftDb } = hot;
  return [
    {
      code: 'set-with-case',
      grade: 'note',
      figures: { caseId: settingsCase.id, ...(liftDb === undefined ? {} : { liftDb }), caseName: settingsCase.name },
    },
  ];
}
