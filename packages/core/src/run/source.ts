import { SOURCE_CONTROLS, type ControlWords, type SourceInput, type SourceOutput } from '../source/sourceControls.ts';
import type { Chain, SettingsCase, Source } from './chain.ts';
import type { SourceSettings, StepMark } from './records.ts';

export const FLAT_CASE: SettingsCase = { id: 'flat', name: 'Flat', used: true };

export const sourceInputs = ({ inputs }: Source): SourceInput[] => (inputs === undefined || inputs.length === 0 ? ['stick'] : inputs);
export const sourceOutputs = ({ outputs }: Source): SourceOutput[] =>
  outputs === undefined || outputs.length === 0 ? ['preamp-front'] : outputs;
export const sourceCases = ({ cases }: Source): SettingsCase[] => (cases === undefined || cases.length === 0 ? [FLAT_CASE] : cases);

/** The cases that make a difference at an output: sub level alone changes the sub output, where there is one. */
export function casesAt(source: Source, output: SourceOutput): SettingsCase[] {
  if (output === 'preamp-sub' || !sourceOutputs(source).includes('preamp-sub')) return sourceCases(source);
  return sourceCases(source).filter(({ subNotches, bassRaised }) => subNotches === undefined || bassRaised === true);
}

export const sourceControls = ({ controls }: Source): ControlWords[] =>
  SOURCE_CONTROLS.filter(({ id }) => controls === undefined || controls.includes(id));
/** The input that plays the tones. */
export const toneInput = (source: Source): SourceInput => sourceInputs(source)[0]!;

/** How the controls stand at the input that plays the tones, by its Flat list; undefined where nothing was ticked. */
export function sourceSettingsNow(source: Source, marks: readonly StepMark[]): SourceSettings | undefined {
  const mark = marks.find(({ stepId }) => stepId === `flat:${toneInput(source)}`);
  if (mark === undefined || mark.checks.length === 0) return undefined;
  return Object.fromEntries(
    sourceControls(source).flatMap(({ id, neutral }) => (mark.checks.includes(id) ? [[id, mark.values?.[id] ?? neutral]] : [])),
  );
}

/** What of the source every condition carries. */
export function sourceConditionsNow(
  { source }: Chain,
  marks: readonly StepMark[],
): { sourceName: string; sourceInput: SourceInput; sourceSettings?: SourceSettings } {
  const sourceSettings = sourceSettingsNow(source, marks);
  return {
    sourceName: source.name,
    sourceInput: toneInput(source),
    ...(sourceSettings === undefined ? {} : { sourceSettings }),
  };
}
