import type { TuneDetail } from '@yield/contract';
import {
  amplifierLike,
  channelLike,
  normalizeChannel,
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
import type { EditChain } from '../tune/useEdit.ts';
import { Dialog } from '../ui/Dialog.tsx';
import type { Drafted, FieldSpec } from '../ui/forms/fields.ts';
import { RecordForm } from '../ui/forms/RecordForm.tsx';
import { AMPLIFIER_FIELDS, channelFields, newId, PROCESSOR_FIELDS, SOURCE_FIELDS } from './chainFields.ts';

/** What is edited; `like` names what a new part begins as a copy of. */
export type Editing = { part: 'source' } | { part: 'processor' } | { part: 'amplifiers' | 'channels'; id: string; like?: string };

interface Props {
  tune: TuneDetail;
  editing: Editing;
  edit: EditChain['edit'];
  onClose: () => void;
}

/** Edits one part of the chain. What is saved over is what was open when the editing began, so that a save from another window is noticed. */
export function PartDialog({ tune, editing, edit, onClose }: Props): JSX.Element {
  const [seen] = useState(tune.chain);
  // With nothing read yet a new name is a name and nothing else.
  const hasReadings = tune.readings.length + tune.traces.length > 0;
  const form = {
    chain: seen.body,
    hasReadings,
    draftKey: `chain/${tune.id}/${editing.part}/${'id' in editing ? `${editing.id}/${editing.like ?? ''}` : ''}`,
    onClose,
  };
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
      return <AmplifierDialog {...form} save={save} {...idsOf(editing)} />;
    case 'channels':
      return <ChannelDialog {...form} save={save} {...idsOf(editing)} />;
  }
}

const idsOf = ({ id, like }: { id: string; like?: string }): { id: string; like?: string } => ({
  id,
  ...(like === undefined ? {} : { like }),
});

interface FormProps {
  chain: Chain;
  hasReadings: boolean;
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

function SourceDialog({ chain, hasReadings, save, ...form }: FormProps): JSX.Element {
  const { source } = chain;
  const value: Source = {
    inputs: sourceInputs(source),
    outputs: sourceOutputs(source),
    controls: sourceControls(source)
      .map(({ id }) => id)
      .filter((id) => id !== 'own'),
    isFactory: false,
    ...source,
  };
  return (
    <PartForm
      {...form}
      title="Source"
      fields={SOURCE_FIELDS}
      value={value}
      {...(hasReadings ? { former: source.name } : {})}
      onSubmit={(record, isOther) => save({ ...chain, source: isOther ? { ...record, id: newId() } : record }, '/source')}
    />
  );
}

function ProcessorDialog({ chain, hasReadings, save, ...form }: FormProps): JSX.Element {
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
      {...(processor === undefined || !hasReadings ? {} : { former: processor.name })}
      onSubmit={(record, isOther) => save({ ...chain, processor: isOther ? { ...record, id: newId() } : record }, '/processor')}
    />
  );
}

/** A copy stands beside what it was copied from: the run takes the two one after the other. */
function placedAfter(channels: readonly Channel[], added: Channel, like: string | undefined): Channel[] {
  const at = channels.findIndex(({ id }) => id === like);
  return at === -1 ? [...channels, added] : [...channels.slice(0, at + 1), added, ...channels.slice(at + 1)];
}

/** A channel as its amplifier suggests: one that is rated mono alone drives bass, most likely. */
function newChannel({ amplifiers }: Chain, amplifierId: string): Drafted<Channel> {
  const ratings = amplifiers.find(({ id }) => id === amplifierId)?.ratings ?? [];
  const isMono = ratings.length > 0 && ratings.every(({ mode }) => mode === 'mono');
  return {
    name: '',
    amplifierId,
    mode: isMono ? 'mono' : 'stereo',
    band: isMono ? 'bass' : 'full-range',
    drivers: [{ id: newId(), name: '', coils: 1, coilOhm: 4, ...(isMono ? { role: 'subwoofer' as const } : {}) }],
  };
}

const NEW_AMPLIFIER: Drafted<Amplifier> = { name: '', terminalPairs: 1, ratings: [{ mode: 'stereo', loadOhm: 4 }] };

function AmplifierDialog({ chain, hasReadings, save, id, like, ...form }: FormProps & { id: string; like?: string }): JSX.Element {
  const index = chain.amplifiers.findIndex((each) => each.id === id);
  const amplifier = chain.amplifiers[index];
  const model = chain.amplifiers.find((each) => each.id === like);
  const blank = model === undefined ? NEW_AMPLIFIER : amplifierLike(model, newId);
  const value: Drafted<Amplifier> = { terminalPairs: 1, ...(amplifier ?? blank) };
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
      {...(amplifier === undefined || !hasReadings ? {} : { former: amplifier.name })}
      onSubmit={(record, isOther) => save(place(record, isOther), `/amplifiers/${index === -1 ? chain.amplifiers.length : index}`)}
    />
  );
}

function ChannelDialog({ chain, hasReadings: _readings, save, id, like, ...form }: FormProps & { id: string; like?: string }): JSX.Element {
  const index = chain.channels.findIndex((each) => each.id === id);
  const channel = chain.channels[index];
  const model = chain.channels.find((each) => each.id === like);
  const [blank] = useState<Drafted<Channel>>(() =>
    model === undefined ? newChannel(chain, id.replace('new-on-', '')) : channelLike(model, newId),
  );
  const value: Drafted<Channel> = channel ?? blank;
  const place = (record: Channel): Channel[] =>
    channel === undefined
      ? placedAfter(chain.channels, { ...record, id: newId() }, like)
      : chain.channels.map((each) => (each.id === id ? normalizeChannel(channel, record) : each));
  return (
    <PartForm
      {...form}
      title={channel === undefined ? 'New channel' : channel.name}
      fields={channelFields(
        chain.amplifiers,
        chain.processor,
        chain.channels.filter((each) => each.id !== id),
      )}
      value={value}
      onSubmit={(record) => {
        const channels = place(record);
        const at = index === -1 ? channels.findIndex((each) => !chain.channels.includes(each)) : index;
        return save({ ...chain, channels }, `/channels/${at}`);
      }}
    />
  );
}
