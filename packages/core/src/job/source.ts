import { basisOf, type Basis } from './basis.ts';
import { SOURCE_CONTROLS, type ControlWords, type SourceInput, type SourceOutput } from '../source/sourceControls.ts';
import type { Chain, Processor, SettingsCase, Source } from './chain.ts';

export const FLAT_CASE: SettingsCase = { id: 'flat', name: 'Flat', used: true };

export const sourceInputs = ({ inputs }: Source): SourceInput[] => (inputs === undefined || inputs.length === 0 ? ['stick'] : inputs);
export const sourceOutputs = ({ outputs }: Source): SourceOutput[] =>
  outputs === undefined || outputs.length === 0 ? ['preamp-front'] : outputs;

/** The outputs whose clean ceiling counts. An amplifier inside the source plays from its speaker outputs: those are found too, and alone where nothing else is fed. */
export function outputsInUse({ source, amplifiers }: Pick<Chain, 'source' | 'amplifiers'>): SourceOutput[] {
  const outputs = sourceOutputs(source);
  if (outputs.includes('speakers') || !amplifiers.some(({ isInSource }) => isInSource === true)) return outputs;
  const feedsOthers = amplifiers.some(({ isInSource }) => isInSource !== true);
  return feedsOthers || (source.outputs?.length ?? 0) > 0 ? [...outputs, 'speakers'] : ['speakers'];
}

export const sourceCases = ({ cases }: Source): SettingsCase[] => (cases === undefined || cases.length === 0 ? [FLAT_CASE] : cases);

/** The cases that make a difference at an output: sub level alone changes the sub output, where there is one. */
export function casesAt(source: Source, output: SourceOutput): SettingsCase[] {
  if (output === 'preamp-sub' || !sourceOutputs(source).includes('preamp-sub')) return sourceCases(source);
  return sourceCases(source).filter(({ subNotches, bassRaised }) => subNotches === undefined || bassRaised === true);
}

export const sourceControls = ({ controls, ownControl }: Source): ControlWords[] =>
  SOURCE_CONTROLS.filter(({ id, isExtra }) =>
    id === 'own' ? ownControl !== undefined && ownControl !== '' : controls === undefined ? isExtra !== true : controls.includes(id),
  ).map((control) => (control.id === 'own' ? { ...control, name: ownControl ?? control.name } : control));
/** The input that plays the tones. */
export const toneInput = (source: Source): SourceInput => sourceInputs(source)[0]!;

export const sourceIdOf = ({ id }: Source): string => id ?? 'source';
export const processorIdOf = ({ id }: Processor): string => id ?? 'processor';

/** What the ticks of a Flat list stand for: another source has controls of its own. */
export const sourceBasis = (source: Source): Basis => basisOf({ source: sourceIdOf(source) }, source.name);
