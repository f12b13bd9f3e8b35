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
  | 'sub-level'
  | 'amp-bass'
  | 'amp-input'
  | 'remote'
  | 'phone-volume'
  | 'effects'
  | 'own';

export interface ControlWords {
  id: SourceControl;
  name: string;
  /** what its neutral position is called on most sources */
  neutral: string;
  /** where it usually hides */
  where: string;
  /** not on every job: it is asked for where somebody says that it is there */
  isExtra?: true;
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
  { id: 'amp-bass', name: 'Amplifier’s bass boost', neutral: 'off', where: 'A knob or switch on the amplifier itself', isExtra: true },
  {
    id: 'amp-input',
    name: 'Amplifier’s input switch',
    neutral: 'as wired',
    where: 'On the amplifier: two or four channels, line or high level',
    isExtra: true,
  },
  {
    id: 'remote',
    name: 'Remote level knob',
    neutral: 'full',
    where: 'On its wire, under the dash; turned up fully while gains are set',
    isExtra: true,
  },
  {
    id: 'phone-volume',
    name: 'Phone’s own volume',
    neutral: 'full',
    where: 'On the phone: at its maximum, its equaliser and limiter off',
    isExtra: true,
  },
  {
    id: 'effects',
    name: 'Effects and presets',
    neutral: 'off',
    where: 'Surround, enhancers, presets with names of music or places',
    isExtra: true,
  },
  { id: 'own', name: 'Control of its own', neutral: 'off', where: 'As it is named in the chain', isExtra: true },
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
