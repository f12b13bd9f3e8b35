import { formatQuantity, type Channel, type ChannelNow } from '@yield/core';
import { SlidersHorizontal } from 'lucide-react';
import { useState, type JSX } from 'react';
import { useEditChain } from '../../tune/useEdit.ts';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { Dialog } from '../../ui/Dialog.tsx';
import type { FieldSpec } from '../../ui/forms/fields.ts';
import { RecordForm } from '../../ui/forms/RecordForm.tsx';

type Setting = Pick<Channel, 'powerBasis' | 'wishWatt' | 'headroomDb' | 'overlapDb' | 'blendDb' | 'toneHz' | 'toneLevelDbfs'>;

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
    label: 'Wished, at most',
    optional: true,
    hint: 'One more limit; the lowest of all counts',
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
];

/** What of a channel's gain is not the house's: limits, headroom, blend, tone. */
export function HowSet({ run, step }: { run: TuneRun; step: ChannelNow }): JSX.Element {
  const [open, setOpen] = useState(false);
  const { edit } = useEditChain(run.tune);
  const { channel } = step;
  const own = ownWords(channel);
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
      <button type="button" className="btn btn-ghost text-action -ml-3" onClick={() => setOpen(true)}>
        <SlidersHorizontal size={18} aria-hidden /> How this channel is set
      </button>
      {own !== '' && <span className="text-quiet text-sm">{own}</span>}
      {open && (
        <Dialog title={`How ${channel.name} is set`} onClose={() => setOpen(false)} wide>
          <RecordForm
            draftKey={`how-set/${run.tune.id}/${channel.id}`}
            fields={FIELDS}
            value={settingOf(channel)}
            submitLabel="Save"
            onSubmit={async (setting) => {
              const index = run.tune.chain.body.channels.findIndex(({ id }) => id === channel.id);
              const channels = run.tune.chain.body.channels.map((each) => (each.id === channel.id ? withSetting(each, setting) : each));
              const faults = await edit({ ...run.tune.chain.body, channels });
              if (faults.length === 0) setOpen(false);
              return faults.map((fault) => ({ ...fault, pointer: fault.pointer.replace(`/channels/${index}`, '') }));
            }}
          />
        </Dialog>
      )}
    </div>
  );
}

const NAMES = ['powerBasis', 'wishWatt', 'headroomDb', 'overlapDb', 'blendDb', 'toneHz', 'toneLevelDbfs'] as const;

const settingOf = (channel: Channel): Setting =>
  Object.fromEntries(NAMES.flatMap((name) => (channel[name] === undefined ? [] : [[name, channel[name]]])));

function withSetting(channel: Channel, setting: Setting): Channel {
  const rest = Object.fromEntries(Object.entries(channel).filter(([name]) => !(NAMES as readonly string[]).includes(name)));
  return { ...rest, ...setting } as Channel;
}

function ownWords({ powerBasis, wishWatt, headroomDb, blendDb, overlapDb }: Channel): string {
  return [
    powerBasis === 'sheet' ? 'by its test sheet' : powerBasis === 'fuse' ? 'by its fuses' : '',
    wishWatt === undefined ? '' : `at most ${formatQuantity(wishWatt, 'W')}`,
    headroomDb === undefined ? '' : `${formatQuantity(headroomDb, 'dB')} headroom`,
    blendDb === undefined || blendDb === 0 ? '' : `${formatQuantity(blendDb, 'dB')} below its ceiling on purpose`,
    overlapDb === undefined ? '' : `${formatQuantity(overlapDb, 'dB')} overlap`,
  ]
    .filter((part) => part !== '')
    .join(', ');
}
