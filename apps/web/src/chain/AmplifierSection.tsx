import { filtersOf, formatQuantity, hookupOf, networkTextWords, type Amplifier, type Channel, type StepStatus } from '@yield/core';
import { ChartSpline, Copy, Pencil, Plus, Spline, Trash2 } from 'lucide-react';
import type { JSX } from 'react';
import { Link } from 'react-router';
import { StatusMark } from '../ui/StatusMark.tsx';
import { IconButton, PartTitle } from './PartTitle.tsx';

interface AmplifierProps {
  tuneId: string;
  amplifier: Amplifier;
  channels: Channel[];
  statusOf: (channelId: string) => StepStatus;
  onEdit: () => void;
  onRemove: () => void;
  onCopy: () => void;
  onEditChannel: (id: string) => void;
  onCopyChannel: (id: string) => void;
  onRemoveChannel: (channel: Channel) => void;
  onAddChannel: () => void;
}

/** One amplifier with its channels. */
export function AmplifierSection({
  tuneId,
  amplifier,
  channels,
  statusOf,
  onEdit,
  onRemove,
  onCopy,
  onEditChannel,
  onCopyChannel,
  onRemoveChannel,
  onAddChannel,
}: AmplifierProps): JSX.Element {
  const ratings = amplifier.ratings
    .map(({ mode, loadOhm, powerWatt }) => `${formatQuantity(powerWatt, 'W')} at ${formatQuantity(loadOhm, 'ohm')} ${mode}`)
    .join(' · ');
  return (
    <section aria-label={amplifier.name}>
      <PartTitle role="Amplifier" name={amplifier.name} onEdit={onEdit} onRemove={onRemove} />
      <p className="text-quiet mt-1 text-sm">{ratings === '' ? 'No rated power yet' : ratings}</p>
      <ul className="border-line divide-line mt-3 divide-y border-y">
        {channels.map((channel) => (
          <ChannelRow
            key={channel.id}
            tuneId={tuneId}
            amplifier={amplifier}
            channel={channel}
            status={statusOf(channel.id)}
            onEdit={() => onEditChannel(channel.id)}
            onCopy={() => onCopyChannel(channel.id)}
            onRemove={() => onRemoveChannel(channel)}
          />
        ))}
      </ul>
      <button type="button" className="btn btn-ghost text-action mt-2" onClick={onAddChannel}>
        <Plus size={18} aria-hidden /> Add channel
      </button>
      <button type="button" className="btn btn-ghost text-action mt-2" onClick={onCopy}>
        <Copy size={18} aria-hidden /> Another amplifier like this
      </button>
    </section>
  );
}

function ChannelRow({
  tuneId,
  amplifier,
  channel,
  status,
  onEdit,
  onCopy,
  onRemove,
}: {
  tuneId: string;
  amplifier: Amplifier;
  channel: Channel;
  status: StepStatus;
  onEdit: () => void;
  onCopy: () => void;
  onRemove: () => void;
}): JSX.Element {
  const seen = hookupOf({ ...amplifier, mode: channel.mode }, channel.loadOhm);
  return (
    <li className="grid grid-cols-[auto_minmax(0,1fr)_auto] items-start gap-x-4 py-3 md:grid-cols-[auto_minmax(0,12rem)_6.5rem_minmax(0,1fr)_auto]">
      <span className="pt-1">
        <StatusMark status={status} />
      </span>
      <div className="min-w-0">
        <Link to={`/tunes/${tuneId}/run/gain:${channel.id}`} className="font-semibold hover:underline">
          {channel.name}
        </Link>
        <p className="text-quiet text-sm">
          {channel.terminals}, {channel.mode}
        </p>
      </div>
      <div className="max-md:col-start-2">
        <p className="font-semibold">{formatQuantity(channel.loadOhm, 'ohm')}</p>
        <p className={`text-sm ${seen.verdict === 'below-minimum' ? 'text-stop font-medium' : 'text-quiet'}`}>
          {seen.verdict === 'fits' ? 'fits' : seen.verdict === 'below-minimum' ? 'too low' : 'lowest load unknown'}
          {channel.mode === 'bridged' && `, ${formatQuantity(seen.perChannelOhm, 'ohm')} each`}
        </p>
      </div>
      <div className="min-w-0 text-sm leading-snug max-md:col-start-2 max-md:mt-1">
        <p>
          {channel.drivers.length === 0
            ? 'No drivers yet'
            : channel.drivers
                .map(
                  (d) =>
                    `${d.name} (${d.coils === 1 ? '' : `${d.coils} × `}${formatQuantity(d.coilOhm, 'ohm')}, ${formatQuantity(d.ratedPowerWatt, 'W')})`,
                )
                .join(', ')}
        </p>
        {channel.drivers.length > 0 && (
          <Link
            to={`/tunes/${tuneId}/wiring/${channel.id}`}
            className="text-action -my-1 inline-flex min-h-11 items-center gap-1.5 font-medium hover:underline"
          >
            <Spline size={16} aria-hidden /> {wiringWords(channel)}
          </Link>
        )}
        {channel.drivers.length > 0 && (
          <Link
            to={`/tunes/${tuneId}/crossovers`}
            className="text-action -my-1 ml-4 inline-flex min-h-11 items-center gap-1.5 font-medium hover:underline"
          >
            <ChartSpline size={16} aria-hidden /> {crossoverWords(channel)}
          </Link>
        )}
      </div>
      <div className="flex max-md:col-start-3 max-md:row-start-1">
        <IconButton label={`Edit ${channel.name}`} onClick={onEdit}>
          <Pencil size={18} aria-hidden />
        </IconButton>
        <IconButton label={`Another channel like ${channel.name}`} onClick={onCopy}>
          <Copy size={18} aria-hidden />
        </IconButton>
        <IconButton label={`Take out ${channel.name}`} onClick={onRemove}>
          <Trash2 size={18} aria-hidden />
        </IconButton>
      </div>
    </li>
  );
}

function crossoverWords(channel: Channel): string {
  const corners = filtersOf(channel).map(
    ({ kind, cornerHz }) => `${kind === 'highpass' ? 'from' : 'to'} ${formatQuantity(cornerHz, 'Hz')}`,
  );
  const parts = channel.passive === undefined || channel.passive.length === 0 ? [] : ['passive parts'];
  return [...corners, ...parts].join(', ') || 'No filter';
}

function wiringWords({ wiring, drivers }: Channel): string {
  if (wiring !== undefined) return `Wired ${networkTextWords(wiring.network)}`;
  return drivers.length === 1 && drivers[0]?.coils === 1 ? 'One coil' : 'Plan the wiring';
}
