export type SourceInput = 'disc' | 'stick' | 'phone' | 'radio';
export type SourceOutput = 'preamp-front' | 'preamp-rear' | 'preamp-sub' | 'speakers';
export type SourceControl =
  | 'bass'
  | 'middle'
  | 'treble'
  | 'loudness'
  | 'bass-boost'
  | 'equaliser'
  | 'fader'
  | 'balance'
  | 'time-correction'
  | 'crossovers'
  | 'sub-level';

export interface ControlWords {
  id: SourceControl;
  name: string;
  /** what its neutral position is called on most sources */
  neutral: string;
  /** where it usually hides */
  where: string;
}

/** Everything on a source that bends the signal, with where it usually hides. Common practice, no source. */
export const SOURCE_CONTROLS: readonly ControlWords[] = [
  { id: 'bass', name: 'Bass', neutral: '0', where: 'Sound or audio menu; often one for each input' },
  { id: 'middle', name: 'Middle', neutral: '0', where: 'Sound menu, beside bass' },
  { id: 'treble', name: 'Treble', neutral: '0', where: 'Sound menu, beside bass' },
  { id: 'loudness', name: 'Loudness', neutral: 'off', where: 'Sound menu, or a long press on the volume knob' },
  { id: 'bass-boost', name: 'Bass boost', neutral: 'off', where: 'Sound menu, a key of its own, or a preset called after music' },
  { id: 'equaliser', name: 'Equaliser', neutral: 'off', where: 'Sound menu: choose flat or off, and look into the bands as well' },
  { id: 'fader', name: 'Fader', neutral: 'centre', where: 'Balance menu' },
  { id: 'balance', name: 'Balance', neutral: 'centre', where: 'Balance menu' },
  { id: 'time-correction', name: 'Time correction', neutral: 'off', where: 'Sound menu, under seat, position or delay' },
  { id: 'crossovers', name: 'Source crossovers', neutral: 'off', where: 'Speaker or output menu: high-pass and low-pass at full range' },
  { id: 'sub-level', name: 'Sub level', neutral: '0', where: 'Output menu, or a key for it' },
];

export const INPUT_NAMES: Record<SourceInput, string> = { disc: 'Disc', stick: 'Stick', phone: 'Phone', radio: 'Radio' };

export const OUTPUT_NAMES: Record<SourceOutput, string> = {
  'preamp-front': 'Preamp front',
  'preamp-rear': 'Preamp rear',
  'preamp-sub': 'Preamp sub',
  speakers: 'Speaker outputs',
};

/** Whether what was typed for a control is its neutral position; an equal sign of any kind of zero counts. */
export function isNeutral(control: SourceControl, value: string): boolean {
  const typed = value.trim().toLowerCase();
  const neutral = SOURCE_CONTROLS.find(({ id }) => id === control)?.neutral;
  return (
    typed === neutral || ['off', 'flat', 'centre', 'center', 'middle', 'none'].includes(typed) || /^[+−-]?0+([.,]0+)?( ?db)?$/.test(typed)
  );
}
