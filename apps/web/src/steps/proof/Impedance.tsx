import {
  impedanceCurve,
  loadTaken,
  readImpedanceTable,
  type Channel,
  type ChannelImpedance,
  type ChannelNow,
  type Fault,
} from '@yield/core';
import { ChartSpline } from 'lucide-react';
import { useId, useState, type JSX } from 'react';
import { useEditChain } from '../../tune/useEdit.ts';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import type { FieldSpec } from '../../ui/forms/fields.ts';
import { RecordForm } from '../../ui/forms/RecordForm.tsx';
import { useDraft } from '../../ui/useDraft.ts';
import { ImpedancePicture } from './ImpedancePicture.tsx';

const PICTURE = { bass: { from: 10, to: 500 }, 'full-range': { from: 20, to: 20_000 } } as const;

/** What the load really is over frequency, where somebody measured it or knows the driver: a picture, and how it is entered. */
export function Impedance({ run, step, voltageRms }: { run: TuneRun; step: ChannelNow; voltageRms: number | undefined }): JSX.Element {
  const [isOpen, setIsOpen] = useState(false);
  const { channel, toneHz } = step;
  const { impedance, loadOhm } = channel;
  const { from, to } = PICTURE[channel.band];
  const curve = impedance === undefined ? [] : impedanceCurve(impedance, from, to);
  return (
    <div>
      <button type="button" className="btn btn-ghost text-action -ml-3" onClick={() => setIsOpen(true)}>
        <ChartSpline size={18} aria-hidden /> {impedance === undefined ? 'Impedance of this load' : 'Another impedance'}
      </button>
      {impedance !== undefined && curve.length > 1 && (
        <ImpedancePicture
          curve={curve}
          nominalOhm={loadOhm}
          toneHz={toneHz}
          range={{ from, to }}
          powerAt={(hertz) => (voltageRms === undefined ? undefined : loadTaken(impedance, hertz, loadOhm, voltageRms)?.powerWatt)}
        />
      )}
      {isOpen && <EnterImpedance run={run} channel={channel} onClose={() => setIsOpen(false)} />}
    </div>
  );
}

type Way = 'table' | 'model';

function EnterImpedance({ run, channel, onClose }: { run: TuneRun; channel: Channel; onClose: () => void }): JSX.Element {
  const [way, setWay] = useState<Way>(channel.impedance?.kind ?? 'table');
  const { edit } = useEditChain(run.tune);
  const store = async (impedance: ChannelImpedance | undefined): Promise<Fault[]> => {
    const body = run.tune.chain.body;
    const index = body.channels.findIndex(({ id }) => id === channel.id);
    const channels = body.channels.map((each): Channel => {
      if (each.id !== channel.id) return each;
      const { impedance: _old, ...rest } = each;
      return impedance === undefined ? rest : { ...rest, impedance };
    });
    const faults = await edit({ ...body, channels });
    if (faults.length === 0) onClose();
    return faults.map((fault) => ({
      ...fault,
      pointer: fault.pointer.replace(new RegExp(`^/channels/${index}/impedance(/driver|/enclosure)?`), ''),
    }));
  };
  return (
    <Dialog title={`Impedance of ${channel.name}`} onClose={onClose} wide>
      <p className="text-quiet mb-4 leading-snug">
        Of the whole load, as the amplifier’s terminals see it. It shows what is really taken; a gain stays set for the nominal load.
      </p>
      <div className="mb-4">
        <ChoiceField
          label="It is known from"
          value={way}
          onChange={setWay}
          choices={[
            { value: 'table', label: 'a measured table' },
            { value: 'model', label: 'figures of the driver' },
          ]}
        />
      </div>
      {way === 'table' ? (
        <TableForm draftKey={`impedance/${run.tune.id}/${channel.id}`} impedance={channel.impedance} onStore={store} />
      ) : (
        <RecordForm
          draftKey={`impedance-model/${run.tune.id}/${channel.id}`}
          fields={MODEL_FIELDS}
          value={modelOf(channel.impedance)}
          submitLabel="Use this"
          onSubmit={(model) => store(impedanceOf(model))}
        />
      )}
      {channel.impedance !== undefined && (
        <button type="button" className="btn btn-ghost mt-3" onClick={() => void store(undefined)}>
          Forget it: count with the nominal load alone
        </button>
      )}
    </Dialog>
  );
}

function TableForm({
  draftKey,
  impedance,
  onStore,
}: {
  draftKey: string;
  impedance: ChannelImpedance | undefined;
  onStore: (impedance: ChannelImpedance) => Promise<Fault[]>;
}): JSX.Element {
  const id = useId();
  const known = impedance?.kind === 'table' ? impedance.rows : [];
  const initial = known
    .map(({ frequencyHz, ohm, phaseDeg }) => [frequencyHz, ohm, ...(phaseDeg === undefined ? [] : [phaseDeg])].join('  '))
    .join('\n');
  const [text, setText] = useDraft(draftKey, initial);
  const [faults, setFaults] = useState<readonly Fault[]>([]);
  const submit = async (): Promise<void> => {
    const { rows, faults: own } = readImpedanceTable(text);
    const found = own.length > 0 ? own : await onStore({ kind: 'table', rows });
    setFaults(found);
    if (found.length === 0) setText(null);
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void submit();
      }}
    >
      <label htmlFor={id} className="label mb-1 block">
        Frequency, ohms and, where there are any, degrees: a line for each
      </label>
      <textarea
        id={id}
        className="textarea min-h-56 w-full font-mono"
        spellCheck={false}
        value={text}
        placeholder={'20  6.1  38\n32  21.5  4\n60  5.2  -31'}
        aria-invalid={faults.length > 0}
        onChange={(event) => setText(event.target.value)}
      />
      {faults.length > 0 && (
        <ul role="alert" className="text-stop mt-2 text-sm">
          {faults.slice(0, 5).map(({ message }) => (
            <li key={message}>{message}</li>
          ))}
          {faults.length > 5 && <li>{faults.length - 5} more lines are wrong.</li>}
        </ul>
      )}
      <button type="submit" className="btn btn-primary btn-tall mt-3">
        Use this
      </button>
    </form>
  );
}

interface Model {
  dcOhm: number;
  resonanceHz: number;
  qMechanical: number;
  qElectrical: number;
  inductanceHenry?: number;
  box: 'open' | 'sealed' | 'ported';
  complianceRatio?: number;
  tuningHz?: number;
}

const MODEL_FIELDS: FieldSpec<Model>[] = [
  {
    kind: 'quantity',
    unit: 'ohm',
    name: 'dcOhm',
    label: 'DC resistance of the whole',
    hint: 'As metered at the amplifier’s end, leads taken off',
  },
  { kind: 'quantity', unit: 'Hz', name: 'resonanceHz', label: 'Resonance in free air' },
  { kind: 'quantity', unit: 'ratio', name: 'qMechanical', label: 'Mechanical Q' },
  { kind: 'quantity', unit: 'ratio', name: 'qElectrical', label: 'Electrical Q' },
  { kind: 'quantity', unit: 'H', name: 'inductanceHenry', label: 'Inductance', optional: true },
  {
    kind: 'choice',
    name: 'box',
    label: 'It plays',
    choices: [
      { value: 'open', label: 'in the open' },
      { value: 'sealed', label: 'in a sealed box' },
      { value: 'ported', label: 'in a ported box' },
    ],
  },
  {
    kind: 'quantity',
    unit: 'ratio',
    name: 'complianceRatio',
    label: 'Compliance ratio',
    optional: true,
    hint: 'Of its suspension over the air in the box',
  },
  { kind: 'quantity', unit: 'Hz', name: 'tuningHz', label: 'Tuning of the port', optional: true },
];

function modelOf(impedance: ChannelImpedance | undefined): Partial<Model> {
  if (impedance?.kind !== 'model') return { box: 'sealed' };
  const { driver, enclosure } = impedance;
  const { kind: box = 'open' as const, ...of } = enclosure ?? {};
  return { ...driver, box, ...of };
}

function impedanceOf({ box, complianceRatio = 1, tuningHz, ...driver }: Model): ChannelImpedance {
  if (box === 'open') return { kind: 'model', driver };
  const enclosure =
    box === 'sealed'
      ? ({ kind: 'sealed', complianceRatio } as const)
      : ({ kind: 'ported', complianceRatio, tuningHz: tuningHz ?? driver.resonanceHz } as const);
  return { kind: 'model', driver, enclosure };
}
