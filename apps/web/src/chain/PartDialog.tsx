import type { TuneDetail } from '@yield/contract';
import {
  settledChannel,
  sourceControls,
  sourceInputs,
  sourceOutputs,
  type Amplifier,
  type Chain,
  type Channel,
  type Fault,
  type Processor,
  type Source,
} from '@yield/core';
import { useState, type JSX } from 'react';
import type { EditChain } from '../tune/useEditChain.tsx';
import { Dialog } from '../ui/Dialog.tsx';
import type { Drafted, FieldSpec } from '../ui/forms/fields.ts';
import { RecordForm } from '../ui/forms/RecordForm.tsx';
import { AMPLIFIER_FIELDS, channelFields, newId, PROCESSOR_FIELDS, SOURCE_FIELDS } from './chainFields.ts';

export type Editing = { part: 'source' } | { part: 'processor' } | { part: 'amplifiers' | 'channels'; id: string };

interface Props {
  tune: TuneDetail;
  editing: Editing;
  edit: EditChain['edit'];
  onClose: () => void;
}

/** Edits one part of the chain. What is saved over is what was open when the editing began, so that a save from another window is noticed. */
export function PartDialog({ tune, editing, edit, onClose }: Props): JSX.Element {
  const [seen] = useState(tune.chain);
  const form = { chain: seen.body, draftKey: `chain/${tune.id}/${editing.part}/${'id' in editing ? editing.id : ''}`, onClose };
  const save = async (next: Chain, pointer: string): Promise<Fault[]> => {
    const faults = await edit(next, { seen });
    if (faults.length === 0) onClose();
    return faults.map((fault) => ({ ...fault, pointer: fault.pointer.startsWith(pointer) ? fault.pointer.slice(pointer.length) : '' }));
  };
  switch (editing.part) {
    case 'source':
      return <SourceDialog {...form} save={save} />;
    case 'processor':
      return <ProcessorDialog {...form} save={save} />;
    case 'amplifiers':
      return <AmplifierDialog {...form} save={save} id={editing.id} />;
    case 'channels':
      return <ChannelDialog {...form} save={save} id={editing.id} />;
  }
}

interface FormProps {
  chain: Chain;
  draftKey: string;
  save: (next: Chain, pointer: string) => Promise<Fault[]>;
  onClose: () => void;
}

/** A form in its dialog; gear under another name is asked about before it is saved. */
function PartForm<T extends object>({
  title,
  fields,
  value,
  draftKey,
  former,
  onClose,
  onSubmit,
}: {
  title: string;
  fields: readonly FieldSpec<T>[];
  value: Drafted<T>;
  draftKey: string;
  /** name of the gear that is edited, where readings stand on it */
  former?: string;
  onClose: () => void;
  /** @param isOther - another unit took the place of the former one */
  onSubmit: (record: T, isOther: boolean) => Promise<Fault[]>;
}): JSX.Element {
  const [asked, setAsked] = useState<{ name: string; answer: (isOther: boolean) => void } | null>(null);
  const submit = async (record: T): Promise<Fault[]> => {
    const name = 'name' in record && typeof record.name === 'string' ? record.name : undefined;
    if (former === undefined || name === undefined || name === former) return onSubmit(record, false);
    const isOther = await new Promise<boolean>((answer) => setAsked({ name, answer }));
    setAsked(null);
    return onSubmit(record, isOther);
  };
  return (
    <>
      <Dialog title={title} onClose={onClose} wide>
        <RecordForm draftKey={draftKey} fields={fields} value={value} submitLabel="Save" onSubmit={submit} />
      </Dialog>
      {asked !== null && (
        <Dialog title={`“${asked.name}”: the same unit?`} onClose={() => asked.answer(false)}>
          <p>What was read with “{former ?? ''}” stays good for the same unit under a new name. For another unit it is read anew.</p>
          <div className="mt-5 flex flex-wrap gap-3">
            <button type="button" className="btn btn-primary btn-tall" onClick={() => asked.answer(false)}>
              The same, renamed
            </button>
            <button type="button" className="btn btn-tall" onClick={() => asked.answer(true)}>
              Another unit
            </button>
          </div>
        </Dialog>
      )}
    </>
  );
}

function SourceDialog({ chain, save, ...form }: FormProps): JSX.Element {
  const { source } = chain;
  const value: Source = {
    inputs: sourceInputs(source),
    outputs: sourceOutputs(source),
    controls: sourceControls(source).map(({ id }) => id),
    isFactory: false,
    ...source,
  };
  return (
    <PartForm
      {...form}
      title="Source"
      fields={SOURCE_FIELDS}
      value={value}
      former={source.name}
      onSubmit={(record, isOther) => save({ ...chain, source: isOther ? { ...record, id: newId() } : record }, '/source')}
    />
  );
}

function ProcessorDialog({ chain, save, ...form }: FormProps): JSX.Element {
  const { processor } = chain;
  const value: Processor = processor ?? {
    name: '',
    outputVolt: 4,
    hasClipLight: true,
    inputs: [{ id: newId(), name: 'Front', output: sourceOutputs(chain.source)[0] ?? 'preamp-front' }],
    outputs: [
      { id: newId(), name: 'Front left' },
      { id: newId(), name: 'Front right' },
    ],
  };
  return (
    <PartForm
      {...form}
      title={processor === undefined ? 'New processor' : 'Processor'}
      fields={PROCESSOR_FIELDS}
      value={value}
      {...(processor === undefined ? {} : { former: processor.name })}
      onSubmit={(record, isOther) => save({ ...chain, processor: isOther ? { ...record, id: newId() } : record }, '/processor')}
    />
  );
}

const NEW_AMPLIFIER: Drafted<Amplifier> = { name: '', terminalPairs: 1, ratings: [{ mode: 'stereo', loadOhm: 4 }] };

function AmplifierDialog({ chain, save, id, ...form }: FormProps & { id: string }): JSX.Element {
  const index = chain.amplifiers.findIndex((each) => each.id === id);
  const amplifier = chain.amplifiers[index];
  const value: Drafted<Amplifier> = amplifier === undefined ? NEW_AMPLIFIER : { terminalPairs: 1, ...amplifier };
  const place = (record: Amplifier, isOther: boolean): Chain => {
    if (amplifier === undefined) return { ...chain, amplifiers: [...chain.amplifiers, { ...record, id: newId() }] };
    const own = isOther ? newId() : amplifier.id;
    return {
      ...chain,
      amplifiers: chain.amplifiers.map((each) => (each.id === id ? { ...record, id: own } : each)),
      // Its channels go over to the other unit with everything that is set on them.
      channels: chain.channels.map((channel) => (channel.amplifierId === id ? { ...channel, amplifierId: own } : channel)),
    };
  };
  return (
    <PartForm
      {...form}
      title={amplifier === undefined ? 'New amplifier' : amplifier.name}
      fields={AMPLIFIER_FIELDS}
      value={value}
      {...(amplifier === undefined ? {} : { former: amplifier.name })}
      onSubmit={(record, isOther) => save(place(record, isOther), `/amplifiers/${index === -1 ? chain.amplifiers.length : index}`)}
    />
  );
}

function ChannelDialog({ chain, save, id, ...form }: FormProps & { id: string }): JSX.Element {
  const index = chain.channels.findIndex((each) => each.id === id);
  const channel = chain.channels[index];
  const value: Drafted<Channel> = channel ?? {
    name: '',
    amplifierId: id.replace('new-on-', ''),
    mode: 'stereo',
    band: 'full-range',
    drivers: [{ id: newId(), name: '', coils: 1, coilOhm: 4 }],
  };
  const place = (record: Channel): Channel[] =>
    channel === undefined
      ? [...chain.channels, { ...record, id: newId() }]
      : chain.channels.map((each) => (each.id === id ? settledChannel(channel, record) : each));
  return (
    <PartForm
      {...form}
      title={channel === undefined ? 'New channel' : channel.name}
      fields={channelFields(chain.amplifiers, chain.processor)}
      value={value}
      onSubmit={(record) => save({ ...chain, channels: place(record) }, `/channels/${index === -1 ? chain.channels.length : index}`)}
    />
  );
}
