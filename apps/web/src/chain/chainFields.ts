import {
  ALONE,
  INPUT_NAMES,
  OUTPUT_NAMES,
  ROLE_NAMES,
  SOURCE_CONTROLS,
  type Amplifier,
  type Channel,
  type Driver,
  type PowerRating,
  type Processor,
  type Source,
} from '@yield/core';
import { newUuid } from '../api/newId.ts';
import type { FieldSpec, ListField, SimpleField } from '../ui/forms/fields.ts';

const MODES = [
  { value: 'stereo', label: 'Stereo' },
  { value: 'bridged', label: 'Bridged' },
  { value: 'mono', label: 'Mono' },
];

export const newId = (): string => newUuid().slice(0, 8);

const choicesOf = (names: Record<string, string>): { value: string; label: string }[] =>
  Object.entries(names).map(([value, label]) => ({ value, label }));

const YES_NO = (yes: string, no: string): { value: string; label: string }[] => [
  { value: 'true', label: yes },
  { value: 'false', label: no },
];

export const SOURCE_FIELDS: FieldSpec<Source>[] = [
  { kind: 'text', name: 'name', label: 'Source' },
  {
    kind: 'flags',
    name: 'inputs',
    label: 'Inputs in use',
    choices: choicesOf(INPUT_NAMES),
    hint: 'Each has its own settings and gets a Flat list. The first ticked one plays the tones.',
  },
  {
    kind: 'flags',
    name: 'outputs',
    label: 'Outputs in use',
    choices: choicesOf(OUTPUT_NAMES),
    hint: 'Each has its own ceiling. The first ticked one feeds the amplifiers.',
  },
  {
    kind: 'flags',
    name: 'controls',
    label: 'What can be turned on it',
    choices: SOURCE_CONTROLS.filter(({ id }) => id !== 'own').map(({ id, name }) => ({ value: id, label: name })),
    hint: 'The Flat list asks for each of them',
  },
  {
    kind: 'text',
    name: 'ownControl',
    label: 'Another control of its own',
    optional: 'absent',
    hint: 'By its name; it joins the Flat list',
  },
  { kind: 'integer', name: 'volumeSteps', label: 'Highest volume step' },
  { kind: 'integer', name: 'workingVolume', label: 'Working volume', hint: 'Every gain is set at this step' },
  {
    kind: 'choice',
    name: 'volumeBasis',
    label: 'How it was found',
    choices: [
      { value: 'measured', label: 'Measured: the highest clean step' },
      { value: 'assumed', label: 'Assumed: a fraction of the scale' },
    ],
  },
  { kind: 'quantity', unit: 'V', name: 'outputVolt', label: 'Output at working volume', optional: true, hint: 'RMS of a full-scale tone' },
  { kind: 'quantity', unit: 'V', name: 'ceilingVolt', label: 'Highest clean output', optional: true, hint: 'RMS, just before it clips' },
  { kind: 'quantity', unit: 'V', name: 'preampClaimVolt', label: 'Preamp voltage as claimed', optional: true },
  {
    kind: 'quantity',
    unit: 'ohm',
    name: 'speakerLoadOhm',
    label: 'Load on its speaker outputs',
    optional: true,
    hint: 'While they are measured',
  },
  {
    kind: 'choice',
    name: 'isFactory',
    label: 'Factory unit',
    as: 'boolean',
    choices: YES_NO('Yes: look at its signal with sweeps', 'No'),
  },
];

export const PROCESSOR_FIELDS: FieldSpec<Processor>[] = [
  { kind: 'text', name: 'name', label: 'Processor', hint: 'By its figures, such as “Line processor, 6 in, 8 out”' },
  { kind: 'quantity', unit: 'V', name: 'outputVolt', label: 'Wanted at its outputs', hint: 'RMS of a full-scale tone; 4 V is common' },
  { kind: 'quantity', unit: 'V', name: 'mostOutputVolt', label: 'Highest clean output', optional: true },
  {
    kind: 'choice',
    name: 'hasClipLight',
    label: 'Clip light at its inputs',
    as: 'boolean',
    choices: YES_NO('Yes', 'No: a capture tells'),
  },
  {
    kind: 'list',
    name: 'inputs',
    label: 'Inputs',
    hint: 'A summing processor has several: front, rear, sub',
    itemName: 'input',
    fields: [
      { kind: 'text', name: 'name', label: 'Input' },
      { kind: 'choice', name: 'output', label: 'Fed by the source’s', choices: choicesOf(OUTPUT_NAMES) },
    ],
    blank: () => ({ id: newId(), name: '', output: 'preamp-front' }),
  },
  {
    kind: 'list',
    name: 'outputs',
    label: 'Outputs',
    itemName: 'output',
    fields: [{ kind: 'text', name: 'name', label: 'Output' }],
    blank: () => ({ id: newId(), name: '' }),
  },
];

const RATING_FIELDS: SimpleField<keyof PowerRating>[] = [
  { kind: 'choice', name: 'mode', label: 'Use', choices: MODES },
  { kind: 'quantity', unit: 'ohm', name: 'loadOhm', label: 'Into' },
  { kind: 'quantity', unit: 'W', name: 'powerWatt', label: 'Power a channel' },
];

const RATINGS: ListField<'ratings', PowerRating> = {
  kind: 'list',
  name: 'ratings',
  label: 'Rated power',
  hint: 'From the rating plate or the test sheet, RMS',
  itemName: 'rating',
  fields: RATING_FIELDS,
  blank: () => ({ mode: 'stereo', loadOhm: 4 }),
};

export const AMPLIFIER_FIELDS: FieldSpec<Amplifier>[] = [
  { kind: 'text', name: 'name', label: 'Amplifier', hint: 'By its figures, such as “Four-channel, 4 × 60 W”' },
  { kind: 'integer', name: 'channelCount', label: 'Channels', optional: true, hint: 'Where its name does not tell them' },
  { kind: 'quantity', unit: 'ohm', name: 'minimumStereoOhm', label: 'Lowest load, stereo', optional: true },
  { kind: 'quantity', unit: 'ohm', name: 'minimumBridgedOhm', label: 'Lowest load, bridged', optional: true },
  { kind: 'quantity', unit: 'ohm', name: 'minimumMonoOhm', label: 'Lowest load, mono', optional: true },
  {
    kind: 'choice',
    name: 'terminalPairs',
    label: 'Pairs of terminals, mono',
    as: 'number',
    choices: [
      { value: '1', label: 'One pair' },
      { value: '2', label: 'Two pairs, the same points' },
    ],
  },
  {
    kind: 'choice',
    name: 'isInSource',
    label: 'Where it is',
    as: 'boolean',
    optional: true,
    choices: YES_NO('Built into the source: no gain to set', 'A box of its own'),
  },
  { kind: 'quantity', unit: 'A', name: 'fuseAmpere', label: 'Total fuse rating', optional: true },
  {
    kind: 'quantity',
    unit: 'V',
    name: 'ratedAtVolt',
    label: 'Rated at a supply of',
    optional: true,
    hint: 'With it a low supply lowers the target',
  },
  {
    kind: 'choice',
    name: 'isRegulated',
    label: 'Its own supply',
    as: 'boolean',
    optional: true,
    choices: YES_NO('Regulated: full power at a low supply too', 'As most: power falls with the supply'),
  },
  { kind: 'quantity', unit: 'V', name: 'inputMinVolt', label: 'Gain knob, most sensitive', optional: true, hint: 'Input for full output' },
  {
    kind: 'quantity',
    unit: 'V',
    name: 'inputMaxVolt',
    label: 'Gain knob, least sensitive',
    optional: true,
    hint: 'With both, Yield says how far to turn',
  },
  RATINGS,
  {
    kind: 'list',
    name: 'sheetRatings',
    label: 'Its own test sheet',
    hint: 'Where one came with it: what this very unit was measured to make',
    itemName: 'line of the sheet',
    fields: RATING_FIELDS,
    blank: () => ({ mode: 'stereo', loadOhm: 4 }),
  },
];

/** One driver, by itself or on a channel. */
export const DRIVER_FIELDS: SimpleField<keyof Driver>[] = [
  { kind: 'text', name: 'name', label: 'Driver' },
  {
    kind: 'choice',
    name: 'coils',
    label: 'Coils',
    as: 'number',
    choices: [
      { value: '1', label: 'One coil' },
      { value: '2', label: 'Two coils' },
      { value: '4', label: 'Four coils' },
    ],
  },
  { kind: 'quantity', unit: 'ohm', name: 'coilOhm', label: 'Each coil' },
  { kind: 'quantity', unit: 'W', name: 'ratedPowerWatt', label: 'Rated power' },
  { kind: 'quantity', unit: 'dB', name: 'sensitivityDb', label: 'Sensitivity', optional: true },
  { kind: 'choice', name: 'role', label: 'Plays', optional: true, choices: choicesOf(ROLE_NAMES) },
  { kind: 'quantity', unit: 'Hz', name: 'usableFromHz', label: 'Its range, from', optional: true },
  { kind: 'quantity', unit: 'Hz', name: 'usableToHz', label: 'to', optional: true },
];

const DRIVERS: ListField<'drivers', Driver> = {
  kind: 'list',
  name: 'drivers',
  label: 'Drivers on this channel',
  itemName: 'driver',
  fields: DRIVER_FIELDS,
  blank: () => ({ id: newId(), name: '', coils: 1, coilOhm: 4 }),
};

/** Fields of a channel; the amplifiers and the processor's outputs to choose from are those of the chain. */
export function channelFields(
  amplifiers: readonly { id: string; name: string }[],
  processor?: Processor,
  others: readonly { id: string; name: string }[] = [],
): FieldSpec<Channel>[] {
  const fedBy: FieldSpec<Channel>[] =
    processor === undefined
      ? []
      : [
          {
            kind: 'choice',
            name: 'processorOutputId',
            label: 'Fed by the processor’s',
            optional: true,
            choices: processor.outputs.map(({ id, name }) => ({ value: id, label: name })),
          },
        ];
  return [
    { kind: 'text', name: 'name', label: 'Channel', hint: 'Such as “Front left” or “Bass”' },
    { kind: 'choice', name: 'amplifierId', label: 'Amplifier', choices: amplifiers.map(({ id, name }) => ({ value: id, label: name })) },
    ...fedBy,
    { kind: 'text', name: 'terminals', label: 'Terminals', hint: 'As printed, such as “A left”' },
    { kind: 'choice', name: 'mode', label: 'Use', choices: MODES },
    {
      kind: 'choice',
      name: 'band',
      label: 'Set with',
      choices: [
        { value: 'full-range', label: 'The house’s tone for full range' },
        { value: 'bass', label: 'The house’s bass tone' },
      ],
    },
    {
      kind: 'quantity',
      unit: 'ohm',
      name: 'loadOhm',
      label: 'Load of the wiring',
      hint: 'Nominal, as the amplifier sees it; the planner fills it in',
    },
    {
      kind: 'choice',
      name: 'pairedWith',
      label: 'Its pair, on the other side',
      optional: true,
      choices: [...others.map(({ id, name }) => ({ value: id, label: name })), { value: ALONE, label: 'None' }],
      hint: 'Without a choice, the neighbour on the same amplifier; both are held against each other',
    },
    {
      kind: 'choice',
      name: 'differsFromPair',
      label: 'Level against its pair',
      as: 'boolean',
      optional: true,
      choices: YES_NO('Differs on purpose', 'Alike'),
    },
    DRIVERS,
  ];
}
