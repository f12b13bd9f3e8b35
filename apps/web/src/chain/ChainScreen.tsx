import type { TuneDetail } from '@yield/contract';
import {
  channelHookup,
  filtersOf,
  formatQuantity,
  INPUT_NAMES,
  isChannelStep,
  keptParts,
  sourceControls,
  sourceInputs,
  sourceOutputs,
  STATUSES_BY_GRAVITY,
  type Amplifier,
  type Chain,
  type Channel,
  type Fault,
  type Processor,
  type StepStatus,
} from '@yield/core';
import { ChartSpline, Pencil, Plus, Spline, Trash2 } from 'lucide-react';
import { useState, type JSX, type ReactNode } from 'react';
import { Link, useParams } from 'react-router';
import { useReadTuneQuery } from '../api/yieldApi.ts';
import { LevelPath } from '../levelPath/LevelPath.tsx';
import { useTuneRun, type ChannelRunStep } from '../run/useTuneRun.ts';
import { Dialog } from '../ui/Dialog.tsx';
import { RecordForm } from '../ui/forms/RecordForm.tsx';
import type { FieldSpec, PlainRecord } from '../ui/forms/fields.ts';
import { Loading } from '../ui/Loading.tsx';
import { StatusMark } from '../ui/StatusMark.tsx';
import { faultsOf, useSaveChain } from './useSaveChain.tsx';
import { AMPLIFIER_FIELDS, channelFields, newId, PROCESSOR_FIELDS, SOURCE_FIELDS } from './chainFields.ts';

type Editing = { part: 'source' } | { part: 'processor' } | { part: 'amplifiers' | 'channels'; id: string };

/** The signal path from left to right: source, amplifiers with their channels, drivers. */
export function ChainScreen(): JSX.Element {
  const { tuneId = '' } = useParams();
  const { data } = useReadTuneQuery(tuneId);
  return data === undefined ? <Loading what="the chain" /> : <ChainOfTune tune={data} />;
}

function ChainOfTune({ tune }: { tune: TuneDetail }): JSX.Element {
  const run = useTuneRun(tune.id);
  const [editing, setEditing] = useState<Editing | null>(null);
  const [undo, setUndo] = useState<{ chain: Chain; words: string } | null>(null);
  const { save: saveChain, conflictDialog } = useSaveChain(tune.id);
  const save = async (next: Chain, at: number): Promise<Fault[]> => faultsOf(await saveChain(next, at));
  const { body: chain, version } = tune.chain;

  const remove = (part: 'amplifiers' | 'channels', id: string, name: string): void => {
    setUndo({ chain, words: `“${name}” was taken out of the chain.` });
    const kept: Chain =
      part === 'amplifiers'
        ? {
            ...chain,
            amplifiers: chain.amplifiers.filter((a) => a.id !== id),
            channels: chain.channels.filter((c) => c.amplifierId !== id),
          }
        : { ...chain, channels: chain.channels.filter((c) => c.id !== id) };
    void save(kept, version);
  };
  const firstStep = run?.steps.find((s): s is ChannelRunStep => isChannelStep(s.step));

  return (
    <main className="min-w-0 flex-1 px-6 py-6 max-sm:px-4">
      <h1 className="text-2xl">Chain</h1>
      {undo !== null && (
        <div role="status" className="panel mt-4 flex flex-wrap items-center justify-between gap-3">
          <span>{undo.words}</span>
          <button
            type="button"
            className="btn"
            onClick={() => {
              void save(undo.chain, version);
              setUndo(null);
            }}
          >
            Put it back
          </button>
        </div>
      )}
      <div className="mt-5 grid grid-cols-1 gap-8 lg:grid-cols-[15rem_minmax(0,1fr)]">
        <div className="space-y-4 self-start">
          <SourcePanel chain={chain} onEdit={() => setEditing({ part: 'source' })} />
          <ProcessorPanel
            chain={chain}
            onEdit={() => setEditing({ part: 'processor' })}
            onRemove={() => {
              setUndo({ chain, words: 'The processor was taken out of the chain.' });
              void save(withoutProcessor(chain), version);
            }}
          />
        </div>
        <div className="min-w-0 space-y-8">
          {chain.amplifiers.map((amplifier) => (
            <AmplifierSection
              key={amplifier.id}
              tuneId={tune.id}
              amplifier={amplifier}
              channels={chain.channels.filter((c) => c.amplifierId === amplifier.id)}
              statusOf={(channelId) =>
                worstStatus(
                  run?.steps.filter(({ step }) => isChannelStep(step) && step.channel.id === channelId).map(({ state }) => state.status) ??
                    [],
                )
              }
              onEdit={() => setEditing({ part: 'amplifiers', id: amplifier.id })}
              onRemove={() => remove('amplifiers', amplifier.id, amplifier.name)}
              onEditChannel={(id) => setEditing({ part: 'channels', id })}
              onRemoveChannel={(channel) => remove('channels', channel.id, channel.name)}
              onAddChannel={() => setEditing({ part: 'channels', id: `new-on-${amplifier.id}` })}
            />
          ))}
          <button type="button" className="btn btn-tall" onClick={() => setEditing({ part: 'amplifiers', id: 'new' })}>
            <Plus size={20} aria-hidden /> Add amplifier
          </button>
          {chain.amplifiers.length === 0 && (
            <p className="text-quiet">Start with the amplifier: its rated power and lowest loads decide every target that follows.</p>
          )}
        </div>
      </div>
      {firstStep !== undefined && (
        <section className="mt-8">
          <LevelPath title={firstStep.step.channel.name} stages={firstStep.levels} />
        </section>
      )}
      {editing !== null && <PartDialog tune={tune} editing={editing} onSave={save} onClose={() => setEditing(null)} />}
      {conflictDialog}
    </main>
  );
}

function SourcePanel({ chain, onEdit }: { chain: Chain; onEdit: () => void }): JSX.Element {
  const { source } = chain;
  return (
    <section className="panel" aria-label="Source">
      <PartTitle role="Source" name={source.name} onEdit={onEdit} />
      <dl className="mt-3 space-y-2">
        <Fact
          name="Inputs"
          value={sourceInputs(source)
            .map((input) => INPUT_NAMES[input])
            .join(', ')}
        />
        <Fact name="Working volume" value={`${source.workingVolume} of ${source.volumeSteps}`} />
        <Fact
          name="Basis"
          value={source.volumeBasis === 'measured' ? 'measured' : 'assumed, not measured'}
          attention={source.volumeBasis === 'assumed'}
        />
        {source.outputVolt !== undefined && <Fact name="Output there" value={formatQuantity(source.outputVolt, 'V')} />}
        {source.ceilingVolt !== undefined && <Fact name="Clean up to" value={formatQuantity(source.ceilingVolt, 'V')} />}
      </dl>
    </section>
  );
}

function ProcessorPanel({ chain, onEdit, onRemove }: { chain: Chain; onEdit: () => void; onRemove: () => void }): JSX.Element {
  const { processor } = chain;
  if (processor === undefined) {
    return (
      <button type="button" className="btn btn-ghost text-action" onClick={onEdit}>
        <Plus size={18} aria-hidden /> Add processor
      </button>
    );
  }
  return (
    <section className="panel" aria-label="Processor">
      <PartTitle role="Processor" name={processor.name} onEdit={onEdit} onRemove={onRemove} />
      <dl className="mt-3 space-y-2">
        <Fact name="Inputs" value={processor.inputs.map(({ name }) => name).join(', ')} />
        <Fact name="Outputs" value={processor.outputs.map(({ name }) => name).join(', ')} />
        <Fact name="Wanted there" value={formatQuantity(processor.outputVolt, 'V')} />
      </dl>
    </section>
  );
}

/** A processor takes its filters with it. */
function withoutProcessor({ processor: _processor, ...chain }: Chain): Chain {
  return {
    ...chain,
    channels: chain.channels.map(({ processorOutputId: _output, ...channel }) =>
      channel.filters === undefined ? channel : { ...channel, filters: channel.filters.filter(({ place }) => place !== 'processor') },
    ),
  };
}

/** A channel is only as good as its worst step. */
function worstStatus(statuses: readonly StepStatus[]): StepStatus {
  return STATUSES_BY_GRAVITY.find((status) => statuses.includes(status)) ?? 'open';
}

interface AmplifierProps {
  tuneId: string;
  amplifier: Amplifier;
  channels: Channel[];
  statusOf: (channelId: string) => StepStatus;
  onEdit: () => void;
  onRemove: () => void;
  onEditChannel: (id: string) => void;
  onRemoveChannel: (channel: Channel) => void;
  onAddChannel: () => void;
}

function AmplifierSection({
  tuneId,
  amplifier,
  channels,
  statusOf,
  onEdit,
  onRemove,
  onEditChannel,
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
            onRemove={() => onRemoveChannel(channel)}
          />
        ))}
      </ul>
      <button type="button" className="btn btn-ghost text-action mt-2" onClick={onAddChannel}>
        <Plus size={18} aria-hidden /> Add channel
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
  onRemove,
}: {
  tuneId: string;
  amplifier: Amplifier;
  channel: Channel;
  status: StepStatus;
  onEdit: () => void;
  onRemove: () => void;
}): JSX.Element {
  const seen = channelHookup(channel, amplifier);
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
  if (wiring !== undefined) return `Wired as ${wiring.network}`;
  return drivers.length === 1 && drivers[0]?.coils === 1 ? 'One coil' : 'Plan the wiring';
}

function PartTitle({
  role,
  name,
  onEdit,
  onRemove,
}: {
  role: string;
  name: string;
  onEdit: () => void;
  onRemove?: () => void;
}): JSX.Element {
  return (
    <div className="flex items-start justify-between gap-2">
      <div className="min-w-0">
        <p className="label">{role}</p>
        <h2 className="text-lg leading-snug break-words">{name}</h2>
      </div>
      <div className="flex shrink-0">
        <IconButton label={`Edit ${name}`} onClick={onEdit}>
          <Pencil size={18} aria-hidden />
        </IconButton>
        {onRemove !== undefined && (
          <IconButton label={`Take out ${name}`} onClick={onRemove}>
            <Trash2 size={18} aria-hidden />
          </IconButton>
        )}
      </div>
    </div>
  );
}

function IconButton({ label, onClick, children }: { label: string; onClick: () => void; children: ReactNode }): JSX.Element {
  return (
    <button type="button" className="btn btn-ghost btn-square text-quiet" aria-label={label} title={label} onClick={onClick}>
      {children}
    </button>
  );
}

function Fact({ name, value, attention = false }: { name: string; value: string; attention?: boolean }): JSX.Element {
  return (
    <div className="flex items-baseline justify-between gap-4">
      <dt className="text-quiet text-sm">{name}</dt>
      <dd className={`text-right font-medium ${attention ? 'text-attention' : ''}`}>{value}</dd>
    </div>
  );
}

interface PartDialogProps {
  tune: TuneDetail;
  editing: Editing;
  onSave: (chain: Chain, version: number) => Promise<Fault[]>;
  onClose: () => void;
}

/** Edits one part. The version is the one that was open when the editing began, so that a save from another window is noticed. */
function PartDialog({ tune, editing, onSave, onClose }: PartDialogProps): JSX.Element {
  const [opened] = useState(tune.chain);
  const { title, fields, value, place, pointer } = partOf(opened.body, editing);
  return (
    <Dialog title={title} onClose={onClose} wide>
      <RecordForm
        draftKey={`chain/${tune.id}/${editing.part}/${'id' in editing ? editing.id : ''}`}
        fields={fields}
        value={value}
        submitLabel="Save"
        onSubmit={async (record) => {
          const faults = await onSave(place(record), opened.version);
          if (faults.length === 0) onClose();
          return faults.map((fault) => ({
            ...fault,
            pointer: fault.pointer.startsWith(pointer) ? fault.pointer.slice(pointer.length) : '',
          }));
        }}
      />
    </Dialog>
  );
}

interface Part {
  title: string;
  fields: FieldSpec[];
  value: PlainRecord;
  /** the chain with the edited record in its place */
  place: (record: PlainRecord) => Chain;
  pointer: string;
}

function partOf(chain: Chain, editing: Editing): Part {
  if (editing.part === 'source') {
    return {
      title: 'Source',
      fields: SOURCE_FIELDS,
      value: {
        inputs: sourceInputs(chain.source),
        outputs: sourceOutputs(chain.source),
        controls: sourceControls(chain.source).map(({ id }) => id),
        isFactory: false,
        ...chain.source,
      },
      place: (record) => ({ ...chain, source: { ...hidden(chain.source, SOURCE_FIELDS), ...record } as unknown as Chain['source'] }),
      pointer: '/source',
    };
  }
  if (editing.part === 'processor') {
    return {
      title: chain.processor === undefined ? 'New processor' : 'Processor',
      fields: PROCESSOR_FIELDS,
      value:
        chain.processor === undefined
          ? {
              name: '',
              outputVolt: 4,
              hasClipLight: true,
              inputs: [{ id: newId(), name: 'Front', output: sourceOutputs(chain.source)[0] }],
              outputs: [
                { id: newId(), name: 'Front left' },
                { id: newId(), name: 'Front right' },
              ],
            }
          : { ...chain.processor },
      place: (record) => ({
        ...chain,
        processor: {
          ...(chain.processor === undefined ? {} : hidden(chain.processor, PROCESSOR_FIELDS)),
          ...record,
        } as unknown as Processor,
      }),
      pointer: '/processor',
    };
  }
  if (editing.part === 'amplifiers') {
    const index = chain.amplifiers.findIndex(({ id }) => id === editing.id);
    const amplifier = chain.amplifiers[index];
    return {
      title: amplifier === undefined ? 'New amplifier' : amplifier.name,
      fields: AMPLIFIER_FIELDS,
      value:
        amplifier === undefined
          ? { name: '', terminalPairs: 1, ratings: [{ mode: 'stereo', loadOhm: 4 }] }
          : { terminalPairs: 1, ...amplifier },
      place: (record) => ({
        ...chain,
        amplifiers: placed(chain.amplifiers, {
          ...(amplifier === undefined ? {} : hidden(amplifier, AMPLIFIER_FIELDS)),
          ...record,
          id: amplifier?.id ?? newId(),
        } as unknown as Amplifier),
      }),
      pointer: `/amplifiers/${index === -1 ? chain.amplifiers.length : index}`,
    };
  }
  const index = chain.channels.findIndex(({ id }) => id === editing.id);
  const channel = chain.channels[index];
  return {
    title: channel === undefined ? 'New channel' : channel.name,
    fields: channelFields(chain.amplifiers, chain.processor),
    value:
      channel === undefined
        ? {
            name: '',
            amplifierId: editing.id.replace('new-on-', ''),
            mode: 'stereo',
            band: 'full-range',
            drivers: [{ id: newId(), name: '', coils: 1, coilOhm: 4 }],
          }
        : { ...channel },
    place: (record) => {
      const edited = { ...record, id: channel?.id ?? newId() } as unknown as Channel;
      return { ...chain, channels: placed(chain.channels, channel === undefined ? edited : keptParts(channel, edited)) };
    },
    pointer: `/channels/${index === -1 ? chain.channels.length : index}`,
  };
}

/** What a form does not show stays as it is. */
function hidden(record: object, fields: readonly FieldSpec[]): PlainRecord {
  return Object.fromEntries(Object.entries(record).filter(([key]) => !fields.some(({ name }) => name === key)));
}

function placed<T extends { id: string }>(items: readonly T[], item: T): T[] {
  return items.some(({ id }) => id === item.id) ? items.map((old) => (old.id === item.id ? item : old)) : [...items, item];
}
