import type { Channel, ChannelNow } from '@yield/core';
import type { JSX } from 'react';
import { useEditChain } from '../../tune/useEdit.ts';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { Dialog } from '../../ui/Dialog.tsx';
import type { FieldSpec } from '../../ui/forms/fields.ts';
import { RecordForm } from '../../ui/forms/RecordForm.tsx';

const NAMES = [
  'powerBasis',
  'wishWatt',
  'headroomDb',
  'overlapDb',
  'blendDb',
  'remoteAt',
  'toneHz',
  'toneLevelDbfs',
  'dummyOhm',
  'dummyWatt',
] as const;

type Setting = Pick<Channel, (typeof NAMES)[number]>;

const FIELDS: FieldSpec<Setting>[] = [
  {
    kind: 'choice',
    name: 'powerBasis',
    label: 'Its power is told from',
    optional: true,
    choices: [
      { value: 'plate', label: 'The amplifier’s rating plate' },
      { value: 'sheet', label: 'Its own test sheet' },
      { value: 'fuse', label: 'Its fuses: ten watts for an ampere, a guess' },
    ],
  },
  {
    kind: 'quantity',
    unit: 'W',
    name: 'wishWatt',
    label: 'Power limit',
    optional: true,
    hint: 'An additional limit. The lowest limit applies.',
  },
  {
    kind: 'quantity',
    unit: 'dB',
    name: 'headroomDb',
    label: 'Headroom',
    optional: true,
    hint: 'Kept below the lowest limit; without it the house’s',
  },
  {
    kind: 'quantity',
    unit: 'dB',
    name: 'blendDb',
    label: 'Set down against the others',
    optional: true,
    hint: 'On purpose: later readings are held against the lower figure',
  },
  {
    kind: 'text',
    name: 'remoteAt',
    label: 'Its remote knob in everyday use',
    optional: true,
    hint: 'As marked, such as 3 of 5. Set the gain with it fully up.',
  },
  {
    kind: 'quantity',
    unit: 'dB',
    name: 'overlapDb',
    label: 'Gain overlap',
    optional: true,
    hint: 'Louder quiet music, at the price of clipped loud music',
  },
  {
    kind: 'quantity',
    unit: 'Hz',
    name: 'toneHz',
    label: 'Tone',
    optional: true,
    hint: 'Such as the tuning of the enclosure; without it the house’s',
  },
  { kind: 'quantity', unit: 'dBFS', name: 'toneLevelDbfs', label: 'Recorded level of its tone', optional: true },
  {
    kind: 'quantity',
    unit: 'ohm',
    name: 'dummyOhm',
    label: 'Dummy load in place of its drivers',
    optional: true,
    hint: 'As metered. Without it, the drivers are the load.',
  },
  {
    kind: 'quantity',
    unit: 'W',
    name: 'dummyWatt',
    label: 'What that dummy load bears for long',
    optional: true,
    hint: 'Its rating as mounted. The proof then says how long a burst may last.',
  },
];

/** Limits, headroom, blend and tone of one channel. */
export function HowSetDialog({ run, step: { channel }, onClose }: { run: TuneRun; step: ChannelNow; onClose: () => void }): JSX.Element {
  const { edit } = useEditChain(run.tune);
  return (
    <Dialog title={`How ${channel.name} is set`} onClose={onClose} wide>
      <RecordForm
        draftKey={`how-set/${run.tune.id}/${channel.id}`}
        fields={FIELDS}
        value={settingOf(channel)}
        submitLabel="Save"
        onSubmit={async (setting) => {
          const index = run.tune.chain.body.channels.findIndex(({ id }) => id === channel.id);
          const channels = run.tune.chain.body.channels.map((each) => (each.id === channel.id ? withSetting(each, setting) : each));
          const faults = await edit({ ...run.tune.chain.body, channels });
          if (faults.length === 0) onClose();
          return faults.map((fault) => ({ ...fault, pointer: fault.pointer.replace(`/channels/${index}`, '') }));
        }}
      />
    </Dialog>
  );
}

const settingOf = (channel: Channel): Setting =>
  Object.fromEntries(NAMES.flatMap((name) => (channel[name] === undefined ? [] : [[name, channel[name]]])));

function withSetting(channel: Channel, setting: Setting): Channel {
  const rest = Object.fromEntries(Object.entries(channel).filter(([name]) => !(NAMES as readonly string[]).includes(name)));
  return { ...rest, ...setting } as Channel;
}
