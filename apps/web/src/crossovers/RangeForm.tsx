import { ROLE_NAMES, type Chain, type Driver, type AlikeGroups } from '@yield/core';
import type { JSX } from 'react';
import { RecordForm } from '../ui/forms/RecordForm.tsx';
import { fromForm, toForm, type FieldSpec } from '../ui/forms/fields.ts';

const SLOPES = [1, 2, 3, 4, 6, 8].map((order) => ({ value: String(order), label: `${6 * order} dB per octave` }));

const FIELDS: FieldSpec<Driver>[] = [
  {
    kind: 'choice',
    name: 'role',
    label: 'Plays',
    optional: true,
    choices: Object.entries(ROLE_NAMES).map(([value, label]) => ({ value, label })),
  },
  {
    kind: 'quantity',
    unit: 'Hz',
    name: 'usableFromHz',
    label: 'Its range, from',
    optional: true,
    hint: 'At full power it wants half as much again',
  },
  { kind: 'quantity', unit: 'Hz', name: 'usableToHz', label: 'Its range, to', optional: true },
  {
    kind: 'quantity',
    unit: 'Hz',
    name: 'tuningHz',
    label: 'Tuning of its port',
    optional: true,
    hint: 'A ported subwoofer wants a subsonic filter below it',
  },
  {
    kind: 'quantity',
    unit: 'H',
    name: 'inductanceHenry',
    label: 'Inductance of its coil',
    optional: true,
    hint: 'For passive parts, such as 0.1 mH',
  },
  {
    kind: 'list',
    name: 'recommended',
    label: 'What its maker recommends',
    hint: 'One row for each slope: a steeper one often allows a lower corner',
    itemName: 'slope',
    fields: [
      { kind: 'choice', name: 'order', label: 'With', as: 'number', choices: SLOPES },
      { kind: 'quantity', unit: 'Hz', name: 'fromHz', label: 'from' },
      { kind: 'quantity', unit: 'Hz', name: 'toHz', label: 'to', optional: true },
    ],
    blank: () => ({ order: 4 }),
  },
];

interface Props {
  chain: Chain;
  group: AlikeGroups;
  driver: Driver;
  onSave: (chain: Chain) => void;
}

/** What a driver can do; for every driver in the same place of the channels that are set alike. */
export function RangeForm({ chain, group, driver, onSave }: Props): JSX.Element {
  const driverIds = new Set(group.members.flatMap(({ drivers }) => drivers.map(({ id }) => id)));
  const ids = new Set(group.members.map(({ channel }) => channel.id));
  return (
    <RecordForm
      draftKey={`range/${group.channel.id}/${driver.id}`}
      fields={FIELDS}
      value={{ ...driver, recommended: driver.recommended ?? [] }}
      submitLabel="Take it"
      onSubmit={(driverNow) => {
        const { usableFromHz, usableToHz } = driverNow;
        if (usableFromHz !== undefined && usableToHz !== undefined && usableToHz <= usableFromHz) {
          return Promise.resolve([{ pointer: '/usableToHz', message: 'The range must end above where it begins.' }]);
        }
        // Every driver of the way gets this range, and keeps whatever the form does not show.
        const ranged = (each: Driver): Driver => fromForm(FIELDS, each, toForm(FIELDS, driverNow)).record;
        onSave({
          ...chain,
          channels: chain.channels.map((channel) =>
            ids.has(channel.id)
              ? { ...channel, drivers: channel.drivers.map((each) => (driverIds.has(each.id) ? ranged(each) : each)) }
              : channel,
          ),
        });
        return Promise.resolve([]);
      }}
    />
  );
}
